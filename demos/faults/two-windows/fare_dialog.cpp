#include "fare_dialog.h"

FareDialog::FareDialog(QWidget *parent) : FareDialogBase(parent)
{
}

void FareDialog::fareTaken()
{
}
