// Connections that call one handler twice for one thing that happens.
//
// Threads: any; `reach` must outlive it.
#pragma once

#include "core/project/condition.h"
#include "core/project/reach.h"

#include <QHash>

namespace pipit
{

// False only where the two exclude each other: other keys, ranges that do not meet, a thing and its opposite.
bool canBothHold(const Condition &one, const Condition &other);

// Connections taken one after the other, in the order of the project.
class Twice
{
public:
    explicit Twice(const Reach &reach) : reach_(reach) {}

    struct Pair {
        const Connection *first, *second;
        QString source; // the first that both have
        bool idle;      // the second adds nothing: it can go
        QString sentence() const;
    };
    // What `c` has with those taken before it. Once a pair.
    QList<Pair> take(const Connection &c, const QStringList &sources);

private:
    const Reach &reach_;
    QHash<QString, QList<const Connection *>> taken_; // by source, occasion and target
};

} // namespace pipit
