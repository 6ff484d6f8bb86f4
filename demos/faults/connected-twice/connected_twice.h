#pragma once

#include "generated/connected_twice_base.h"
#include "generated/connected_twice_handlers.h"

class ConnectedTwice : public ConnectedTwiceBase
{
public:
    explicit ConnectedTwice(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/connected_twice_members.inc"
};
