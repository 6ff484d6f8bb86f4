#pragma once

#include "generated/plain_toggle_base.h"
#include "generated/plain_toggle_handlers.h"

class PlainToggle : public PlainToggleBase
{
public:
    explicit PlainToggle(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/plain_toggle_members.inc"
};
