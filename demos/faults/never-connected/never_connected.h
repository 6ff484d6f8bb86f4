#pragma once

#include "generated/never_connected_base.h"
#include "generated/never_connected_handlers.h"

class NeverConnected : public NeverConnectedBase
{
public:
    explicit NeverConnected(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/never_connected_members.inc"
};
