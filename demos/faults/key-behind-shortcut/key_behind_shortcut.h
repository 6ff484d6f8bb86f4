#pragma once

#include "generated/key_behind_shortcut_base.h"
#include "generated/key_behind_shortcut_handlers.h"

class KeyBehindShortcut : public KeyBehindShortcutBase
{
public:
    explicit KeyBehindShortcut(QWidget *parent = nullptr);

    // The handlers' declarations.
#include "generated/key_behind_shortcut_members.inc"
};
