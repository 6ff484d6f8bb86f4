// What a timer's handler looks at each time, and whether a notification would do instead.
//
// It does where the handler does nothing at a tick that finds all as it was: it sets what it set before, or
// leaves when what it reads equals what it remembers. Whatever else a tick does or depends on stands against
// it.
//
// Threads: plain values; the unit must outlive it.
#pragma once

#include "core/moves/effects.h"
#include "core/project/model.h"

namespace pipit
{

struct Polled {
    struct Place {
        QString path;        // as code that means the same everywhere in the handler
        bool folder = false; // its entries, not what is in it
        QString name{};      // of the variable that holds the path, where it is one of the handler's own
        int declaredBy = -1; // where that one's declaration ends
    };
    QList<Place> places;                        // files and folders
    QList<std::pair<QString, QString>> senders; // objects of the project, and the signal that notifies
    struct Against {
        int at = -1;
        QString reason;
    };
    QList<Against> against;
    bool isSomething() const { return !places.isEmpty() || !senders.isEmpty(); }
};

struct PolledQuestion {
    const CodeUnit &unit;
    const Effects &effects;
    const CodeFunction &function;
    const QString &text; // of its file
    const Project &project;
    QSet<int> shared;      // members that other functions use as well
    QSet<QString> changed; // names of members that something but a constructor may change
};

[[nodiscard]] Polled polledBy(const PolledQuestion &question);

} // namespace pipit
