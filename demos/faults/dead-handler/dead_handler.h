#pragma once

#include "generated/dead_handler_base.h"
#include "generated/dead_handler_handlers.h"

class DeadHandler : public DeadHandlerBase
{
public:
    explicit DeadHandler(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/dead_handler_members.inc"
};
