// How keys are written: "Ctrl+Shift+X", "F5", "Ctrl+K, Ctrl+B".
//
// Threads: any.
#pragma once

#include <QString>

namespace pipit
{

// Modifiers in one order, the key's name as the toolkit has it; empty for what is none.
QString normalKeys(const QString &text);
// Keys that can be pressed, "Ctrl+H", or up to four one after the other, "Ctrl+K, Ctrl+B".
bool isShortcut(const QString &text);

} // namespace pipit
