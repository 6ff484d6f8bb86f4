#include "core/pace/stalls.h"

#include <QEvent>
#include <QFileInfo>

#include <algorithm>

namespace pipit
{

namespace
{

struct Clip {
    std::int64_t from, to;
    std::int64_t of(const Span &s) const
    {
        const std::int64_t end = s.open() ? to : std::min<std::int64_t>(s.end, to);
        return std::max<std::int64_t>(0, end - std::max(s.start, from));
    }
};

struct Own {
    std::uint32_t span;
    std::int64_t ns;
};

// Own time of each call (or, where no handler ran, of each outermost dispatch) in the stretch.
std::vector<Own> ownTimes(const TraceModel &trace, const Stretch &stretch, bool calls)
{
    std::unordered_map<std::uint32_t, std::int64_t> own;
    const Clip clip{stretch.start, stretch.end};
    const auto wanted = [&](const Span &s) {
        return s.thread == stretch.thread &&
               (calls ? s.kind == SpanKind::Call : s.kind == SpanKind::Dispatch);
    };
    const auto take = [&](std::uint32_t i) {
        const Span &s = trace.span(i);
        if (!wanted(s))
            return;
        const std::int64_t ns = clip.of(s);
        if (ns <= 0)
            return;
        own[i] += ns;
        for (std::uint32_t p = s.parent; p; p = trace.span(p - 1).parent)
            if (wanted(trace.span(p - 1))) {
                own[p - 1] -= ns;
                break;
            }
    };
    for (std::uint32_t p = stretch.around; p; p = trace.span(p - 1).parent)
        take(p - 1);
    const std::uint32_t count = trace.spanCount();
    for (std::uint32_t i = stretch.firstSpan; i < count; ++i) {
        if (trace.span(i).start > stretch.end && trace.span(i).thread == stretch.thread)
            break;
        take(i);
    }
    std::vector<Own> sorted;
    for (const auto &[span, ns] : own)
        sorted.push_back({span, ns});
    std::sort(sorted.begin(), sorted.end(), [](const Own &a, const Own &b) { return a.ns > b.ns; });
    return sorted;
}

std::vector<Contributor> contributors(const TraceModel &trace, Handlers &handlers, const Stretch &stretch)
{
    std::vector<Contributor> rows;
    const std::int64_t worth = std::max<std::int64_t>(1'000'000, (stretch.end - stretch.start) / 50);
    for (const Own &o : ownTimes(trace, stretch, true)) {
        if (o.ns <= 0)
            continue;
        const HandlerName h = handlers.of(trace.span(o.span).what);
        const auto same = std::find_if(rows.begin(), rows.end(), [&](const Contributor &c) {
            return c.handler.name == h.name && c.handler.line == h.line;
        });
        if (same != rows.end()) {
            same->ns += o.ns;
            ++same->calls;
        } else {
            rows.push_back({h, o.ns, 1});
        }
    }
    std::sort(rows.begin(), rows.end(), [](const auto &a, const auto &b) { return a.ns > b.ns; });
    while (rows.size() > 1 && rows.back().ns < worth)
        rows.pop_back();
    const std::int64_t inCalls = rows.empty() ? 0 : rows.front().ns;
    if (inCalls < (stretch.end - stretch.start) / 3) {
        // Most of it was spent where no handler was called: in an event function of a class.
        const auto dispatches = ownTimes(trace, stretch, false);
        if (!dispatches.empty() && dispatches.front().ns > inCalls) {
            const Span &s = trace.span(dispatches.front().span);
            const ObjectInfo object = trace.object(s.object);
            HandlerName h;
            h.name = QStringLiteral("%1's own %2 handling").arg(object.text(), eventWords(int(s.what)));
            rows.insert(rows.begin(), {h, dispatches.front().ns, 1});
        }
    }
    if (rows.empty()) {
        HandlerName h;
        h.name = "work between dispatches";
        rows.push_back({h, stretch.end - stretch.start, 1});
    }
    return rows;
}

Stall describe(const TraceModel &trace, Handlers &handlers, const Stretch &stretch)
{
    Stall stall;
    stall.start = stretch.start;
    stall.duration = stretch.end - stretch.start;
    stall.thread = stretch.thread;
    stall.reentry = stretch.reentry;
    stall.contributors = contributors(trace, handlers, stretch);
    return stall;
}

QString counted(int n, const QString &one, const QString &many)
{
    return QStringLiteral("%1 %2").arg(n).arg(n == 1 ? one : many);
}

} // namespace

std::vector<Stall> stallsOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
                            TimeRange range)
{
    std::vector<Stall> stalls;
    const std::int64_t least = std::chrono::nanoseconds(budget).count();
    const auto threads = trace.threads();
    for (const Stretch &s : trace.stretches())
        if (threads.value(s.thread).main && s.end - s.start >= least && s.end >= range.from &&
            s.start <= range.to)
            stalls.push_back(describe(trace, handlers, s));
    if (auto open = openStall(trace, handlers, budget);
        open && open->start <= range.to && open->start + open->duration >= range.from)
        stalls.push_back(std::move(*open));
    if (stalls.empty())
        return stalls;
    // What is dispatched in the same pass, right after the handler, waited for it too: what counts is
    // how much of the wait lies in the stall.
    constexpr std::int64_t worthTelling = 5'000'000;
    for (const WaitRow &w : waitsOf(trace)) {
        if (w.kind == "posted" || w.kind == "release")
            continue;
        for (Stall &stall : stalls) {
            const std::int64_t from = std::max(w.posted, stall.start);
            const std::int64_t to = std::min(w.posted + w.wait, stall.start + stall.duration);
            if (to - from >= worthTelling)
                stall.waiting.push_back(w);
        }
    }
    return stalls;
}

std::optional<Stall> openStall(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget)
{
    const std::int64_t since = trace.busySince(), now = trace.now();
    if (!since || now - since < std::chrono::nanoseconds(budget).count())
        return std::nullopt;
    Stretch s;
    s.start = since;
    s.end = now;
    const auto threads = trace.threads();
    for (qsizetype i = 0; i < threads.size(); ++i)
        if (threads[i].main)
            s.thread = std::uint16_t(i);
    // Its spans are the last ones: walk back to where it began.
    std::uint32_t i = trace.spanCount();
    while (i > 0 && (trace.span(i - 1).start >= since || trace.span(i - 1).open()))
        --i;
    s.firstSpan = i;
    Stall stall = describe(trace, handlers, s);
    stall.open = true;
    return stall;
}

QString Stall::sentence() const
{
    const HandlerName &h = contributors.front().handler;
    QString s = QStringLiteral("%1 blocked the loop for %2").arg(h.name, durationText(duration));
    if (!h.file.isEmpty())
        s += QStringLiteral(" at %1:%2").arg(QFileInfo(h.file).fileName()).arg(h.line);
    int inputs = 0, repaints = 0, calls = 0;
    for (const WaitRow &w : waiting)
        ++(w.kind == "input" ? inputs : w.kind == "repaint" ? repaints : calls);
    QStringList parts;
    if (inputs)
        parts << counted(inputs, "input", "inputs");
    if (repaints)
        parts << counted(repaints, "repaint", "repaints");
    if (calls)
        parts << counted(calls, "queued call", "queued calls");
    if (!parts.isEmpty()) {
        const QString last = parts.takeLast();
        s += "; " + (parts.isEmpty() ? last : parts.join(", ") + " and " + last) + " waited";
    }
    if (reentry)
        s += "; it was served by re-entry";
    if (open)
        s += "; it had not ended";
    return s + '.';
}

} // namespace pipit
