#pragma once

#include "generated/sleeping_timer_base.h"
#include "generated/sleeping_timer_handlers.h"

class SleepingTimer : public SleepingTimerBase
{
public:
    explicit SleepingTimer(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/sleeping_timer_members.inc"
};
