#pragma once

#include "generated/no_such_slot_base.h"
#include "generated/no_such_slot_handlers.h"

class NoSuchSlot : public NoSuchSlotBase
{
public:
    explicit NoSuchSlot(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/no_such_slot_members.inc"
};
