#pragma once

#include "generated/two_windows_base.h"
#include "generated/two_windows_handlers.h"

class TwoWindows : public TwoWindowsBase
{
public:
    explicit TwoWindows(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/two_windows_members.inc"
};
