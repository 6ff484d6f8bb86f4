#include "misspelt_signal.h"

MisspeltSignal::MisspeltSignal(QWidget *parent) : MisspeltSignalBase(parent)
{
}

void MisspeltSignal::boardPassenger()
{
}
