#include "core/pace/timers.h"

#include <QEvent>

#include <algorithm>
#include <cmath>
#include <map>

namespace pipit
{

namespace
{

struct Tick {
    std::uint32_t row = 0, after = 0; // all that lies in it
    bool changed = false;
    std::uint16_t thread = 0;
};

struct Change { // of a timer, by the program
    std::int64_t time = 0;
    std::int64_t every = 0; // 0: it goes on with what it had, or was stopped
};

struct Told { // of a timer, by facts
    std::vector<Change> started;
    std::int64_t every = 0; // as last seen
    std::int64_t since = 0; // when it was last another
    bool isTimer = false, isSingle = false;
    void takeEvery(std::int64_t ns, std::int64_t at)
    {
        if (every && every != ns)
            since = at;
        every = ns;
    }
};

std::map<std::uint32_t, Told> toldOfTimers(const TraceModel &trace)
{
    std::map<std::uint32_t, Told> all;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        if (!f.object)
            continue;
        const QString &text = trace.factText(f);
        if (f.fact == link::Fact::State && text.contains("every=")) {
            Told &t = all[f.object];
            t.isTimer = true;
            const qsizetype at = text.indexOf("every=") + 6;
            const qsizetype end = text.indexOf('\n', at);
            t.takeEvery(text.mid(at, end < 0 ? -1 : end - at).toLongLong() * 1'000'000, f.time);
            t.isSingle = text.section('\n', 0, 0).section('=', 1).toUInt(nullptr, 16) & link::IsSingleShot;
        } else if (f.fact == link::Fact::Touched && (text == "stop" || text.section('\t', 0, 0) == "start")) {
            const std::int64_t every = text.section('\t', 1, 1).toLongLong() * 1'000'000;
            Told &t = all[f.object];
            t.started.push_back({f.time, every});
            t.isTimer = true;
            if (every > 0)
                t.takeEvery(every, f.time);
        }
    }
    return all;
}

// What stands in the tick beside the timer's own signal and its handlers.
bool emits(const ThreadRows &rows, std::uint32_t timer, const Tick &tick)
{
    for (std::uint32_t i = tick.row + 1; i < tick.after; ++i) {
        const Span s = rows.at(i);
        if (s.kind == SpanKind::Dispatch || s.kind == SpanKind::Message ||
            (s.kind == SpanKind::Signal && s.object != timer))
            return true;
    }
    return false;
}

class Ticks
{
public:
    Ticks(const TraceModel &trace, std::uint16_t thread, TimeRange range)
        : rows_(trace.rows(thread)), thread_(thread)
    {
        const std::uint32_t count = rows_.count();
        for (std::uint32_t i = range.from == INT64_MIN ? 0 : rows_.firstFrom(range.from); i < count; ++i) {
            if (rows_.kind(i) != SpanKind::Dispatch)
                continue;
            const Span s = rows_.at(i);
            if (s.start > range.to)
                break;
            if (s.what == QEvent::Timer)
                byObject[s.object].push_back({i, std::min(rows_.after(i), count), false, thread_});
        }
        for (auto &[object, ticks] : byObject)
            for (Tick &t : ticks)
                t.changed = emits(rows_, object, t);
        markPosts(trace);
        markTouches(trace);
    }
    std::map<std::uint32_t, std::vector<Tick>> byObject;

private:
    void mark(std::uint32_t row)
    {
        for (auto &[object, ticks] : byObject) {
            auto at = std::upper_bound(ticks.begin(), ticks.end(), row,
                                       [](std::uint32_t r, const Tick &t) { return r < t.row; });
            if (at != ticks.begin() && row < (--at)->after)
                at->changed = true;
        }
    }
    void markPosts(const TraceModel &trace)
    {
        for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
            const ThreadRows &rows = trace.rows(t);
            for (std::uint32_t n = 0; n < rows.postedCount() && rows.postedRow(n) < rows.count(); ++n)
                if (const SpanId cause = rows.posting(rows.postedRow(n)).cause;
                    cause && cause.thread() == thread_)
                    mark(cause.row());
        }
    }
    void markTouches(const TraceModel &trace)
    {
        for (std::uint32_t i = 0; i < trace.factCount(); ++i)
            if (const FactRow &f = trace.fact(i);
                f.fact == link::Fact::Touched && f.span && f.span.thread() == thread_)
                mark(f.span.row());
    }
    const ThreadRows &rows_;
    const std::uint16_t thread_;
};

