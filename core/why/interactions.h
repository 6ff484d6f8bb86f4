// What a person did in the program, one after the other: what may be asked about.
//
// Threads: one at a time, off the event loop; what has been looked at is not looked at again.
#pragma once

#include "core/trace/model.h"

#include <QHash>

#include <vector>

namespace pipit
{

struct Interaction {
    std::int64_t time = 0;
    SpanId span;
    QString what;   // "left click", "Ctrl+S", "wheel", "drop"
    QString widget; // as it is asked for
};

class Interactions
{
public:
    // Those that came since the last time, in order of time; of many only the last ones.
    std::vector<Interaction> more(const TraceModel &trace);

private:
    QString nameOf(const TraceModel &trace, std::uint32_t object) const;
    void learnParents(const TraceModel &trace);

    struct Known {
        std::uint32_t object = 0;
        std::uint64_t in = 0; // the parent's address
    };
    QHash<std::uint64_t, Known> known_; // by address
    std::uint32_t nextFact_ = 0;
    std::vector<std::uint32_t> next_; // rows, by thread
    std::int64_t lastWheel_ = 0;      // only the first of a gesture is recorded
};

} // namespace pipit
