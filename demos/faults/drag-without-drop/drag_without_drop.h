#pragma once

#include "generated/drag_without_drop_base.h"
#include "generated/drag_without_drop_handlers.h"

class DragWithoutDrop : public DragWithoutDropBase
{
public:
    explicit DragWithoutDrop(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/drag_without_drop_members.inc"
};
