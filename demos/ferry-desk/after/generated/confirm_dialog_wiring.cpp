// Made by Pipit; edits here are overwritten.
#include "confirm_dialog_wiring.h"

ConfirmDialogWired::ConfirmDialogWired(QWidget *parent) : ConfirmDialog(parent)
{
    wire();
}

ConfirmDialogWired::~ConfirmDialogWired()
{
    // Nothing may call a handler while the parts of the window are destroyed.
    const QList<QObject *> parts = findChildren<QObject *>();
    for (QObject *part : parts)
        part->disconnect(this);
    disconnect(this);
}

void ConfirmDialogWired::wire()
{
    // confirmButtons · accepted calls confirmDialog · accept
    connect(confirmButtons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    // confirmButtons · rejected calls confirmDialog · reject
    connect(confirmButtons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}
