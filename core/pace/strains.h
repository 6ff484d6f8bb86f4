// What wears on a loop without blocking it, and what threads do to each other: many small costs that are dear
// together, and widgets touched off the loop, re-entry, queues that grow.
//
// Each comes with the figure that makes the case, over the second in which it was worst; of handlers what
// they took themselves, without the handlers that they called. What lies under the figures here is not told:
// a loop has time for it. Of what was lost, or is not recorded, nothing is claimed.
//
// Threads: any; reads the published part of a trace. Times are CLOCK_MONOTONIC nanoseconds.
#pragma once

#include "core/pace/timers.h"

namespace pipit
{

enum class StrainKind {
    ManyCalls,    // a handler, each call short, all of them dear
    RepaintStorm, // a widget painted more often than a screen shows
    LayoutLoop,   // laid out again and again
    ManySettings, // set more often than it was painted
    GrowingQueue, // posted faster than handled
    CrowdingTimer,
    OffTheLoop,   // a widget touched on another thread
    ReEntry,      // a handler that ran inside itself, for it let the loop look for events
    StillRunning, // a worker, when the program ended
    WrongThread,  // an object lives on another thread than it is used on
    DeadReceiver, // deleted before what was posted to it came
};

struct Strain {
    StrainKind kind = StrainKind::ManyCalls;
    QString who;           // the handler, widget, timer or thread
    QString why;           // what called or posted it; empty: not known, or many
    std::int64_t at = 0;   // when it was worst
    int count = 0;         // in that second, or in all
    std::int64_t took = 0; // of it
    QString file;          // where; empty: not known
    int line = 0;
    [[nodiscard]] QString sentence() const;
    [[nodiscard]] QString advice() const;             // what mends it, in general
    [[nodiscard]] static QString id(StrainKind kind); // "many-calls"
};

// The dearest first. `ended`: the trace is of a program that has ended.
[[nodiscard]] std::vector<Strain> strainsOf(const TraceModel &trace, Handlers &handlers, TimeRange range = {},
                                            bool ended = false);

} // namespace pipit
