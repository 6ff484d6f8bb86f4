// What one act of a person gives at a widget, in order: its events and signals. A test holds each against a
// real program.
//
// Threads: read-only after first use.
#pragma once

#include <QList>
#include <QString>
#include <QStringList>

namespace pipit
{

struct ActOrder {
    QString className, act; // "QCheckBox", "a click"
    QStringList steps;      // words of events, names of signals
};

const QList<ActOrder> &actOrders();
// Of a class, its own ones first, then those of the classes that it derives from.
QList<ActOrder> actOrdersOf(const QStringList &lineage);
// "On a click: mouse press, then pressed, …": of the acts that give this signal; may be empty.
QString orderSentence(const QStringList &lineage, const QString &signal);

} // namespace pipit
