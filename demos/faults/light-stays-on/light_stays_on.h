#pragma once

#include "generated/light_stays_on_base.h"
#include "generated/light_stays_on_handlers.h"

class LightStaysOn : public LightStaysOnBase
{
public:
    explicit LightStaysOn(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/light_stays_on_members.inc"
};
