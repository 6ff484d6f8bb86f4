#include "key_behind_shortcut.h"

KeyBehindShortcut::KeyBehindShortcut(QWidget *parent) : KeyBehindShortcutBase(parent)
{
}

void KeyBehindShortcut::blowHorn()
{
}

// True: handled here. False: the widget handles the event itself.
bool KeyBehindShortcut::hideCars(QListWidget *source, QKeyEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return false;
}
