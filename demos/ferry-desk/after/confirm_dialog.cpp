#include "confirm_dialog.h"

ConfirmDialog::ConfirmDialog(QWidget *parent) : ConfirmDialogBase(parent)
{
}
