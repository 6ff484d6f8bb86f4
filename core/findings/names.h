// What is to be said of a name before it is given: names that are nearly the same, and names that
// hide a member of the window's class.
//
// Threads: any.
#pragma once

#include "core/project/model.h"

namespace pipit
{

// Names in the window's class and its bases that a member of that name would hide.
bool hidesMember(const QString &name, const QString &windowClass);
// Another name that differs by its case or by one letter only, digits apart; empty: none.
QString nearlySame(const QString &name, const QStringList &others);
// Both as sentences, for a name as it is typed; also why it cannot be one.
QStringList nameNotes(const Project &project, const QString &name);
// The same of a name that takes the place of others.
QStringList newNameNotes(const Project &project, const QString &name, const QStringList &gone);

} // namespace pipit
