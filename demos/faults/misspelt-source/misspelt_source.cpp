#include "misspelt_source.h"

MisspeltSource::MisspeltSource(QWidget *parent) : MisspeltSourceBase(parent)
{
}

void MisspeltSource::boardPassenger()
{
}
