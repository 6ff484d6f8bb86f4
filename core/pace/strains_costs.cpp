#include "core/pace/strains_parts.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr int manyCalls = 30;
constexpr std::int64_t dearTogether = 100'000'000; // of a second
constexpr std::int64_t dearPaints = 20'000'000;    // of a second
constexpr int moreThanShown = 75;                  // paints a second; screens show 60
constexpr int manyLayouts = 50;
constexpr int manySettings = 100;
constexpr int longQueue = 50;

// Without what a signal carried, which is another each time.
QString plainSentence(const TraceModel &trace, Handlers &handlers, const Span &s)
{
    return sentenceOf(trace, handlers, ThreadRows::Alike{s.object, s.what, s.kind, s.flags});
}

// Calls without the calls inside them, as they end.
class OwnCalls
{
public:
    explicit OwnCalls(BySecond<std::uint32_t> &into) : into_(into) {}
    void take(const Span &call, std::uint32_t after, std::int64_t now)
    {
        leave(call.id.row());
        const std::int64_t took = call.duration(now);
        if (!open_.empty())
            open_.back().inside += took;
        open_.push_back({after, call.what, call.start, took, 0});
    }
    void leave(std::uint32_t row)
    {
        for (; !open_.empty() && row >= open_.back().after; open_.pop_back()) {
            const Open &o = open_.back();
            into_.add(o.what, o.start, o.took - o.inside);
        }
    }

private:
    struct Open {
        std::uint32_t after, what;
        std::int64_t start, took, inside;
    };
    BySecond<std::uint32_t> &into_;
    std::vector<Open> open_;
};

// What called the handler most often, if it is one signal or event in nearly all of them.
QString causeOfCalls(const TraceModel &trace, Handlers &handlers, std::uint16_t thread, std::uint32_t what,
                     std::int64_t from)
{
    constexpr int enough = 200;
    const ThreadRows &rows = trace.rows(thread);
    std::map<QString, int> causes;
    int all = 0;
    for (std::uint32_t i = rows.firstFrom(from); i < rows.count() && all < enough; ++i) {
        if (rows.start(i) > from + oneSecond)
            break;
        if (rows.kind(i) != SpanKind::Call)
            continue;
        const Span s = rows.at(i);
        if (s.what != what)
            continue;
        ++all;
        if (const SpanId cause = causeOf(trace, handlers, s))
            ++causes[plainSentence(trace, handlers, trace.span(cause))];
    }
    for (const auto &[sentence, count] : causes)
        if (count * 10 >= all * 9)
            return sentence;
    return {};
}

int paintsIn(const TraceModel &trace, std::uint16_t thread, std::uint32_t object, std::int64_t from)
{
    const ThreadRows &rows = trace.rows(thread);
    int count = 0;
    for (std::uint32_t i = rows.firstFrom(from); i < rows.count() && rows.start(i) <= from + oneSecond; ++i)
        if (rows.kind(i) == SpanKind::Dispatch) {
            const Span s = rows.at(i);
            count += s.what == QEvent::Paint && s.object == object;
        }
    return count;
}

void addSettings(std::vector<Strain> &all, const TraceModel &trace, std::uint16_t thread, TimeRange range)
{
    BySecond<std::pair<std::uint32_t, QString>> settings(BySecond<std::pair<std::uint32_t, QString>>::Number);
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        if (f.fact != link::Fact::Touched || f.thread != thread || !f.object || f.time < range.from ||
            f.time > range.to)
            continue;
        const QString what = trace.factText(f).section('\t', 0, 0);
        if (what == "text" || what == "value" || what == "title")
            settings.add({f.object, what}, f.time, 0);
    }
    settings.eachWorst([&](const auto &key, const auto &cell) {
        if (cell.count < manySettings)
            return;
        const int paints = paintsIn(trace, thread, key.first, cell.first);
        if (paints == 0 || paints * 2 > cell.count) // of what is not painted at all nobody waits to see it
            return;
        Strain s;
        s.kind = StrainKind::ManySettings;
        s.who = trace.object(key.first).text() + "'s " + key.second;
        s.why = paints == 1 ? QStringLiteral("once") : QStringLiteral("%1 times").arg(paints);
        s.at = cell.first;
        s.count = cell.count;
        all.push_back(s);
    });
}

