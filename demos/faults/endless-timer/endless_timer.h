#pragma once

#include "generated/endless_timer_base.h"
#include "generated/endless_timer_handlers.h"

class EndlessTimer : public EndlessTimerBase
{
public:
    explicit EndlessTimer(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/endless_timer_members.inc"
};
