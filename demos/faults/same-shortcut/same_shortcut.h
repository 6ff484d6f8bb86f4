#pragma once

#include "generated/same_shortcut_base.h"
#include "generated/same_shortcut_handlers.h"

class SameShortcut : public SameShortcutBase
{
public:
    explicit SameShortcut(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/same_shortcut_members.inc"
};
