// Made by Pipit; edits here are overwritten.
#include "confirm_dialog_base.h"

ConfirmDialogBase::ConfirmDialogBase(QWidget *parent) : QDialog(parent)
{
    this->setObjectName(QString::fromUtf8("confirmDialog", 13));
    this->setProperty("windowTitle", QString::fromUtf8("Close the desk", 14));

    confirmLabel = new QLabel(this);
    confirmLabel->setObjectName(QString::fromUtf8("confirmLabel", 12));
    confirmLabel->setProperty("text", QString::fromUtf8("Cars are still on the ramp. Close the desk all the same\077", 56));

    confirmButtons = new QDialogButtonBox(this);
    confirmButtons->setObjectName(QString::fromUtf8("confirmButtons", 14));
    confirmButtons->setProperty("standardButtons", QString::fromUtf8("Yes|No", 6));
    {
        auto *layout = new QVBoxLayout(this);
        layout->addWidget(confirmLabel, 0, Qt::Alignment());
        layout->addWidget(confirmButtons, 0, Qt::Alignment());
    }

}
