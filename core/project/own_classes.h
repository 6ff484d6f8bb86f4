// What classes of the user's own offer: signals, slots, properties and enumerations, as the meta-object
// compiler reads them from their header, with the comments that stand there. Nothing of the user's is run for
// that.
//
// Threads: plain values; shared by copies of a project.
#pragma once

#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

struct OwnClass {
    QString base;                                             // what it derives from, as the header says
    QList<SignalEntry> signalList, slotList;                  // the owner is the class
    QList<PropertyEntry> properties;                          // an enumeration's keys with them
    const PropertyEntry *property(const QString &name) const; // null: it declares none of that name
};
using OwnClasses = QHash<QString, OwnClass>; // by class name

// From what `moc --output-json` writes; what is not understood is left out. Enumerations get their class in
// front ("Gauge::Level"), as code outside of it has to write them.
OwnClasses ownClassesFrom(const QByteArray &json, const QString &header);

// Each has what it inherits from another of them too.
void inheritAmong(OwnClasses &classes);

// What a class derives from, by the header's text alone; empty when it is not declared there.
QString baseInHeader(const QString &header, const QString &className);

} // namespace pipit