// The dispatcher says that it wakes and that it is about to wait: that is part of every turn.
bool isOfDispatcher(const TraceModel &trace, const Span &s)
{
    if (s.kind != SpanKind::Signal)
        return false;
    const QString name = trace.signal(s.what).name();
    return (name == "awake" || name == "aboutToBlock") &&
           trace.object(s.object).className.contains("EventDispatcher");
}

// Whether its turn was for nothing else, but for what it made itself.
bool isAlone(const TraceModel &trace, const ThreadRows &rows, const Tick &tick)
{
    const SpanId turn = rows.parent(tick.row);
    if (!turn || rows.kind(turn.row()) != SpanKind::Turn)
        return false;
    const std::uint32_t end = std::min(rows.after(turn.row()), rows.count());
    for (std::uint32_t i = turn.row() + 1; i < end; i = std::max(i + 1, rows.after(i))) {
        const Span s = rows.at(i);
        if (i == tick.row || isOfDispatcher(trace, s))
            continue;
        const SpanId cause = s.flags & WasPosted ? rows.posting(i).cause : SpanId();
        const bool own =
            cause && cause.thread() == tick.thread && cause.row() >= tick.row && cause.row() < tick.after;
        if (!own)
            return false;
    }
    return true;
}

// A timer that belongs to the toolkit's own classes: those that have timers of their own, and QTimers that
// neither have a name nor call, nor were started by, anything of the program's.
bool isOfToolkit(const ThreadRows &rows, const ObjectInfo &info, const std::vector<Tick> &ticks,
                 const Told *told)
{
    if (info.className.size() < 2 || info.className[0] != 'Q' || !info.className[1].isUpper())
        return false;
    if (info.className != "QTimer" && info.className != "QSingleShotTimer")
        return true;
    if (!info.name.isEmpty() || (told && !told->started.empty()))
        return false;
    const bool calls = std::any_of(ticks.begin(), ticks.end(), [&](const Tick &t) {
        for (std::uint32_t i = t.row + 1; i < t.after; ++i)
            if (rows.kind(i) == SpanKind::Call)
                return true;
        return false;
    });
    return !calls && info.className == "QTimer";
}

void measure(TimerRow &row, const TraceModel &trace, const ThreadRows &rows, const std::vector<Tick> &ticks,
             const Told *told)
{
    std::int64_t before = 0;
    std::vector<std::int64_t> intervals;
    const auto startedBetween = [told](std::int64_t from, std::int64_t to) {
        const auto first = std::lower_bound(told->started.begin(), told->started.end(), from,
                                            [](const Change &c, std::int64_t time) { return c.time < time; });
        return first != told->started.end() && first->time <= to;
    };
    for (const Tick &t : ticks) {
        const Span s = rows.at(t.row);
        if (before && !row.shots) {
            const bool anew = told && startedBetween(before, s.start);
            if (!anew && (!told || before >= told->since))
                intervals.push_back(s.start - before);
        }
        before = s.start;
        ++row.ticks;
        row.idle += !t.changed;
        row.alone += isAlone(trace, rows, t);
        row.at.push_back(s.start);
        if (!s.open())
            row.work += s.end - s.start;
    }
    row.intervals = Spread(std::move(intervals));
    row.over = row.at.back() - row.at.front();
}

// Several as one: what lies between their ticks says nothing.
void join(TimerRow &into, const TimerRow &row)
{
    into.ticks += row.ticks;
    into.idle += row.idle;
    into.alone += row.alone;
    into.work += row.work;
    into.objects += row.objects;
    into.intervals = {};
    into.promised = 0;
    into.at.insert(into.at.end(), row.at.begin(), row.at.end());
    std::sort(into.at.begin(), into.at.end());
    into.over = into.at.back() - into.at.front();
}

} // namespace

