#include "core/pace/stalls.h"

#include <QEvent>
#include <QFileInfo>
#include <QSet>

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

// Own time of each call and dispatch in the stretch: without the calls and dispatches within it. The sum is
// what lay in any dispatch or call.
std::vector<Own> ownTimes(const TraceModel &trace, const Stretch &stretch)
{
    std::unordered_map<std::uint32_t, std::int64_t> own;
    const Clip clip{stretch.start, stretch.end};
    const auto wanted = [&](const Span &s) {
        return s.thread == stretch.thread && (s.kind == SpanKind::Call || s.kind == SpanKind::Dispatch);
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
        sorted.push_back({span, std::max<std::int64_t>(0, ns)});
    std::sort(sorted.begin(), sorted.end(), [](const Own &a, const Own &b) { return a.ns > b.ns; });
    return sorted;
}

// The handlers that were called, the largest share first.
std::vector<Contributor> calledHandlers(const TraceModel &trace, Handlers &handlers,
                                        const std::vector<Own> &own)
{
    std::vector<Contributor> rows;
    std::unordered_map<QString, std::size_t> known; // rows by the handler's identity
    for (const Own &o : own) {
        if (trace.span(o.span).kind != SpanKind::Call)
            continue;
        const auto [at, fresh] = known.try_emplace(handlers.identity(trace.span(o.span).what), rows.size());
        if (fresh)
            rows.push_back({handlers.of(trace.span(o.span).what), 0, 0});
        rows[at->second].ns += o.ns;
        ++rows[at->second].calls;
    }
    std::sort(rows.begin(), rows.end(), [](const auto &a, const auto &b) { return a.ns > b.ns; });
    return rows;
}

Contributor named(const QString &name, std::int64_t ns, int calls)
{
    HandlerName h;
    h.name = name;
    return {h, ns, calls};
}

// Who is to blame needs its share: a handler, or an event's own handling, that took a third; else handlers
// that together took two thirds; else what lay outside of every dispatch; else many events, none of them
// long.
std::vector<Contributor> contributors(const TraceModel &trace, Handlers &handlers, const Stretch &stretch)
{
    const std::int64_t all = stretch.end - stretch.start, worth = std::max<std::int64_t>(1'000'000, all / 50);
    const std::vector<Own> own = ownTimes(trace, stretch);
    std::vector<Contributor> rows = calledHandlers(trace, handlers, own);
    std::int64_t inCalls = 0, inDispatches = 0;
    int calls = 0, dispatches = 0;
    const Own *longest = nullptr;
    for (const Contributor &c : rows) {
        inCalls += c.ns;
        calls += c.calls;
    }
    for (const Own &o : own)
        if (trace.span(o.span).kind == SpanKind::Dispatch) {
            inDispatches += o.ns;
            ++dispatches;
            longest = longest ? longest : &o;
        }
    const std::int64_t outside = all - inCalls - inDispatches;
    while (!rows.empty() && rows.back().ns < worth)
        rows.pop_back();
    const auto handlerCount = qsizetype(rows.size());
    if (!rows.empty() && rows.front().ns >= all / 3 && (!longest || rows.front().ns >= longest->ns))
        return rows;
    if (longest && longest->ns >= all / 3) {
        const Span &s = trace.span(longest->span);
        rows.insert(rows.begin(), named(QStringLiteral("%1's own %2 handling")
                                            .arg(trace.object(s.object).text(), eventWords(int(s.what))),
                                        longest->ns, 1));
    } else if (inCalls >= all * 2 / 3) {
        rows.insert(rows.begin(),
                    named(QStringLiteral("%1 handlers together").arg(handlerCount), inCalls, calls));
    } else if (outside >= all / 3) {
        rows.insert(rows.begin(), named("work between dispatches", outside, 1));
    } else {
        rows.insert(rows.begin(), named(QStringLiteral("%1 events together").arg(dispatches),
                                        inDispatches + inCalls, dispatches));
    }
    return rows;
}

// The innermost place of the program's own in each stack; the one that most have.
HotPlace hotPlace(const TraceModel &trace, Handlers &handlers, const Stall &stall)
{
    HotPlace hot;
    QHash<std::pair<QString, int>, int> count;
    for (const StackSample &s : stacksOf(trace, handlers, stall)) {
        ++hot.looks;
        const auto frames = s.story();
        const auto own =
            std::find_if(frames.begin(), frames.end(), [](const StackFrame &f) { return f.own; });
        if (own == frames.end())
            continue;
        const int found = ++count[{own->file, own->line}];
        if (found > hot.found) {
            hot.found = found;
            hot.function = own->function;
            hot.file = own->file;
            hot.line = own->line;
        }
    }
    return hot;
}

Stall describe(const TraceModel &trace, Handlers &handlers, const Stretch &stretch)
{
    Stall stall;
    stall.start = stretch.start;
    stall.duration = stretch.end - stretch.start;
    stall.thread = stretch.thread;
    stall.reentry = stretch.reentry;
    stall.contributors = contributors(trace, handlers, stretch);
    stall.hot = hotPlace(trace, handlers, stall);
    return stall;
}

} // namespace

