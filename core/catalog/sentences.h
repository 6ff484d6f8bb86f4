// What we say of each signal: when it happens, how often, what people get wrong, and in which
// order a class gives its signals for one act of a person.
//
// Threads: read-only after first use.
#pragma once

#include <QString>
#include <QStringList>

namespace pipit
{

struct SignalWords {
    QString sentence; // when it happens
    QString often;    // how often it may come
    QString mistake;  // the usual one; may be empty
};

// Empty for a signal of a class that we do not know.
SignalWords signalWords(const QString &owner, const QString &name);

// What one act gives, in order; held against the live tool-kit by a test.
struct SignalOrder {
    QString className, act;
    QStringList order; // signal names
};
QList<SignalOrder> signalOrders();
// "after released, before clicked": where a signal stands among its neighbours; may be empty.
QString orderSentence(const QStringList &lineage, const QString &name);

} // namespace pipit
