#include "forgotten_dialog.h"

ForgottenDialog::ForgottenDialog(QWidget *parent) : ForgottenDialogBase(parent)
{
}
