#pragma once

#include "generated/misspelt_handler_base.h"
#include "generated/misspelt_handler_handlers.h"

class MisspeltHandler : public MisspeltHandlerBase
{
public:
    explicit MisspeltHandler(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/misspelt_handler_members.inc"
};
