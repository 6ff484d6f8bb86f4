#include "core/pace/coverage.h"

#include "core/base/duration_text.h"

namespace pipit
{

QString Coverage::denied(const QString &none, const QString &question) const
{
    if (!loopSeen)
        return question + " is not known: " + missing.join("; ") + '.';
    return missing.isEmpty() ? none + '.' : none + " in the recording. " + notKnown();
}

QString Coverage::notKnown() const
{
    return missing.isEmpty() ? QString() : "Not known: " + missing.join("; ") + '.';
}

QString Coverage::deniedStalls(std::chrono::milliseconds budget) const
{
    return denied(QStringLiteral("No stall over %1 ms").arg(budget.count()), "Whether the loop was blocked");
}

Coverage coverageOf(const TraceModel &trace)
{
    Coverage c;
    c.loopSeen = trace.firstPass() != 0;
    if (!c.loopSeen)
        c.missing << (trace.threadCount() == 0 ? "nothing was recorded"
                                               : "its main event loop never looked for work");
    if (trace.lost())
        c.missing << QStringLiteral("%1 records were lost; around them nothing is known").arg(trace.lost());
    return c;
}

Coverage coverageOf(const TraceModel &trace, const RunInfo &info, std::int64_t recordedTo,
                    const QStringList &leftOut)
{
    Coverage c = coverageOf(trace);
    const bool ended = info.ended || !info.ending.isEmpty();
    if (!c.loopSeen && info.started && info.ended)
        c.missing.first() += " in the " + durationText(info.ended - info.started) + " that it ran";
    if (info.cut)
        c.missing << "the disk was full, so what came " +
                         (recordedTo > trace.firstTime()
                              ? "after " + durationText(recordedTo - trace.firstTime())
                              : QString("later")) +
                         " is not in it";
    else if (!ended)
        c.missing << "the recording was cut short, so the end of the run is missing";
    if (!leftOut.isEmpty())
        c.missing << "some of its records cannot be read (" + leftOut.first() + ')';
    for (const QString &note : info.notes)
        if (note.contains("not recorded"))
            c.missing << note;
    return c;
}

} // namespace pipit