// How many of one kind for one receiver waited at once.
void addQueues(std::vector<Strain> &all, const TraceModel &trace, std::uint16_t thread, TimeRange range)
{
    struct Queue {
        std::vector<std::int64_t> handled; // when, of those so far, in order
        int deepest = 0;
        std::int64_t at = 0, longest = 0;
        SpanId cause;
    };
    std::map<std::pair<std::uint32_t, std::uint32_t>, Queue> queues;
    const ThreadRows &rows = trace.rows(thread);
    for (std::uint32_t n = 0; n < rows.postedCount() && rows.postedRow(n) < rows.count(); ++n) {
        const Span s = rows.at(rows.postedRow(n));
        if (s.start < range.from || s.start > range.to || isInputEvent(int(s.what)))
            continue;
        const Posting p = rows.posting(s.id.row());
        Queue &q = queues[{s.object, s.what}];
        // Those that were handled since this one was posted waited when it came, or were posted before it was
        // handled; the queue is handled in order.
        const auto since = std::lower_bound(q.handled.begin(), q.handled.end(), p.time);
        const int before = int(q.handled.end() - since);
        q.handled.push_back(s.start);
        if (before > q.deepest) {
            q.deepest = before;
            q.at = p.time;
            q.cause = p.cause;
        }
        q.longest = std::max(q.longest, s.start - p.time);
    }
    for (const auto &[key, q] : queues) {
        if (q.deepest < longQueue)
            continue;
        Strain s;
        s.kind = StrainKind::GrowingQueue;
        s.who = QStringLiteral("%1 of %2").arg(eventWords(int(key.second)), trace.object(key.first).text());
        s.why = q.cause && q.cause.thread() != thread ? trace.thread(q.cause.thread()).name : QString();
        s.at = q.at;
        s.count = q.deepest;
        s.took = q.longest;
        all.push_back(s);
    }
}

} // namespace

void addCosts(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, std::uint16_t thread,
              TimeRange range)
{
    using ByNumber = BySecond<std::uint32_t>; // of a link, of an object
    ByNumber calls(ByNumber::Time), paints(ByNumber::Number), layouts(ByNumber::Number);
    OwnCalls own(calls);
    const ThreadRows &rows = trace.rows(thread);
    const std::uint32_t count = rows.count();
    const std::int64_t now = trace.now();
    for (std::uint32_t i = range.from == INT64_MIN ? 0 : rows.firstFrom(range.from); i < count; ++i) {
        const SpanKind kind = rows.kind(i);
        if (kind != SpanKind::Call && kind != SpanKind::Dispatch)
            continue;
        const Span s = rows.at(i);
        if (s.start > range.to)
            break;
        if (kind == SpanKind::Call)
            own.take(s, s.open() ? count : rows.after(i), now);
        else if (s.what == QEvent::Paint)
            paints.add(s.object, s.start, s.duration(now));
        else if (s.what == QEvent::LayoutRequest)
            layouts.add(s.object, s.start, s.duration(now));
    }
    own.leave(UINT32_MAX);
    calls.eachWorst([&](std::uint32_t what, const ByNumber::Cell &cell) {
        const bool fewLong = cell.slow * 2 > cell.took; // those are told as stalls
        if (cell.count < manyCalls || cell.took < dearTogether || fewLong || handlers.isHelper(what))
            return;
        const HandlerName &h = handlers.of(what);
        all.push_back({StrainKind::ManyCalls, h.name, causeOfCalls(trace, handlers, thread, what, cell.first),
                       cell.first, cell.count, cell.took, h.file, h.line});
    });
    const auto addPlain = [&](StrainKind kind, int many, const ByNumber &of) {
        of.eachWorst([&](std::uint32_t object, const ByNumber::Cell &cell) {
            if (cell.count >= many && cell.took >= dearPaints)
                all.push_back(
                    {kind, trace.object(object).text(), {}, cell.first, cell.count, cell.took, {}, 0});
        });
    };
    addPlain(StrainKind::RepaintStorm, moreThanShown, paints);
    addPlain(StrainKind::LayoutLoop, manyLayouts, layouts);
    addSettings(all, trace, thread, range);
    addQueues(all, trace, thread, range);
}

void addTimers(std::vector<Strain> &all, const TraceModel &trace, TimeRange range)
{
    constexpr double crowded = 0.25;
    for (const TimerRow &t : timersOf(trace, range)) {
        if (t.toolkit || !trace.isMain(t.thread) || t.ticks < 10 || t.load() < crowded)
            continue;
        Strain s;
        s.kind = StrainKind::CrowdingTimer;
        s.who = t.name;
        s.why = QStringLiteral("%1 ticks a second, %2 each")
                    .arg(t.perSecond(), 0, 'g', 3)
                    .arg(durationText(t.work / t.ticks));
        s.at = t.at.front();
        s.count = int(100 * t.load());
        s.took = t.work;
        all.push_back(s);
    }
}

} // namespace pipit
