// What else of the person's code is alive while a handler works.
//
// Threads: plain values. Of the other files of a program only the text is known: a word that stands there
// counts as a use.
#pragma once

#include "core/code/unit.h"

#include <QSet>

namespace pipit
{

struct Surroundings {
    QSet<int> shared;        // members and variables that other functions use
    QSet<int> usedElsewhere; // of these, what is used by others than the queueMates too
    QSet<QString> heard; // what something listens to; "()name" for a method that something calls by a signal
    QHash<int, QSet<QString>> users;   // of what is shared, qualified
    QHash<int, QSet<QString>> callers; // of the person's functions, qualified; "…" stands for another file
};

// `handler` is its qualified name; of a lambda that of the function around it, " lambda " and where it
// begins, in bytes. `others` are the other files' texts without comments and strings; `heard` what is known
// to be listened to. A function that nothing but the handler reaches counts as a part of it. `queueMates` are
// the qualified names of functions that never work at the same time as the handler does.
[[nodiscard]] Surroundings surroundingsOf(const CodeUnit &unit, const QString &handler,
                                          const QStringList &others, const QSet<QString> &heard,
                                          const QSet<QString> &queueMates = {});

} // namespace pipit
