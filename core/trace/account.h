// What led to something, and what it led to: across turns and threads, by what lies in what and by the causes
// of each (`TraceModel::causes`). Of a timer that repeats only the first tick counts as what starting it led
// to.
//
// Recordings before version 0.5 have no other causes than who posted an event first. What was set is told
// where the recorder saw it set (core/why).
//
// Threads: any; bounded in what it looks at, but it may ask who a handler is: off the event loop.
#pragma once

#include "core/trace/queries.h"

#include <vector>

namespace pipit
{

struct AccountStep {
    SpanId span;
    std::int64_t time = 0; // when it began, or when something was set
    QString text;          // "boardPassenger ran for 0.49 ms", "statusLabel's text was set"
};

struct Account {
    std::vector<AccountStep> causes;      // the nearest first, back to the input or timer that began it
    std::vector<AccountStep> otherCauses; // of these steps: others who posted or marked the same
    std::vector<AccountStep> effects;     // in order of time
    bool more = false;                    // not all effects were followed
};

Account accountOf(const TraceModel &trace, Handlers &handlers, SpanId of);

// How many events wait in a thread's queue at a moment, as far as it is known when they were posted. Counted
// to `most`.
int waitingAt(const TraceModel &trace, std::uint16_t thread, std::int64_t time, int most = 99);

} // namespace pipit
