#pragma once

#include "generated/confirm_dialog_base.h"
#include "generated/confirm_dialog_handlers.h"

class ConfirmDialog : public ConfirmDialogBase
{
public:
    explicit ConfirmDialog(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/confirm_dialog_members.inc"
};
