#pragma once

#include "generated/misspelt_signal_base.h"
#include "generated/misspelt_signal_handlers.h"

class MisspeltSignal : public MisspeltSignalBase
{
public:
    explicit MisspeltSignal(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/misspelt_signal_members.inc"
};
