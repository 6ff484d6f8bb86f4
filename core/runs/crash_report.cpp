#include "core/runs/crash_report.h"

#include "core/base/duration_text.h"

#include <QFileInfo>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

bool openAtTheEnd(const Span &s)
{
    return s.open() && s.judged();
}

// The innermost call that had not ended, of each thread.
QStringList runningCalls(const TraceModel &trace, Handlers &handlers)
{
    QStringList told;
    QSet<std::uint16_t> seen;
    const auto threads = trace.threads();
    for (std::uint32_t i = trace.spanCount(); i > 0; --i) {
        const Span &s = trace.span(i - 1);
        if (!openAtTheEnd(s) || seen.contains(s.thread) || !isCall(trace, handlers, i - 1))
            continue;
        seen.insert(s.thread);
        const HandlerName h = handlers.of(s.what);
        const ThreadInfo thread = threads.value(s.thread);
        told << QStringLiteral("%1 had run for %2%3%4")
                    .arg(h.name, durationText(s.duration(trace.now())),
                         h.file.isEmpty()
                             ? QString()
                             : QStringLiteral(" (%1:%2)").arg(QFileInfo(h.file).fileName()).arg(h.line),
                         thread.main ? QString() : " on " + thread.name);
    }
    return told;
}

} // namespace

CrashReport crashReport(const TraceModel &trace, Handlers &handlers)
{
    CrashReport report;
    const QStringList running = runningCalls(trace, handlers);
    report.running = running.isEmpty() ? QStringLiteral("No handler was running") : running.join("; ");
    const auto threads = trace.threads();
    for (std::uint32_t i = trace.spanCount(); i > 0 && report.dispatches.size() < CrashReport::mostDispatches;
         --i) {
        const Span &s = trace.span(i - 1);
        if (s.kind != SpanKind::Dispatch)
            continue;
        report.dispatches.prepend(QStringLiteral("%1 ms before the end, %2: %3%4")
                                      .arg(double(trace.now() - s.start) / 1e6, 9, 'f', 2)
                                      .arg(threads.value(s.thread).name, sentenceOf(trace, handlers, i - 1),
                                           openAtTheEnd(s) ? ", which had not ended" : ""));
    }
    return report;
}

QString CrashReport::text(const QString &ending) const
{
    return ending + ".\n" + running + ".\n\nThe last dispatches:\n" + dispatches.join('\n') + '\n';
}

} // namespace pipit
