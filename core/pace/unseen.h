// What the program set during a stall and nobody saw, or saw late: a text, a value or a state of a widget
// that was another again before the widget was painted, or that stood there long before it was.
//
// Told from what the program did to widgets and from their paint events; of a widget that was not painted
// afterwards nothing is claimed, for it may have been hidden. What the toolkit or the code of a library sets
// by itself is not told.
//
// Threads: any; reads the published part of a trace. Times are CLOCK_MONOTONIC nanoseconds.
#pragma once

#include "core/trace/queries.h"

namespace pipit
{

struct Unseen {
    QString widget, what;     // "statusLabel", "text"
    QStringList values;       // the first few; empty strings where they are unknown
    int count = 0;            // how many in all
    bool late = false;        // it was seen in the end
    std::int64_t set = 0;     // the first
    std::int64_t painted = 0; // the first paint after it
    QString shown;            // what it said by then; empty: unknown
    std::uint64_t place = 0;  // where the first was set: a return address, or 0
    [[nodiscard]] QString sentence() const;
};

// Of the thread of a stretch. `settled`: nothing that comes later can change the answer.
[[nodiscard]] std::vector<Unseen> unseenIn(const TraceModel &trace, std::uint16_t thread, TimeRange stretch,
                                           bool *settled = nullptr);

} // namespace pipit
