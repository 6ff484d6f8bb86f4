#pragma once

#include "generated/nothing_selected_base.h"
#include "generated/nothing_selected_handlers.h"

class NothingSelected : public NothingSelectedBase
{
public:
    explicit NothingSelected(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/nothing_selected_members.inc"
};
