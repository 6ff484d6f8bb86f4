#include "same_shortcut.h"

SameShortcut::SameShortcut(QWidget *parent) : SameShortcutBase(parent)
{
}

void SameShortcut::blowHorn()
{
}

void SameShortcut::hideDesk()
{
}
