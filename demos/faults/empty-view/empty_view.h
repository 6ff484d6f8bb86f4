#pragma once

#include "generated/empty_view_base.h"
#include "generated/empty_view_handlers.h"

class EmptyView : public EmptyViewBase
{
public:
    explicit EmptyView(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/empty_view_members.inc"
};
