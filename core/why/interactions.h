// What a person did in the program, one after the other: what may be asked about. Besides each input these
// are what it meant: a shortcut, an action that was chosen in a menu or a bar, a context menu, a dialog that
// a key closed, a pointer over something that calls a handler for it, or that rests until a tool tip is asked
// for.
//
// Threads: one at a time, off the event loop; what has been looked at is not looked at again.
#pragma once

#include "core/trace/model.h"

#include <QHash>

#include <optional>
#include <vector>

namespace pipit
{

struct Interaction {
    std::int64_t time = 0;
    SpanId span;
    QString what;   // "left click", "Ctrl+S, a shortcut", "left click in fileMenu", "Escape, which closes it"
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
    static SpanId inputAround(const TraceModel &trace, SpanId signal);
    std::optional<Interaction> byASignal(const TraceModel &trace, const Span &s);
    std::optional<Interaction> byACall(const TraceModel &trace, const Span &s);
    std::optional<Interaction> byADispatch(const TraceModel &trace, const Span &s);

    enum class Meaning : char { None, Chosen, Closed, Hovered };
    Meaning meaningOf(const TraceModel &trace, std::uint32_t signal);

    struct Known {
        std::uint32_t object = 0;
        std::uint64_t in = 0; // the parent's address
    };
    struct Key { // that was offered as a shortcut
        SpanId span;
        InputInfo info;
    };
    QHash<std::uint64_t, Known> known_;      // by address
    std::vector<std::optional<Key>> keys_;   // by thread
    QHash<std::uint32_t, Meaning> meanings_; // by signal
    std::uint32_t nextFact_ = 0;
    std::vector<std::uint32_t> next_; // rows, by thread
    std::uint32_t hovered_ = 0;
    std::int64_t hoveredAt_ = 0;
    std::int64_t lastWheel_ = 0; // only the first of a gesture is recorded
};

} // namespace pipit
