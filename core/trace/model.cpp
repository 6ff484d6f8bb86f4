#include "core/trace/model_thread.h"
#include "core/trace/other_process.h"

namespace pipit
{

using link::Kind;
using link::Record;

TraceModel::TraceModel(QString spillFolder) : memory_(std::move(spillFolder)) {}

TraceModel::~TraceModel() = default;

void TraceModel::nameThread(Shared &s)
{
    const QString name = !s.main                       ? QStringLiteral("thread %1").arg(s.tid)
                         : s.pid == processes_.first() ? QStringLiteral("loop")
                                                       : QStringLiteral("loop of process %1").arg(s.pid);
    s.name = names_.intern(name);
}

void TraceModel::streamOpened(int stream, const StreamInfo &info)
{
    const auto i = std::size_t(stream);
    if (i >= threadStates_.size())
        threadStates_.resize(i + 1);
    if (threads_.size() >= UINT16_MAX) // more than can be told apart
        return;
    if (!processes_.contains(info.pid))
        processes_.append(info.pid);
    const auto number = std::uint16_t(threads_.size());
    auto shared = std::make_unique<Shared>(memory_, number);
    shared->pid = info.pid;
    shared->tid = info.tid;
    shared->main = info.main;
    nameThread(*shared);
    threadStates_[i] = std::make_unique<Thread>(*shared, number);
    threadStates_[i]->salt = std::uint64_t(processes_.indexOf(info.pid)) * 0x9e3779b97f4a7c15u;
    states_.push_back(threadStates_[i].get());
    threads_.add(std::move(shared));
}

// Rows are shown a few at a time, so that readers' memory is not fought over.
void TraceModel::publish(Thread &t)
{
    total_.store(total_.load(std::memory_order_relaxed) + (t.rows.written() - t.published),
                 std::memory_order_relaxed);
    t.published = t.rows.written();
    t.rows.publish();
}

void TraceModel::closeTop(Thread &t, std::int64_t time, std::uint16_t flags)
{
    const SpanKind kind = t.open.back().kind;
    if (const std::uint32_t row = t.open.back().row; !t.hops.empty() && t.hops.back().row >= row) {
        std::vector<Hop> own;
        auto first = t.hops.end();
        while (first != t.hops.begin() && (first - 1)->row >= row)
            --first;
        std::stable_sort(first, t.hops.end(), [](const auto &a, const auto &b) { return a.order < b.order; });
        for (auto it = first; it != t.hops.end(); ++it)
            own.push_back(it->hop);
        t.hops.erase(first, t.hops.end());
        t.rows.close(time, flags, own);
    } else {
        t.rows.close(time, flags);
    }
    t.open.pop_back();
    t.loops -= kind == SpanKind::Loop;
    t.forced -= kind == SpanKind::ForcedPass;
}

// What was open when records were lost may have ended since, and another begun in its place: how long it
// took is not known, nor whether what follows stands in it. Only the outermost loop goes on for sure enough.
void TraceModel::cutByLoss(Thread &t, std::int64_t time)
{
    while (t.open.size() > 1 || (!t.open.empty() && t.open.front().kind != SpanKind::Loop))
        closeTop(t, time, CutShort | BesideLoss);
    t.lastServed = 0; // what was lost may have been a wait: this stretch is not judged
    t.shared.unservedSince = 0;
    t.shared.busySince = 0;
}

void TraceModel::popTo(Thread &t, std::uint16_t depth, std::int64_t time)
{
    while (!t.open.empty()) {
        const Thread::Open &top = t.open.back();
        if (top.turn() ? top.depth <= depth : top.depth < depth)
            return;
        closeTop(t, time, top.turn() ? 0 : CutShort);
    }
}

// A turn begins with the first thing that happens after the loop woke.
void TraceModel::openTurn(Thread &t, std::int64_t time)
{
    if (!t.loops && !t.forced)
        return;
    const bool forced = !t.open.empty() && t.open.back().kind == SpanKind::ForcedPass;
    if (!t.open.empty() && !forced && t.open.back().kind != SpanKind::Loop)
        return;
    const std::uint16_t depth = t.open.empty() ? 0 : std::uint16_t(t.open.back().depth + 1);
    t.push(t.rows.open(SpanKind::Turn, t.woke ? t.woke : time, 0, 0, forced ? Forced : 0), depth,
           SpanKind::Turn);
}

// The loop reached a wait or a full poll: whatever turn is running at this level is over.
void TraceModel::served(Thread &t, std::int64_t time, bool waits)
{
    if (!t.open.empty() && t.open.back().turn())
        closeTop(t, time, 0);
    keepStretch(t, time, !waits && insideDispatch(t));
    if (t.shared.main.load(std::memory_order_relaxed)) {
        lastPass_ = time;
        if (!firstPass_)
            firstPass_ = time;
    }
}

// Whether something is being handled that no loop of its own stands between.
bool TraceModel::insideDispatch(const Thread &t) const
{
    for (auto it = t.open.rbegin(); it != t.open.rend(); ++it) {
        const SpanKind kind = it->kind;
        if (kind == SpanKind::Loop)
            return false;
        if (kind == SpanKind::Dispatch || kind == SpanKind::Call || kind == SpanKind::Signal)
            return true;
    }
    return false;
}

void TraceModel::keepStretch(Thread &t, std::int64_t time, bool reentry)
{
    if (!t.lastServed || time - t.lastServed < shortestStretch)
        return;
    publish(t); // what it points to
    stretches_.add({t.lastServed, time, t.index, t.servedRow, t.servedAround, reentry});
}

void TraceModel::awake(Thread &t, std::int64_t time)
{
    t.woke = t.lastServed = time;
    t.shared.unservedSince = time;
    t.servedRow = t.rows.written();
    t.servedAround = t.top();
    if (t.loops || t.forced) // what follows a poll outside of every loop may be the shutdown
        t.shared.busySince = time;
}

void TraceModel::begin(Thread &t, const Record &s)
{
    const auto time = std::int64_t(s.time);
    popTo(t, s.depth, time);
    const Kind kind = Kind(s.kind);
    if (kind == Kind::LoopBegin || kind == Kind::ProcessEventsBegin) {
        const bool loop = kind == Kind::LoopBegin;
        const SpanKind spanKind = loop ? SpanKind::Loop : SpanKind::ForcedPass;
        if (loop)
            begun_.erase({s.words[0], link::Tie::LoopEnd}); // of another loop at that address
        if (!t.push(t.rows.open(spanKind, time, loop ? t.objects.find(s.words[0]) : 0, 0), s.depth, spanKind))
            return;
        ++(loop ? t.loops : t.forced);
        if (loop && t.loops == 1) {
            keepStretch(t, time, false); // since another loop ended, or a pass was forced
            awake(t, time);
        } else
            t.woke = time;
        return;
    }
    openTurn(t, time);
    const std::uint32_t object = t.objects.find(s.words[0]);
    if (kind == Kind::DispatchBegin)
        beginDispatch(t, s, object);
    else if (kind == Kind::SignalBegin) {
        if (t.push(t.rows.open(SpanKind::Signal, time, object, names_.signalIndex(s.words[1])), s.depth,
                   SpanKind::Signal) &&
            objectsStarted_)
            addStarted(t, s.words[0], t.open.back().row);
    } else
        t.push(t.rows.open(SpanKind::Call, time, object, names_.linkIndex(s)), s.depth, SpanKind::Call);
}

void TraceModel::beginDispatch(Thread &t, const Record &s, std::uint32_t object)
{
    const auto time = std::int64_t(s.time);
    const std::uint32_t type = s.value & 0xffff;
    Posting posting;
    SpanId thread;
    bool posted = false;
    if (isInputEvent(int(type))) // others carry the stamp of the input that led to them
        posting.time = std::int64_t(s.words[2]);
    if (const auto it = posted_.find(s.words[1]);
        it != posted_.end() && it->second.generation == link::generationOf(s)) {
        posting = {it->second.time, it->second.cause};
        thread = it->second.thread;
        posted = true;
        posted_.erase(it);
        if (posting.cause && posting.cause.thread() != t.index)
            publishOther(posting.cause.thread());
    }
    std::uint16_t flags = s.value & link::FromWindowSystem ? FromWindow : 0;
    if (s.value & link::SlotUnknown) {
        flags |= SlotIsUnknown;
        ++unknownDeliveries_;
    }
    // In a loop that is not the toolkit's own, a dispatch is all that is known to be work.
    if (!t.loops && !t.forced && t.open.empty() && t.lastServed)
        t.shared.busySince = t.lastServed;
    t.push(posting.time || posting.cause ? t.rows.open(time, object, type, flags, posting)
                                         : t.rows.open(SpanKind::Dispatch, time, object, type, flags),
           s.depth, SpanKind::Dispatch);
    if (t.rows.full())
        return;
    const std::uint32_t row = t.open.back().row;
    if (thread)
        addCause(t, row, {thread, CauseKind::Thread});
    if (posted)
        addCompressed(t, s, row, posting.cause);
}

namespace
{

// What the end of a dispatch says of its way.
std::uint16_t endOf(std::uint32_t value)
{
    std::uint16_t flags = value & 1 ? Handled : 0;
    if (!(value & link::WayKnown))
        return flags;
    return flags | WayIsKnown | (value & link::OneReceiver ? OneGotIt : 0) |
           (value & link::EventAccepted ? Accepted : 0);
}

} // namespace

void TraceModel::end(Thread &t, const Record &s)
{
    const auto time = std::int64_t(s.time);
    popTo(t, std::uint16_t(s.depth + 1), time);
    if (!t.open.empty() && t.open.back().turn() && t.open.back().depth > s.depth)
        closeTop(t, time, 0);
    if (t.open.empty() || t.open.back().turn() || t.open.back().depth != s.depth)
        return; // its begin was lost
    const Kind kind = Kind(s.kind);
    const std::uint16_t flags = kind == Kind::DispatchEnd                ? endOf(s.value)
                                : kind == Kind::CallEnd && (s.value & 1) ? std::uint16_t(ByException)
                                                                         : std::uint16_t(0);
    const SpanKind what = t.open.back().kind;
    closeTop(t, time, flags);
    if (what == SpanKind::Loop && t.loops == 0) {
        served(t, time, true); // what quit the loop was its last work
        t.lastServed = time;
        t.servedRow = t.rows.written();
        t.servedAround = t.top();
    }
    // Outside of every loop what lies open may be the shutdown: only a later pass makes a stretch of it.
    if (t.open.empty() && !t.loops && !t.forced)
        t.shared.busySince = 0;
}

void TraceModel::learn(Thread &t, const Record &s, const char *text, std::size_t bytes)
{
    switch (Kind(s.kind)) {
    case Kind::ThreadName:
        t.shared.name = names_.intern(QString::fromUtf8(text, qsizetype(bytes)));
        break;
    case Kind::ThreadRole: // older recordings do not say: there it was the process's first thread
        t.shared.main = s.value == 1;
        if (t.shared.main) // starts up until its loop looks for work
            t.shared.unservedSince = std::int64_t(s.time);
        nameThread(t.shared);
        break;
    default:
        names_.learn(t.objects, s, text, bytes);
    }
}

void TraceModel::record(int stream, const Record &told, const char *text, std::size_t bytes)
{
    if (std::size_t(stream) >= threadStates_.size() || !threadStates_[std::size_t(stream)])
        return;
    Thread &t = *threadStates_[std::size_t(stream)];
    Record other;
    const Record &s = t.salt ? other = ofProcess(told, t.salt) : told;
    const auto time = std::int64_t(s.time);
    if (!first_.load(std::memory_order_relaxed))
        first_ = time;
    if (t.rows.full()) {
        ++lost_; // there is no memory for more; the recording on disk goes on
        return;
    }
    switch (Kind(s.kind)) {
    case Kind::WaitBegin:
        served(t, time, s.value != 0);
        t.lastServed = 0; // waiting is no work
        t.woke = 0;
        t.shared.unservedSince = 0;
        t.shared.busySince = 0;
        break;
    case Kind::WaitEnd:
        awake(t, time);
        break;
    case Kind::FullPoll:
        served(t, time, false);
        awake(t, time);
        break;
    case Kind::Post:
        takePost(t, s);
        break;
    case Kind::Began:
        takeBegan(t, s);
        break;
    case Kind::CameOf:
        takeCause(t, s);
        break;
    case Kind::Hop:
        takeHop(t, s);
        break;
    case Kind::Input:
        takeInput(t, s);
        break;
    case Kind::Fact:
        takeFact(t, s, text, bytes);
        break;
    case Kind::Lost:
        lost_ += s.words[0] - t.lost; // told as a sum
        t.lost = s.words[0];
        cutByLoss(t, time);
        break;
    case Kind::Message:
        openTurn(t, time);
        t.rows.open(SpanKind::Message, time, s.value,
                    names_.addMessage(QString::fromUtf8(text, qsizetype(bytes))));
        if (!t.rows.full())
            t.rows.close(time);
        break;
    default:
        if (link::opens(Kind(s.kind)))
            begin(t, s);
        else if (link::closes(Kind(s.kind)))
            end(t, s);
        else
            learn(t, s, text, bytes);
    }
    constexpr std::uint32_t atOnce = 64;
    if (t.rows.written() - t.published >= atOnce)
        publish(t);
    else if (!t.waiting && t.rows.written() != t.published) {
        t.waiting = true;
        unpublished_.push_back(t.index);
    }
}

void TraceModel::streamEnded(int stream)
{
    const auto i = std::size_t(stream);
    if (i >= threadStates_.size() || !threadStates_[i])
        return;
    Thread &t = *threadStates_[i];
    publish(t);
    if (!t.open.empty())
        return; // what it did not finish lasted until the program's end
    t.shared.busySince = 0;
    if (!t.shared.main) // of that the shutdown is known by it
        t.shared.unservedSince = 0;
    states_[t.index] = nullptr;
    threadStates_[i].reset();
}

// A row that another thread's points to is shown first.
void TraceModel::publishOther(std::uint16_t thread)
{
    if (Thread *t = states_[thread])
        publish(*t);
}

void TraceModel::caughtUp(std::int64_t time)
{
    for (const std::uint16_t thread : unpublished_)
        if (Thread *t = states_[thread]) {
            t->waiting = false;
            publish(*t);
        }
    unpublished_.clear();
    now_.store(time, std::memory_order_release);
    constexpr std::int64_t restEvery = 2'000'000'000;
    if (time - restedAt_ > restEvery) { // readers may have used what lies far back
        restedAt_ = time;
        memory_.rest();
    }
}

ThreadInfo TraceModel::thread(std::uint16_t i) const
{
    if (i >= threadCount())
        return {};
    const Shared &s = *threads_[i];
    return {s.pid, s.tid, s.main, names_.text(s.name)};
}

QList<ThreadInfo> TraceModel::threads() const
{
    QList<ThreadInfo> all;
    all.reserve(threadCount());
    for (std::uint16_t i = 0; i < threadCount(); ++i)
        all.append(thread(i));
    return all;
}

std::int64_t TraceModel::busySinceMain() const
{
    for (std::uint16_t i = 0; i < threadCount(); ++i)
        if (isMain(i) && busySince(i))
            return busySince(i);
    return 0;
}

bool TraceModel::mainWaits() const
{
    for (std::uint16_t i = 0; i < threadCount(); ++i)
        if (isMain(i) && unservedSince(i))
            return false;
    return true;
}

} // namespace pipit
