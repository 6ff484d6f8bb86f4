#include "core/trace/queries.h"

#include <QEvent>

namespace pipit
{

namespace
{

constexpr std::uint32_t none = UINT32_MAX;

std::uint32_t parentOf(const TraceModel &t, std::uint32_t i)
{
    const std::uint32_t p = t.span(i).parent;
    return p ? p - 1 : none;
}

// The widget that an input reached: dispatches pass from the window down to it.
std::uint32_t innermostSame(const TraceModel &t, std::uint32_t i)
{
    const std::uint32_t count = t.spanCount();
    const Span &outer = t.span(i);
    const std::uint32_t end = outer.next ? std::min(outer.next - 1, count) : count;
    for (std::uint32_t k = i + 1; k < end; ++k) {
        const Span &s = t.span(k);
        if (s.thread == outer.thread && s.kind == SpanKind::Dispatch && s.what == outer.what)
            return k;
    }
    return i;
}

QString waitKind(const Span &s)
{
    if (s.what == QEvent::MouseButtonRelease || s.what == QEvent::KeyRelease || s.what == QEvent::TouchEnd)
        return "release";
    if (isInputEvent(int(s.what)))
        return "input";
    if (s.what == QEvent::UpdateRequest)
        return "repaint";
    if (s.what == QEvent::MetaCall)
        return "queued call";
    return "posted";
}

} // namespace

bool isCall(const TraceModel &trace, Handlers &handlers, std::uint32_t i)
{
    const Span &s = trace.span(i);
    return s.kind == SpanKind::Call && !handlers.of(s.what).helper;
}

std::uint32_t causeOf(const TraceModel &trace, Handlers &handlers, std::uint32_t i)
{
    std::uint32_t p = parentOf(trace, i);
    while (p != none && trace.span(p).kind == SpanKind::Call && !isCall(trace, handlers, p))
        p = parentOf(trace, p);
    return p;
}

std::vector<TurnRow> turnsOf(const TraceModel &trace, Handlers &handlers, std::uint32_t firstSpan)
{
    std::vector<TurnRow> rows;
    std::unordered_map<std::uint32_t, std::size_t> open; // turn span → row
    const std::uint32_t count = trace.spanCount();
    const std::int64_t now = trace.now();
    for (std::uint32_t i = firstSpan; i < count; ++i) {
        const Span &s = trace.span(i);
        if (s.kind == SpanKind::Turn) {
            TurnRow row{i, s.start, s.duration(now), s.thread, 0, 0, (s.flags & Forced) != 0, s.judged()};
            for (std::uint32_t p = parentOf(trace, i); p != none && !row.parent; p = parentOf(trace, p))
                if (const auto it = open.find(p); it != open.end()) {
                    row.parent = p + 1;
                    row.depth = rows[it->second].depth + 1;
                }
            open[i] = rows.size();
            rows.push_back(row);
            continue;
        }
        if (s.kind != SpanKind::Dispatch && !isCall(trace, handlers, i))
            continue;
        for (std::uint32_t p = parentOf(trace, i); p != none; p = parentOf(trace, p))
            if (const auto it = open.find(p); it != open.end()) {
                ++(s.kind == SpanKind::Call ? rows[it->second].calls : rows[it->second].dispatches);
                break;
            }
    }
    return rows;
}

// Who emitted or got it, in words; the tool-kit's own timer behind a single shot has no name.
static QString sourceText(const TraceModel &trace, const Span &s)
{
    const ObjectInfo object = trace.object(s.object);
    return object.className == "QSingleShotTimer" ? QStringLiteral("a single shot") : object.text();
}

static void fillCause(const TraceModel &trace, Handlers &handlers, std::uint32_t i, CallRow &row)
{
    const std::uint32_t p = causeOf(trace, handlers, i);
    if (p == none)
        return;
    const Span &s = trace.span(p);
    if (s.kind == SpanKind::Turn || s.kind == SpanKind::Loop || s.kind == SpanKind::ForcedPass)
        return;
    row.cause = p + 1;
    row.causeKind = s.kind == SpanKind::Signal ? "signal" : s.kind == SpanKind::Call ? "call" : "dispatch";
    if (s.kind == SpanKind::Dispatch && s.cause) {
        row.cause = s.cause;
        row.causeKind = "posted";
        const Span &by = trace.span(s.cause - 1);
        // Emitted then, delivered now; a project's own connections say it in its words.
        if (s.what == QEvent::MetaCall && by.kind == SpanKind::Signal &&
            (row.source.isEmpty() || row.handler.connection.isEmpty())) {
            row.source = sourceText(trace, by);
            row.signal = trace.signal(by.what).name();
        }
    }
    if (s.kind == SpanKind::Dispatch && s.what == QEvent::MetaCall)
        return; // who gets the event is no source of it
    if (s.kind == SpanKind::Signal && row.signal.isEmpty())
        row.signal = trace.signal(s.what).name();
    if (s.kind != SpanKind::Call && row.source.isEmpty())
        row.source = sourceText(trace, s);
}

std::vector<CallRow> callsOf(const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    std::vector<CallRow> rows;
    const std::uint32_t count = trace.spanCount();
    const std::int64_t now = trace.now();
    std::unordered_map<std::uint32_t, std::size_t> known; // call span → row
    for (std::uint32_t i = 0; i < count; ++i) {
        const Span &s = trace.span(i);
        if (s.start < range.from || s.start > range.to || !isCall(trace, handlers, i))
            continue;
        CallRow row;
        row.span = i;
        row.start = s.start;
        row.duration = s.duration(now);
        row.open = s.open();
        row.judged = s.judged();
        row.thread = s.thread;
        row.handler = handlers.of(s.what);
        row.source = row.handler.source;
        row.signal = row.handler.signal;
        fillCause(trace, handlers, i, row);
        for (std::uint32_t p = parentOf(trace, i); p != none && !row.parent; p = parentOf(trace, p))
            if (const auto it = known.find(p); it != known.end()) {
                row.parent = p + 1;
                row.depth = rows[it->second].depth + 1;
            }
        known[i] = rows.size();
        rows.push_back(std::move(row));
    }
    return rows;
}

std::vector<WaitRow> waitsOf(const TraceModel &trace, TimeRange range)
{
    std::vector<WaitRow> rows;
    const std::uint32_t count = trace.spanCount();
    for (std::uint32_t i = 0; i < count; ++i) {
        const Span &s = trace.span(i);
        if (s.kind != SpanKind::Dispatch || s.posted <= 0 || s.posted < range.from || s.posted > range.to)
            continue;
        const bool input = isInputEvent(int(s.what));
        if (input) { // once for each input: only the outermost dispatch of it
            bool inner = false;
            for (std::uint32_t p = parentOf(trace, i); p != none && !inner; p = parentOf(trace, p)) {
                const Span &outer = trace.span(p);
                inner = outer.kind == SpanKind::Dispatch && isInputEvent(int(outer.what)) &&
                        outer.posted == s.posted;
            }
            if (inner)
                continue;
        }
        const std::uint32_t reached = input ? innermostSame(trace, i) : i;
        const QString object = trace.object(trace.span(reached).object).text();
        rows.push_back({i, QStringLiteral("%1 on %2").arg(eventWords(int(s.what)), object), waitKind(s),
                        s.posted, std::max<std::int64_t>(0, s.start - s.posted), s.thread});
    }
    return rows;
}

QString sentenceOf(const TraceModel &trace, Handlers &handlers, std::uint32_t i)
{
    const Span &s = trace.span(i);
    const QString object = trace.object(s.object).text();
    switch (s.kind) {
    case SpanKind::Turn: {
        int dispatches = 0, calls = 0;
        const std::uint32_t end = s.next ? std::min(s.next - 1, trace.spanCount()) : trace.spanCount();
        for (std::uint32_t k = i + 1; k < end && k < i + 20'000; ++k)
            if (trace.span(k).thread == s.thread) {
                dispatches += trace.span(k).kind == SpanKind::Dispatch;
                calls += isCall(trace, handlers, k);
            }
        return QStringLiteral("%1 of %2 %3 and %4 %5")
            .arg((s.flags & Forced) ? "a forced turn of the loop" : "a turn of the loop")
            .arg(dispatches)
            .arg(dispatches == 1 ? "dispatch" : "dispatches")
            .arg(calls)
            .arg(calls == 1 ? "call" : "calls");
    }
    case SpanKind::Dispatch: {
        const QString words = eventWords(int(s.what));
        if (s.what == QEvent::UpdateRequest)
            return object + " is repainted";
        return QStringLiteral("%1 gets %2 %3")
            .arg(object, QStringLiteral("aeiou").contains(words[0]) ? "an" : "a", words);
    }
    case SpanKind::Signal:
        return QStringLiteral("%1 emits %2").arg(object, trace.signal(s.what).name());
    case SpanKind::Call:
        return QString(isCall(trace, handlers, i) ? "%1 runs" : "the wiring looks whether %1 is called")
            .arg(handlers.of(s.what).name);
    case SpanKind::Loop:
        return QStringLiteral("an event loop runs (%1)").arg(object);
    case SpanKind::ForcedPass:
        return "processEvents forces a pass of the loop";
    case SpanKind::Message:
        return QStringLiteral("message: %1").arg(trace.message(s.what));
    }
    return {};
}

} // namespace pipit
