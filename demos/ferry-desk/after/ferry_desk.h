#pragma once

#include "generated/ferry_desk_base.h"
#include "generated/ferry_desk_handlers.h"

class FerryDesk : public FerryDeskBase
{
public:
    explicit FerryDesk(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/ferry_desk_members.inc"

    void showCars();
    int cars_ = 0;
    bool leaving_ = false; // the clerk said so
};
