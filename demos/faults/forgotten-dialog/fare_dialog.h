#pragma once

#include "generated/fare_dialog_base.h"
#include "generated/fare_dialog_handlers.h"

class FareDialog : public FareDialogBase
{
public:
    explicit FareDialog(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/fare_dialog_members.inc"
};
