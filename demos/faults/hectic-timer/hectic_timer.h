#pragma once

#include "generated/hectic_timer_base.h"
#include "generated/hectic_timer_handlers.h"

class HecticTimer : public HecticTimerBase
{
public:
    explicit HecticTimer(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/hectic_timer_members.inc"
};
