#pragma once

#include "generated/forgotten_dialog_base.h"
#include "generated/forgotten_dialog_handlers.h"

class ForgottenDialog : public ForgottenDialogBase
{
public:
    explicit ForgottenDialog(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/forgotten_dialog_members.inc"
};
