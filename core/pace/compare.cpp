#include "core/pace/compare.h"

#include <algorithm>

namespace pipit
{

RunFigures figuresOf(const TraceModel &trace, Handlers &handlers, const RunInfo &info,
                     std::chrono::milliseconds budget)
{
    RunFigures f;
    const TimeRange range = info.playStart ? TimeRange{info.playStart, info.playEnd} : TimeRange{};
    const auto threads = trace.threads();
    for (const TurnRow &t : turnsOf(trace, handlers))
        if (t.judged && t.start >= range.from && t.start <= range.to && threads.value(t.thread).main)
            f.longestTurn = std::max(f.longestTurn, t.duration);
    for (const WaitRow &w : waitsOf(trace, range))
        if (w.kind != "posted" && threads.value(w.thread).main)
            f.longestWait = std::max(f.longestWait, w.wait);
    for (const Stall &s : stallsOf(trace, handlers, budget, range)) {
        ++f.stalls;
        f.longestStall = std::max(f.longestStall, s.duration);
        f.stalledTime += s.duration;
    }
    f.timeToResult = info.timeToResult;
    return f;
}

Comparison compareRuns(const RunInfo &before, const RunFigures &b, const RunInfo &after, const RunFigures &a)
{
    Comparison c;
    if (before.play.isEmpty() || after.play.isEmpty())
        c.reason = "Only runs of the same play can be compared; play one on both.";
    else if (before.playFingerprint != after.playFingerprint)
        c.reason = QStringLiteral("The plays differ: %1 and %2.").arg(before.play, after.play);
    else if (before.flavour != after.flavour)
        c.reason = QStringLiteral("The builds differ: %1 and %2.")
                       .arg(before.flavour.isEmpty() ? "unknown" : before.flavour,
                            after.flavour.isEmpty() ? "unknown" : after.flavour);
    else if (!before.playHeld || !after.playHeld)
        c.reason = QStringLiteral("An expectation of the play failed %1.")
                       .arg(!before.playHeld && !after.playHeld ? "on both sides"
                            : !before.playHeld                  ? "before"
                                                                : "after");
    c.comparable = c.reason.isEmpty();
    c.figures = {{"longest_turn_ns", "longest turn", true, b.longestTurn, a.longestTurn},
                 {"longest_wait_ns", "longest wait", true, b.longestWait, a.longestWait},
                 {"stalls", "stalls", false, b.stalls, a.stalls},
                 {"longest_stall_ns", "longest stall", true, b.longestStall, a.longestStall},
                 {"stalled_ns", "time stalled", true, b.stalledTime, a.stalledTime},
                 {"time_to_result_ns", "time to the result", true, b.timeToResult, a.timeToResult}};
    return c;
}

} // namespace pipit
