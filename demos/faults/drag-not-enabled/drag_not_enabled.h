#pragma once

#include "generated/drag_not_enabled_base.h"
#include "generated/drag_not_enabled_handlers.h"

class DragNotEnabled : public DragNotEnabledBase
{
public:
    explicit DragNotEnabled(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/drag_not_enabled_members.inc"
};
