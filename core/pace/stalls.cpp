#include "core/pace/stalls.h"

#include "core/pace/python_slots.h"

#include <QFileInfo>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

// The innermost place of the program's own; what it called, where its own lines are not known.
std::optional<HotPlace> placeIn(const StackSample &sample)
{
    for (const StackFrame &f : sample.story())
        if (f.own)
            return HotPlace{f.function, f.file, f.line};
    for (std::size_t i = 0; i < sample.frames.size(); ++i) {
        const StackFrame &f = sample.frames[i];
        if (isOwnLibrary(f.module))
            break;
        if (f.module.isEmpty() || isSystemLibrary(f.module))
            continue;
        const StackFrame &named = i > 0 ? sample.frames[i - 1] : f;
        if (named.function.isEmpty())
            break;
        HotPlace place{named.function, {}, 0};
        place.called = i > 0;
        return place;
    }
    return std::nullopt;
}

// The places of all stacks; the one that most have comes first.
std::vector<HotPlace> placesIn(const std::vector<StackSample> &samples, const std::vector<double> &shares)
{
    std::vector<HotPlace> places;
    QHash<std::pair<QString, int>, std::size_t> at;
    for (std::size_t n = 0; n < samples.size(); ++n) {
        const auto place = placeIn(samples[n]);
        if (!place)
            continue;
        const std::pair key(place->file.isEmpty() ? place->function : place->file, place->line);
        const auto known = at.constFind(key);
        const std::size_t i = known == at.constEnd() ? places.size() : *known;
        if (known == at.constEnd()) {
            at.insert(key, i);
            places.push_back(*place);
            places.back().looks = int(samples.size());
        }
        ++places[i].found;
        places[i].share += shares[n];
    }
    std::stable_sort(places.begin(), places.end(),
                     [](const HotPlace &a, const HotPlace &b) { return a.share > b.share; });
    return places;
}

// The last look that saw it wait for a lock, with its holder where one look saw that: the very last may fall
// together with the lock's release. Of a stall that lasts only what it does now counts. None where waiting is
// not most of what it did, unless it does so still.
const StackSample *lockLook(const std::vector<StackSample> &samples, const Stall &stall, bool lasts)
{
    if (samples.empty())
        return nullptr;
    const bool still = blockingOf(samples.back()) == Blocking::Lock;
    if (!still && (lasts || stall.blocking.empty() || stall.blocking.front().blocking != Blocking::Lock))
        return nullptr;
    const StackSample *found = nullptr;
    for (auto it = samples.rbegin(); it != samples.rend(); ++it) {
        if (blockingOf(*it) != Blocking::Lock || (found && it->lock != found->lock))
            continue;
        if (holderOf(*it))
            return &*it;
        if (!found)
            found = &*it;
    }
    return found;
}

Stall describe(const TraceModel &trace, Handlers &handlers, const Stretch &stretch, bool lasts = false)
{
    Stall stall;
    stall.start = stretch.start;
    stall.duration = stretch.end - stretch.start;
    stall.thread = stretch.thread;
    stall.reentry = stretch.reentry;
    stall.contributors = contributors(trace, handlers, stretch);
    const std::vector<StackSample> samples = stacksOf(trace, handlers, stall);
    const std::vector<double> shares = sharesOf(samples, stretch.start, stretch.end);
    stall.places = placesIn(samples, shares);
    if (!stall.places.empty())
        stall.hot = stall.places.front();
    stall.hot.looks = int(samples.size());
    stall.blocking = blockingOf(samples, shares);
    if (Contributor &first = stall.contributors.front(); isBindingsSlot(first.handler))
        if (const QString name = slotByStacks(samples); !name.isEmpty())
            first.handler.name = name;
    for (const StackSample &s : samples) {
        stall.processor.over += s.over;
        stall.processor.ran += s.ran;
        stall.processor.delayed += s.delayed;
    }
    if (const StackSample *waiting = lockLook(samples, stall, lasts))
        stall.lock = lockWaitOf(*waiting, stacksOf(trace, handlers, stall, true), trace.threads());
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
    // What was open all the while, and began last before it, belongs to it.
    const ThreadRows &rows = trace.rows(thread);
    s.firstRow = rows.firstFrom(since);
    while (s.firstRow > 0 && rows.end(s.firstRow - 1) < 0)
        --s.firstRow;
    Stall stall = describe(trace, handlers, s, true);
    stall.open = true;
    stall.story = storyOf(trace, handlers, stall);
    return stall;
}

