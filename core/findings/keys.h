// Keys and what they already do: shortcuts of actions and buttons, mnemonics, the keys that a
// widget itself uses, other connections.
//
// Threads: any.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct KeyUse {
    QString keys;       // "Ctrl+X", "Alt+B", "Return"
    QString owner;      // the action, button or connection; empty for a class of the toolkit
    QString sentence;   // "hornAction has the shortcut Ctrl+H"
    bool first = false; // it is heard before a key press arrives anywhere
};

// Shortcuts and mnemonics of a window.
QList<KeyUse> shortcutsIn(const WindowNode &window);
// What the widget's class itself does with it, as a sentence; empty: nothing.
QString ownUse(const QString &className, const QString &keys);
// What a connection on a key press shadows or is shadowed by, as sentences.
QStringList keyNotes(const Project &project, const Connection &connection);
// The keys that the connection's condition names; empty: any key.
QString keysOf(const Connection &connection);

} // namespace pipit
