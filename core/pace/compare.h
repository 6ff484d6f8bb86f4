// Two runs of the same play side by side.
//
// Threads: any. Comparable only when the play and the build flavour are the same and all
// expectations were met on both sides; otherwise the reason is said and no ratio is shown.
#pragma once

#include "core/pace/stalls.h"
#include "core/records/run_info.h"

namespace pipit
{

struct Figure {
    QString name;  // "longest_stall_ns"
    QString words; // "longest stall"
    bool isTime = true;
    std::int64_t before = 0, after = 0;
    // after / before; nothing when before is 0.
    std::optional<double> ratio() const
    {
        return before > 0 ? std::optional(double(after) / double(before)) : std::nullopt;
    }
};

struct RunFigures {
    std::int64_t longestTurn = 0, longestWait = 0, longestStall = 0, stalledTime = 0, timeToResult = 0;
    int stalls = 0;
};

struct Comparison {
    bool comparable = false;
    QString reason; // why not
    QList<Figure> figures;
};

// Over the play when there was one, over the whole run otherwise.
RunFigures figuresOf(const TraceModel &trace, Handlers &handlers, const RunInfo &info,
                     std::chrono::milliseconds budget);
Comparison compareRuns(const RunInfo &before, const RunFigures &b, const RunInfo &after, const RunFigures &a);

} // namespace pipit
