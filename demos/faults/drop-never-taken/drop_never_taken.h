#pragma once

#include "generated/drop_never_taken_base.h"
#include "generated/drop_never_taken_handlers.h"

class DropNeverTaken : public DropNeverTakenBase
{
public:
    explicit DropNeverTaken(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/drop_never_taken_members.inc"
};
