// What of a run was not seen, or could not be: of that nothing is denied.
//
// Threads: plain values; reads the published part of a trace.
#pragma once

#include "core/records/run_info.h"
#include "core/trace/model.h"

#include <chrono>

namespace pipit
{

struct Coverage {
    bool loopSeen = true; // the main thread's loop looked for work at least once
    QStringList missing;  // sentences without their full stop

    bool whole() const { return missing.isEmpty(); }
    // `none`, "No stall over 50 ms", as far as that can be said. Where no loop was seen it is not said at
    // all, but `question`, "Whether the loop was blocked", is not known.
    QString denied(const QString &none, const QString &question) const;
    QString deniedStalls(std::chrono::milliseconds budget) const;
    QString notKnown() const; // "Not known: …", beside what is known; empty where it is whole
};

// `recordedTo`: the time of the last record. `leftOut`: what could not be read.
[[nodiscard]] Coverage coverageOf(const TraceModel &trace, const RunInfo &info, std::int64_t recordedTo,
                                  const QStringList &leftOut = {});
// Of a run that goes on.
[[nodiscard]] Coverage coverageOf(const TraceModel &trace);

} // namespace pipit