// What is dispatched in the same pass, right after the handler, waited for it too: what counts is how much
// of the wait lies in the stretch.
bool addWait(const TraceModel &trace, Stall &stall, const Span &dispatch, std::int64_t posted)
{
    constexpr std::int64_t worthTelling = 5'000'000;
    const std::int64_t from = std::max(posted, stall.start),
                       to = std::min(dispatch.start, stall.start + stall.duration);
    if (to - from < worthTelling)
        return false;
    auto w = waitRow(trace, dispatch);
    if (!w || w->kind == "posted" || w->kind == "release")
        return false;
    stall.waiting.push_back(std::move(*w));
    return true;
}

// All of them that one thread's rows tell from a row on, of a stall that ended.
void addWaits(const TraceModel &trace, Stall &stall, std::uint32_t fromPosted, std::uint32_t toPosted)
{
    const ThreadRows &rows = trace.rows(stall.thread);
    for (std::uint32_t n = fromPosted; n < toPosted; ++n) {
        const Span s = rows.at(rows.postedRow(n));
        addWait(trace, stall, s, rows.posting(s.id.row()).time);
    }
}

bool within(std::int64_t start, std::int64_t end, const TimeRange &range)
{
    return end >= range.from && start <= range.to;
}

} // namespace

StallLog::StallLog(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
                   TimeRange range)
    : trace_(trace), handlers_(handlers), budget_(budget), range_(range)
{
}

bool StallLog::update()
{
    const std::int64_t least = std::chrono::nanoseconds(budget_).count();
    const std::uint32_t stretches = trace_.stretchCount();
    bool more = false;
    looked_.resize(trace_.threadCount());
    for (; next_ < stretches; ++next_) {
        const Stretch &s = trace_.stretch(next_);
        if (s.end - s.start < least || !within(s.start, s.end, range_))
            continue;
        more = true;
        const bool main = trace_.isMain(s.thread);
        Stall stall = describe(trace_, handlers_, s);
        if (!main)
            stall.worker = trace_.thread(s.thread).name;
        const ThreadRows &rows = trace_.rows(s.thread);
        Looked &looked = looked_[s.thread];
        if (looked.stalls.empty()) // nothing of it was of interest before
            looked.posted = rows.firstPostedFrom(rows.firstFrom(s.start));
        addWaits(trace_, stall, rows.firstPostedFrom(rows.firstFrom(s.start)), looked.posted);
        looked.stalls.push_back(main ? stalls_.size() : busy_.size());
        if (main)
            unsettled_.push_back(stalls_.size());
        (main ? stalls_ : busy_).push_back(std::move(stall));
    }
    const bool waits = lookForWaits(), unseen = lookForUnseen();
    return waits || unseen || more;
}

// What was set and not painted before it was set again is known once the widget was painted.
bool StallLog::lookForUnseen()
{
    bool found = false;
    std::erase_if(unsettled_, [&](std::size_t i) {
        Stall &s = stalls_[i];
        bool settled = false;
        auto unseen = unseenIn(trace_, s.thread, {s.start, s.start + s.duration}, &settled);
        found = found || unseen.size() != s.unseen.size();
        s.unseen = std::move(unseen);
        return settled;
    });
    return found;
}

// What was dispatched since: it may have waited for stalls that were told already.
bool StallLog::lookForWaits()
{
    bool found = false;
    for (std::size_t i = 0; i < looked_.size(); ++i) {
        Looked &looked = looked_[i];
        if (looked.stalls.empty())
            continue;
        const ThreadRows &rows = trace_.rows(std::uint16_t(i));
        auto &all = trace_.isMain(std::uint16_t(i)) ? stalls_ : busy_;
        const std::uint32_t until = rows.postedCount();
        for (; looked.posted < until && rows.postedRow(looked.posted) < rows.count(); ++looked.posted) {
            const Span s = rows.at(rows.postedRow(looked.posted));
            const std::int64_t posted = rows.posting(s.id.row()).time;
            std::size_t from = looked.stalls.size(); // the first that it can have waited for
            while (from > 0 &&
                   all[looked.stalls[from - 1]].start + all[looked.stalls[from - 1]].duration > posted)
                --from;
            for (; from < looked.stalls.size(); ++from)
                found = addWait(trace_, all[looked.stalls[from]], s, posted) || found;
        }
    }
    return found;
}

