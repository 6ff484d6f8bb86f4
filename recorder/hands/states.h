// What a play expects of a widget or an action: its text, whether it is checked, how many rows it has.
//
// Threads: main thread only.
#pragma once

#include <QtCore/QJsonObject>

namespace pipit::recorder
{

// `want`: {kind: "text" | "containing" | "checked" | "enabled" | "visible" | "value" | "item" | "count",
// text, number, is}. Answers {met, found}, with `found` in words, or an "error".
QJsonObject compareState(const QString &target, const QJsonObject &want);

} // namespace pipit::recorder
