// Actions: in which menu, bar or button a person finds one, and the way there.
//
// Threads: `findAction` on the main thread only; `clickAction` on the recorder's own.
#pragma once

#include <QtCore/QJsonObject>

QT_BEGIN_NAMESPACE
class QAction;
QT_END_NAMESPACE

namespace pipit::recorder
{

// By its objectName, or as `QAction "Open…"` by its text without mnemonics; null: there is none.
QAction *findAction(const QString &target);
// Opens the menus that lead to it and clicks it there; an error when it stands in none, or is disabled.
// Null when there is no such action.
QJsonObject clickAction(const QString &target, bool *isAction);

} // namespace pipit::recorder