std::vector<Stall> StallLog::open(bool main) const
{
    std::vector<Stall> stalls;
    for (std::uint16_t i = 0; i < trace_.threadCount(); ++i) {
        if (trace_.isMain(i) != main)
            continue;
        auto stall = openOn(trace_, handlers_, i, budget_);
        if (!stall || !within(stall->start, stall->start + stall->duration, range_))
            continue;
        if (!main)
            stall->worker = trace_.thread(i).name;
        const ThreadRows &rows = trace_.rows(i);
        addWaits(trace_, *stall, rows.firstPostedFrom(rows.firstFrom(stall->start)), rows.postedCount());
        stalls.push_back(std::move(*stall));
    }
    return stalls;
}

static std::vector<Stall> all(const TraceModel &trace, Handlers &handlers, bool main,
                              std::chrono::milliseconds budget, TimeRange range)
{
    StallLog log(trace, handlers, budget, range);
    log.update();
    std::vector<Stall> stalls = main ? log.stalls() : log.busy();
    for (Stall &open : log.open(main))
        stalls.push_back(std::move(open));
    return stalls;
}

std::vector<Stall> stallsOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
                            TimeRange range)
{
    return all(trace, handlers, true, budget, range);
}

std::vector<Stall> busyWorkersOf(const TraceModel &trace, Handlers &handlers,
                                 std::chrono::milliseconds budget, TimeRange range)
{
    return all(trace, handlers, false, budget, range);
}

std::optional<Stall> startUpOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds over)
{
    const std::int64_t until = trace.firstPass() ? trace.firstPass() : trace.now();
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i) {
        if (!trace.isMain(i))
            continue;
        Stretch s;
        s.start = trace.firstTime();
        s.end = until;
        s.thread = i;
        if (!s.start || s.end - s.start < std::chrono::nanoseconds(over).count())
            return std::nullopt;
        Stall stall = describe(trace, handlers, s, !trace.firstPass());
        stall.startUp = true;
        stall.open = !trace.firstPass();
        HandlerName name;
        name.name = QStringLiteral("Start-up"); // all of which lies between dispatches, unless a handler ran
        std::erase_if(stall.contributors,
                      [](const Contributor &c) { return c.handler.name == betweenDispatches(); });
        stall.contributors.insert(stall.contributors.begin(), {name, stall.duration, 1});
        return stall;
    }
    return std::nullopt;
}

std::optional<Stall> openStall(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget)
{
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        if (trace.isMain(i))
            if (auto open = openOn(trace, handlers, i, budget))
                return open;
    return std::nullopt;
}

std::vector<StackSample> stacksOf(const TraceModel &trace, Handlers &handlers, const Stall &stall,
                                  bool others)
{
    const ThreadInfo thread = trace.thread(stall.thread);
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
    const QString where = !file.isEmpty()
                              ? QStringLiteral(", %1:%2").arg(QFileInfo(file).fileName()).arg(line)
                          : called ? QStringLiteral(", called from the program")
                                   : QString();
    return QStringLiteral("%1%2 (%3 of %4 looks)").arg(function, where).arg(found).arg(looks);
}

QString Stall::sentence() const
{
    const HandlerName &h = contributors.front().handler;
    QString s = startUp ? QStringLiteral("Start-up took %1 from the application object to the event loop")
                              .arg(durationText(duration))
                : worker.isEmpty()
                    ? QStringLiteral("%1 blocked the event loop for %2").arg(h.name, durationText(duration))
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
        s += "; re-entry served events meanwhile";
    if (processor.machineWasBusy())
        s += QStringLiteral("; the machine was busy: for %1 % of the time it had no processor")
                 .arg(qRound(100 * processor.delayedShare()));
    if (lock)
        s += "; " + lock->text(open);
    if (open)
        s += startUp ? "; the event loop had not begun" : "; it had not ended";
    return s + '.';
}

} // namespace pipit