std::vector<TimerRow> timersOf(const TraceModel &trace, TimeRange range)
{
    const auto told = toldOfTimers(trace);
    std::vector<TimerRow> all;
    TimerRow toolkit;
    const auto joined = [](TimerRow &into, TimerRow row, const char *name) {
        if (into.ticks > 0)
            return join(into, row);
        into = std::move(row);
        into.name = QString::fromLatin1(name);
        into.intervals = {};
        into.promised = 0;
    };
    for (std::uint16_t thread = 0; thread < trace.threadCount(); ++thread) {
        const Ticks ticks(trace, thread, range);
        TimerRow shots;
        for (const auto &[object, of] : ticks.byObject) {
            const ObjectInfo info = trace.object(object);
            const auto known = told.find(object);
            const Told *facts = known == told.end() ? nullptr : &known->second;
            TimerRow row;
            row.object = object;
            row.name = info.text();
            row.className = info.className;
            row.thread = thread;
            row.shots = info.className == "QSingleShotTimer" || (facts && facts->isSingle);
            if (facts && facts->isTimer) {
                row.known = true;
                row.promised = facts->every;
            }
            measure(row, trace, trace.rows(thread), of, facts);
            row.toolkit = isOfToolkit(trace.rows(thread), info, of, facts);
            if (info.className == "QSingleShotTimer")
                joined(shots, std::move(row), "single shots");
            else if (row.toolkit)
                joined(toolkit, std::move(row), "the toolkit's own timers");
            else
                all.push_back(std::move(row));
        }
        if (shots.ticks > 0) {
            shots.objects = 1; // how many there were is not known: one address serves several
            all.push_back(std::move(shots));
        }
    }
    std::stable_sort(all.begin(), all.end(), [](const TimerRow &a, const TimerRow &b) {
        return a.known != b.known ? a.known : a.ticks > b.ticks;
    });
    if (toolkit.ticks > 0) {
        toolkit.known = false;
        all.push_back(std::move(toolkit));
    }
    return all;
}

std::int64_t TimerRow::late(double part) const
{
    return promised > 0 && !intervals.empty() ? intervals.quantile(part) - promised : 0;
}

QString TimerRow::sentence() const
{
    const QString often = ticks == 1 ? "once" : counted(ticks, "time", "times");
    QString s = name + (objects > 1 ? QStringLiteral(" of %1 objects: ").arg(objects) : QString(": "));
    if (shots)
        s += "fired " + often +
             (promised > 0 ? (ticks == 1 ? ", " : ", each ") + durationText(promised) + " after its start"
                           : QString());
    else if (promised > 0)
        s += "promised every " + durationText(promised) + ", ";
    if (!shots && intervals.empty())
        s += "ticked " + often;
    else if (!shots)
        s += QStringLiteral("median %1 (%2 to %3), %4 ticks")
                 .arg(durationText(intervals.median()), durationText(intervals.least()),
                      durationText(intervals.most()))
                 .arg(ticks);
    constexpr int enough = 5; // ticks, for what they cost in the mean
    if (ticks >= enough)
        s += QStringLiteral("; %1 each, %2 % of a processor")
                 .arg(durationText(work / ticks))
                 .arg(100 * load(), 0, 'g', 2);
    if (idle == ticks)
        s += "; no tick set, emitted or posted anything";
    else if (idle > 0)
        s += QStringLiteral("; %1 of them set, emitted or posted nothing").arg(idle);
    return s + '.';
}

PollDelay predictedDelay(const Spread &intervals)
{
    PollDelay d;
    if (intervals.empty())
        return d;
    double sum = 0, squares = 0;
    for (const std::int64_t i : intervals.values()) {
        sum += double(i);
        squares += double(i) * double(i);
    }
    d.known = sum > 0;
    d.mean = d.known ? std::int64_t(squares / (2 * sum)) : 0;
    d.longest = intervals.most();
    return d;
}

PollDelay measuredDelay(const std::vector<std::int64_t> &changes, const std::vector<std::int64_t> &ticks)
{
    std::vector<std::int64_t> each;
    double sum = 0;
    for (const std::int64_t c : changes) {
        const auto tick = std::lower_bound(ticks.begin(), ticks.end(), c);
        if (tick == ticks.end() ||
            (tick == ticks.begin() && c < *tick && ticks.size() > 1 && *tick - c > ticks[1] - ticks[0]))
            continue; // it was not polled then
        each.push_back(*tick - c);
        sum += double(*tick - c);
    }
    if (each.empty())
        return {};
    const Spread delays(std::move(each));
    return {delays.least(), std::int64_t(sum / delays.count()), delays.most(), true};
}

OtherInterval otherInterval(const TimerRow &timer, std::int64_t interval)
{
    OtherInterval o;
    o.interval = interval;
    const std::int64_t base = timer.promised > 0 ? timer.promised : timer.intervals.median();
    Spread kept;
    for (const std::int64_t i : timer.intervals.values())
        kept.add(std::max<std::int64_t>(1, interval + (i - base)));
    if (kept.empty() && interval > 0)
        kept.add(interval);
    o.delay = predictedDelay(kept);
    double sum = 0;
    for (const std::int64_t i : kept.values())
        sum += double(i);
    o.perSecond = sum > 0 ? kept.count() / sum * 1e9 : 0;
    o.load = timer.ticks ? double(timer.work) / timer.ticks / 1e9 * o.perSecond : 0;
    return o;
}

} // namespace pipit
