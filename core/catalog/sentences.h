// What we say of each signal: when it happens, how often, what people get wrong.
//
// Threads: read-only after first use.
#pragma once

#include <QString>

namespace pipit
{

struct SignalWords {
    QString sentence; // when it happens
    QString often;    // how often it may come
    QString mistake;  // the usual one; may be empty
};

// Empty for a signal of a class that we do not know.
SignalWords signalWords(const QString &owner, const QString &name);

} // namespace pipit
