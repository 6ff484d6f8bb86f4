#pragma once

#include "generated/drop_refused_base.h"
#include "generated/drop_refused_handlers.h"

class DropRefused : public DropRefusedBase
{
public:
    explicit DropRefused(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/drop_refused_members.inc"
};
