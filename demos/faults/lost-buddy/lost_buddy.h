#pragma once

#include "generated/lost_buddy_base.h"
#include "generated/lost_buddy_handlers.h"

class LostBuddy : public LostBuddyBase
{
public:
    explicit LostBuddy(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/lost_buddy_members.inc"
};
