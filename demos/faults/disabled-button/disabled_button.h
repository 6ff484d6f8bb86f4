#pragma once

#include "generated/disabled_button_base.h"
#include "generated/disabled_button_handlers.h"

class DisabledButton : public DisabledButtonBase
{
public:
    explicit DisabledButton(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/disabled_button_members.inc"
};
