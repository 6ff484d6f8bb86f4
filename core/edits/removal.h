// What a removal takes away besides what was named, so that nothing goes without a word.
//
// Threads: plain values.
#pragma once

#include "core/project/model.h"

namespace pipit
{

struct Removed {
    QStringList objects;           // what was named, what stood in it, the jobs of its handlers
    QStringList handlers;          // of a window that was removed, and those that were named
    QStringList functions;         // of removed handlers, taken out of the user's files: "desk.cpp:12 start"
    QList<Connection> connections; // as they were
    QStringList references;        // "nameLabel's buddy": properties that named what is gone
    QList<Connection> emptied;     // they stay, but what their selectors match is gone

    // A sentence for each, without what `named` says itself.
    QStringList sentences(const QStringList &named) const;
};

} // namespace pipit
