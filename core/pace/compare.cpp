#include "core/pace/compare.h"

#include <algorithm>

namespace pipit
{

static void addThread(RunFigures &f, const TraceModel &trace, const ThreadRows &rows, TimeRange range)
{
    const std::uint32_t count = rows.count();
    const std::int64_t now = trace.now();
    for (std::uint32_t i = range.from == INT64_MIN ? 0 : rows.firstFrom(range.from); i < count; ++i) {
        if (rows.kind(i) != SpanKind::Turn)
            continue;
        const Span s = rows.at(i);
        if (s.start > range.to)
            break;
        if (s.judged())
            f.longestTurn = std::max(f.longestTurn, s.duration(now));
    }
    for (std::uint32_t n = 0; n < rows.postedCount() && rows.postedRow(n) < count; ++n) {
        const Span s = rows.at(rows.postedRow(n));
        const std::int64_t posted = rows.posting(s.id.row()).time;
        if (posted < range.from || posted > range.to || s.start - posted <= f.longestWait)
            continue;
        if (const auto w = waitRow(trace, s); w && w->kind != "posted")
            f.longestWait = w->wait;
    }
}

RunFigures figuresOf(const TraceModel &trace, Handlers &handlers, const RunInfo &info,
                     std::chrono::milliseconds budget)
{
    RunFigures f;
    const TimeRange range = info.playStart ? TimeRange{info.playStart, info.playEnd} : TimeRange{};
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        if (trace.isMain(i))
            addThread(f, trace, trace.rows(i), range);
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
