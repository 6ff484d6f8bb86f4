// What classes of the user's own offer: signals, slots and properties, as the meta-object compiler reads
// them from their header. Nothing of the user's is run for that.
//
// Threads: plain values; shared by copies of a project.
#pragma once

#include "core/catalog/catalog.h"

#include <QHash>

namespace pipit
{

struct OwnClass {
    QList<SignalEntry> signalList, slotList; // the owner is the class
    QList<PropertyEntry> properties;
};
using OwnClasses = QHash<QString, OwnClass>; // by class name

// From what `moc --output-json` writes; what is not understood is left out.
OwnClasses ownClassesFrom(const QByteArray &json);

} // namespace pipit