namespace
{

// The recorder's own thread has its loop on the stack.
bool isRecorders(const StackSample &s)
{
    return s.frames.size() > 1 && s.frames[1].module.contains("/libpipit-recorder");
}

QStringList storyOf(const StackSample &s, const QString &who)
{
    constexpr std::size_t most = 24;
    QStringList lines{who + (s.running ? " ran:" : " waited:")};
    std::size_t told = 0;
    for (const StackFrame &f : s.story())
        if (!f.function.isEmpty() && told++ < most)
            lines << "  " + f.function +
                         (f.own ? QStringLiteral("  %1:%2").arg(QFileInfo(f.file).fileName()).arg(f.line)
                                : "  " + QFileInfo(f.module).fileName());
    return lines;
}

QStringList storyOf(const TraceModel &trace, Handlers &handlers, const Stall &stall)
{
    QStringList lines;
    if (const auto own = stacksOf(trace, handlers, stall); !own.empty())
        lines += storyOf(own.back(), "it");
    const auto threads = trace.threads();
    QSet<std::uint32_t> seen;
    const auto others = stacksOf(trace, handlers, stall, true);
    for (auto other = others.rbegin(); other != others.rend(); ++other) {
        if (seen.contains(other->tid) || isRecorders(*other))
            continue;
        seen.insert(other->tid);
        const auto thread = std::find_if(threads.begin(), threads.end(), [&](const ThreadInfo &t) {
            return t.pid == other->pid && t.tid == other->tid;
        });
        lines += storyOf(*other, thread != threads.end() ? thread->name
                                                         : QStringLiteral("thread %1").arg(other->tid));
    }
    return lines;
}

// The stretch that a thread is in now.
std::optional<Stall> openOn(const TraceModel &trace, Handlers &handlers, std::uint16_t thread,
                            std::chrono::milliseconds budget)
{
    const std::int64_t since = trace.busySince(thread), now = trace.now();
    if (!since || now - since < std::chrono::nanoseconds(budget).count())
        return std::nullopt;
    Stretch s;
    s.start = since;
    s.end = now;
    s.thread = thread;
    // Its spans are the last ones: walk back to where it began.
    std::uint32_t i = trace.spanCount();
    while (i > 0 && (trace.span(i - 1).start >= since || trace.span(i - 1).open()))
        --i;
    s.firstSpan = i;
    Stall stall = describe(trace, handlers, s);
    stall.open = true;
    stall.story = storyOf(trace, handlers, stall);
    return stall;
}

// What is dispatched in the same pass, right after the handler, waited for it too: what counts is how much
// of the wait lies in the stretch.
void addWaiting(const TraceModel &trace, std::vector<Stall> &stalls)
{
    constexpr std::int64_t worthTelling = 5'000'000;
    if (stalls.empty())
        return;
    for (const WaitRow &w : waitsOf(trace)) {
        if (w.kind == "posted" || w.kind == "release")
            continue;
        for (Stall &stall : stalls) {
            const std::int64_t from = std::max(w.posted, stall.start);
            const std::int64_t to = std::min(w.posted + w.wait, stall.start + stall.duration);
            if (w.thread == stall.thread && to - from >= worthTelling)
                stall.waiting.push_back(w);
        }
    }
}

// On the main thread, or on all others.
std::vector<Stall> longStretches(const TraceModel &trace, Handlers &handlers, bool main,
                                 std::chrono::milliseconds budget, TimeRange range)
{
    std::vector<Stall> stalls;
    const std::int64_t least = std::chrono::nanoseconds(budget).count();
    const auto threads = trace.threads();
    for (const Stretch &s : trace.stretches())
        if (threads.value(s.thread).main == main && s.end - s.start >= least && s.end >= range.from &&
            s.start <= range.to)
            stalls.push_back(describe(trace, handlers, s));
    for (qsizetype i = 0; i < threads.size(); ++i)
        if (threads[i].main == main)
            if (auto open = openOn(trace, handlers, std::uint16_t(i), budget);
                open && open->start <= range.to && open->start + open->duration >= range.from)
                stalls.push_back(std::move(*open));
    for (Stall &s : stalls)
        if (!main)
            s.worker = threads.value(s.thread).name;
    addWaiting(trace, stalls);
    return stalls;
}

} // namespace

std::vector<Stall> stallsOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
                            TimeRange range)
{
    return longStretches(trace, handlers, true, budget, range);
}

std::vector<Stall> busyWorkersOf(const TraceModel &trace, Handlers &handlers,
                                 std::chrono::milliseconds budget, TimeRange range)
{
    return longStretches(trace, handlers, false, budget, range);
}

std::optional<Stall> openStall(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget)
{
    const auto threads = trace.threads();
    for (qsizetype i = 0; i < threads.size(); ++i)
        if (threads[i].main)
            if (auto open = openOn(trace, handlers, std::uint16_t(i), budget))
                return open;
    return std::nullopt;
}

std::vector<StackSample> stacksOf(const TraceModel &trace, Handlers &handlers, const Stall &stall,
                                  bool others)
{
    const ThreadInfo thread = trace.threads().value(stall.thread);
    auto all =
        trace.stacks().of(thread.pid, others ? 0 : thread.tid, stall.start, stall.start + stall.duration);
    if (others)
        std::erase_if(all, [&](const StackSample &s) { return s.tid == thread.tid; });
    for (StackSample &s : all)
        handlers.nameFrames(s);
    return all;
}

QString HotPlace::text() const
{
    return QStringLiteral("%1, %2:%3 (%4 of %5 looks)")
        .arg(function, QFileInfo(file).fileName())
        .arg(line)
        .arg(found)
        .arg(looks);
}

QString Stall::sentence() const
{
    const HandlerName &h = contributors.front().handler;
    QString s = worker.isEmpty()
                    ? QStringLiteral("%1 blocked the loop for %2").arg(h.name, durationText(duration))
                    : QStringLiteral("%1 kept %2 busy for %3").arg(h.name, worker, durationText(duration));
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
