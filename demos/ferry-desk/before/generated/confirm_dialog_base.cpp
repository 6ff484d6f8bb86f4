// Made by Pipit; edits here are overwritten.
#include "confirm_dialog_base.h"

ConfirmDialogBase::ConfirmDialogBase(QWidget *parent) : QDialog(parent)
{
    setObjectName("confirmDialog");
    setWindowTitle(tr("Close the desk"));

    confirmLabel = new QLabel(this);
    confirmLabel->setObjectName("confirmLabel");
    confirmLabel->setText(tr("Cars are still on the ramp. Close the desk all the same?"));

    confirmButtons = new QDialogButtonBox(this);
    confirmButtons->setObjectName("confirmButtons");
    confirmButtons->setStandardButtons(QDialogButtonBox::Yes | QDialogButtonBox::No);

    auto *confirmDialogLayout = new QVBoxLayout(this);
    confirmDialogLayout->addWidget(confirmLabel);
    confirmDialogLayout->addWidget(confirmButtons);

}
