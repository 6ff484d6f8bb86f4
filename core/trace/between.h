// What lies between two moments of a trace: how much, and which handlers took the time.
//
// Threads: any; one pass over what lies between, so off the event loop.
#pragma once

#include "core/trace/queries.h"

#include <vector>

namespace pipit
{

struct Between {
    struct Row {
        QString name; // of a handler
        int calls = 0;
        std::int64_t all = 0, own = 0, longest = 0; // ns; own: without the calls inside it
    };
    std::int64_t duration = 0;
    int turns = 0, dispatches = 0, inputs = 0;
    std::int64_t longestTurn = 0; // of the main threads
    std::vector<Row> handlers;    // by their own time, the most first
};

Between between(const TraceModel &trace, Handlers &handlers, std::int64_t from, std::int64_t to);
// "between them 12 turns, 3 inputs; boardPassenger ran 2 times for 1.2 ms".
QString betweenText(const Between &b);

// The next input by a person, or a play, after a moment; or the last one before it. None: there is none.
SpanId inputBeside(const TraceModel &trace, std::int64_t time, bool after);

} // namespace pipit
