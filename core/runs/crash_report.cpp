#include "core/runs/crash_report.h"

#include "core/base/duration_text.h"
#include "core/trace/order.h"
#include "core/trace/queries.h"

#include <QFileInfo>

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
    std::vector<Span> running;
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i) {
        const ThreadRows &rows = trace.rows(i);
        // Whatever is open has the last row in it.
        for (SpanId p = rows.count() ? SpanId(i, rows.count() - 1) : SpanId(); p; p = rows.parent(p.row()))
            if (const Span s = rows.at(p.row()); openAtTheEnd(s) && isCall(handlers, s)) {
                running.push_back(s);
                break;
            }
    }
    std::sort(running.begin(), running.end(), [](const Span &a, const Span &b) { return a.start > b.start; });
    QStringList told;
    for (const Span &s : running) {
        const HandlerName &h = handlers.of(s.what);
        const ThreadInfo thread = trace.thread(s.thread);
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
    newestFirst(trace, [&](const ThreadRows &rows, std::uint32_t row) {
        if (rows.kind(row) != SpanKind::Dispatch)
            return true;
        const Span s = rows.at(row);
        report.dispatches.prepend(QStringLiteral("%1 ms before the end, %2: %3%4")
                                      .arg(double(trace.now() - s.start) / 1e6, 9, 'f', 2)
                                      .arg(trace.thread(s.thread).name, sentenceOf(trace, handlers, s),
                                           openAtTheEnd(s) ? ", which had not ended" : ""));
        return report.dispatches.size() < CrashReport::mostDispatches;
    });
    return report;
}

QString CrashReport::text(const QString &ending) const
{
    return ending + ".\n" + running + ".\n\nThe last dispatches:\n" + dispatches.join('\n') + '\n';
}

} // namespace pipit
