#include "core/trace/model.h"

namespace pipit
{

using link::Kind;
using link::Record;

namespace
{
constexpr std::uint8_t bits(int flags)
{
    return std::uint8_t(flags);
}

std::uint32_t generationOf(const Record &s)
{
    return s.value >> link::generationShift & link::generationMask;
}
} // namespace

namespace
{

// Addresses and serials of one process say nothing in another: those of all but the first are told apart.
Record ofProcess(Record s, std::uint64_t salt)
{
    unsigned keys = 0; // which of its words are such, by bits
    switch (Kind(s.kind)) {
    case Kind::Link:
    case Kind::LinkPlace:
    case Kind::LinkWords:
    case Kind::CallBegin:
        keys = 0b1111;
        break;
    case Kind::DispatchBegin:
    case Kind::SignalBegin:
    case Kind::Post:
        keys = 0b0011;
        break;
    case Kind::ObjectName:
    case Kind::SignalName:
    case Kind::CodePlace:
    case Kind::LoopBegin:
        keys = 0b0001;
        break;
    default:
        break;
    }
    for (unsigned i = 0; i < 4; ++i)
        if ((keys >> i & 1) && s.words[i])
            s.words[i] ^= salt;
    return s;
}

} // namespace

struct TraceModel::Thread {
    struct Open {
        std::uint32_t span;
        std::uint16_t depth; // the recorder's; a turn has that of what runs in it
        bool turn;
    };
    std::uint16_t index = 0;
    bool main = false;
    std::uint64_t salt = 0; // of its process
    std::uint64_t lost = 0; // records, as told last
    std::vector<Open> open;
    std::unordered_map<std::uint64_t, std::uint32_t> objects; // by address, as last named here
    std::int64_t lastServed = 0;                              // 0 while no loop has begun
    std::uint32_t servedSpan = 0, servedAround = 0;
    std::int64_t woke = 0;
    int loops = 0;
    int forced = 0;
};

TraceModel::TraceModel()
    : chunks_(std::make_unique<std::unique_ptr<Chunk>[]>(maxChunks)),
      busySince_(std::make_unique<std::atomic<std::int64_t>[]>(maxThreads)),
      unservedSince_(std::make_unique<std::atomic<std::int64_t>[]>(maxThreads))
{
    objects_.push_back({QStringLiteral("?"), {}, {}, 0});
    signals_.push_back({{}, QStringLiteral("?")});
    messages_.reserve(64);
}

TraceModel::~TraceModel() = default;

// Writer only, under the lock of the tables.
QString TraceModel::threadName(std::uint32_t pid, std::uint32_t tid, bool main) const
{
    if (!main)
        return QStringLiteral("thread %1").arg(tid);
    return pid == processes_.first() ? QStringLiteral("loop") : QStringLiteral("loop of process %1").arg(pid);
}

void TraceModel::streamOpened(int stream, const StreamInfo &info)
{
    const auto i = std::size_t(stream);
    if (i >= threadStates_.size())
        threadStates_.resize(i + 1);
    threadStates_[i] = std::make_unique<Thread>();
    std::lock_guard lock(mutex_);
    threadStates_[i]->index = std::uint16_t(threads_.size());
    threadStates_[i]->main = info.main;
    if (!processes_.contains(info.pid))
        processes_.append(info.pid);
    threadStates_[i]->salt = std::uint64_t(processes_.indexOf(info.pid)) * 0x9e3779b97f4a7c15u;
    threads_.append({info.pid, info.tid, info.main, threadName(info.pid, info.tid, info.main)});
}

std::uint32_t TraceModel::add(Thread &t, SpanKind kind, std::int64_t time)
{
    const std::uint32_t i = written_;
    const std::uint32_t chunk = i / chunkSpans;
    if (chunk >= maxChunks)
        return i; // full: callers check spaceLeft() by `written_`
    if (!chunks_[chunk])
        chunks_[chunk] = std::make_unique<Chunk>();
    ++written_;
    Span &s = mutableSpan(i);
    s.start = time;
    s.kind = kind;
    s.thread = t.index;
    s.parent = t.open.empty() ? 0 : t.open.back().span + 1;
    return i;
}

void TraceModel::closeTop(Thread &t, std::int64_t time, std::uint8_t flags)
{
    Span &s = mutableSpan(t.open.back().span);
    s.next = written_ + 1;
    s.flags.fetch_or(flags, std::memory_order_relaxed);
    s.end.store(time, std::memory_order_release);
    t.open.pop_back();
    t.loops -= s.kind == SpanKind::Loop;
    t.forced -= s.kind == SpanKind::ForcedPass;
}

// What was open when records were lost may have ended since, and another begun in its place: how long it
// took is not known, nor whether what follows stands in it. Only the outermost loop goes on for sure enough.
void TraceModel::cutByLoss(Thread &t, std::int64_t time)
{
    while (t.open.size() > 1 || (!t.open.empty() && span(t.open.front().span).kind != SpanKind::Loop))
        closeTop(t, time, CutShort | BesideLoss);
    t.lastServed = 0; // what was lost may have been a wait: this stretch is not judged
    unservedSince_[t.index] = 0;
    busySince_[t.index] = 0;
}

void TraceModel::popTo(Thread &t, std::uint16_t depth, std::int64_t time)
{
    while (!t.open.empty()) {
        const Thread::Open &top = t.open.back();
        if (top.turn ? top.depth <= depth : top.depth < depth)
            return;
        closeTop(t, time, top.turn ? 0 : CutShort);
    }
}

// A turn begins with the first thing that happens after the loop woke.
void TraceModel::openTurn(Thread &t, std::int64_t time)
{
    if (!t.loops && !t.forced)
        return;
    if (!t.open.empty()) {
        const Span &top = span(t.open.back().span);
        if (top.kind != SpanKind::Loop && top.kind != SpanKind::ForcedPass)
            return;
    }
    const std::int64_t start = t.woke ? t.woke : time;
    const std::uint16_t depth = t.open.empty() ? 0 : std::uint16_t(t.open.back().depth + 1);
    const bool forced = !t.open.empty() && span(t.open.back().span).kind == SpanKind::ForcedPass;
    const std::uint32_t i = add(t, SpanKind::Turn, start);
    if (forced)
        mutableSpan(i).flags = Forced;
    t.open.push_back({i, depth, true});
}

// The loop reached a wait or a full poll: whatever turn is running at this level is over.
void TraceModel::served(Thread &t, std::int64_t time, bool waits)
{
    if (!t.open.empty() && t.open.back().turn)
        closeTop(t, time, 0);
    keepStretch(t, time, !waits && insideDispatch(t));
    if (t.main) {
        lastPass_ = time;
        if (!firstPass_)
            firstPass_ = time;
    }
}

// Whether something is being handled that no loop of its own stands between.
bool TraceModel::insideDispatch(const Thread &t) const
{
    for (auto it = t.open.rbegin(); it != t.open.rend(); ++it) {
        const SpanKind kind = span(it->span).kind;
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
    std::lock_guard lock(mutex_);
    stretches_.push_back({t.lastServed, time, t.index, t.servedSpan, t.servedAround, reentry});
}

void TraceModel::awake(Thread &t, std::int64_t time)
{
    t.woke = t.lastServed = time;
    unservedSince_[t.index] = time;
    t.servedSpan = written_;
    t.servedAround = t.open.empty() ? 0 : t.open.back().span + 1;
    if (t.loops || t.forced) // what follows a poll outside of every loop may be the shutdown
        busySince_[t.index] = time;
}

std::uint32_t TraceModel::objectIndex(Thread &t, std::uint64_t address)
{
    const auto it = t.objects.find(address);
    return it == t.objects.end() ? 0 : it->second;
}

std::uint32_t TraceModel::linkIndex(const Record &s)
{
    const std::uint64_t serial = s.words[1];
    // A slot called by index has no connect call of its own: one row for each method.
    const std::uint64_t key = serial ? serial : s.words[2] | std::uint64_t(1) << 62;
    if (const auto it = linkCache_.find(key); it != linkCache_.end())
        return it->second;
    std::lock_guard lock(mutex_);
    if (const auto it = linkRows_.constFind(key); it != linkRows_.constEnd())
        return linkCache_[key] = *it;
    LinkRow row;
    row.kind = link::LinkKind(s.value & 0xff);
    row.codeIsFunction = s.value & link::CodeIsFunction;
    row.serial = serial;
    row.code = s.words[2];
    if (!serial)
        row.signal = signalRows_.value(s.words[2], 0) + 1;
    links_.push_back(row);
    return *linkRows_.insert(key, std::uint32_t(links_.size() - 1));
}

void TraceModel::begin(Thread &t, const Record &s)
{
    const auto time = std::int64_t(s.time);
    popTo(t, s.depth, time);
    const Kind kind = Kind(s.kind);
    if (kind == Kind::LoopBegin || kind == Kind::ProcessEventsBegin) {
        const bool loop = kind == Kind::LoopBegin;
        const std::uint32_t i = add(t, loop ? SpanKind::Loop : SpanKind::ForcedPass, time);
        mutableSpan(i).object = loop ? objectIndex(t, s.words[0]) : 0;
        t.open.push_back({i, s.depth, false});
        ++(loop ? t.loops : t.forced);
        if (loop && t.loops == 1)
            awake(t, time);
        else
            t.woke = time;
        return;
    }
    openTurn(t, time);
    const SpanKind spanKind = kind == Kind::DispatchBegin ? SpanKind::Dispatch
                              : kind == Kind::SignalBegin ? SpanKind::Signal
                                                          : SpanKind::Call;
    const std::uint32_t i = add(t, spanKind, time);
    Span &span = mutableSpan(i);
    span.object = objectIndex(t, s.words[0]);
    if (spanKind == SpanKind::Dispatch) {
        span.what = s.value & 0xffff;
        if (isInputEvent(int(span.what))) // others carry the stamp of the input that led to them
            span.posted = std::int64_t(s.words[2]);
        if (s.value & link::FromWindowSystem)
            span.flags = FromWindow;
        if (s.value & link::SlotUnknown) {
            span.flags = span.flags | SlotIsUnknown;
            ++unknownDeliveries_;
        }
        if (const auto it = posted_.find(s.words[1]);
            it != posted_.end() && it->second.generation == generationOf(s)) {
            span.posted = it->second.time;
            span.cause = it->second.cause;
            posted_.erase(it);
        }
        // In a loop that is not the tool-kit's own, a dispatch is all that is known to be work.
        if (!t.loops && !t.forced && t.open.empty() && t.lastServed)
            busySince_[t.index] = t.lastServed;
    } else if (spanKind == SpanKind::Signal) {
        const auto it = signalCache_.find(s.words[1]);
        span.what = it == signalCache_.end() ? 0 : it->second;
    } else {
        span.what = linkIndex(s);
    }
    t.open.push_back({i, s.depth, false});
}

void TraceModel::end(Thread &t, const Record &s)
{
    const auto time = std::int64_t(s.time);
    popTo(t, std::uint16_t(s.depth + 1), time);
    if (!t.open.empty() && t.open.back().turn && t.open.back().depth > s.depth)
        closeTop(t, time, 0);
    if (t.open.empty() || t.open.back().turn || t.open.back().depth != s.depth)
        return; // its begin was lost
    const Kind kind = Kind(s.kind);
    const bool flagged = s.value & 1;
    const int flags = kind == Kind::DispatchEnd && flagged ? Handled
                      : kind == Kind::CallEnd && flagged   ? ByException
                                                           : 0;
    const SpanKind what = span(t.open.back().span).kind;
    closeTop(t, time, bits(flags));
    if (what == SpanKind::Loop && t.loops == 0) {
        served(t, time, true); // what quit the loop was its last work
        t.lastServed = time;
        t.servedSpan = written_;
        t.servedAround = t.open.empty() ? 0 : t.open.back().span + 1;
    }
    // Outside of every loop what lies open may be the shutdown: only a later pass makes a stretch of it.
    if (t.open.empty() && !t.loops && !t.forced)
        busySince_[t.index] = 0;
}

void TraceModel::learn(Thread &t, const Record &s, const char *text, std::size_t bytes)
{
    const QString words = QString::fromUtf8(text, qsizetype(bytes));
    const qsizetype cut = words.indexOf('\n');
    std::lock_guard lock(mutex_);
    switch (Kind(s.kind)) {
    case Kind::ObjectName: {
        const QString key = QString::number(s.words[0], 16) + words;
        auto it = objectRows_.constFind(key);
        if (it == objectRows_.constEnd()) {
            objects_.push_back(
                {words.left(cut), words.section('\n', 1, 1), words.section('\n', 2), s.words[0]});
            it = objectRows_.insert(key, std::uint32_t(objects_.size() - 1));
        }
        t.objects[s.words[0]] = *it;
        lastNamed_[s.words[0]] = *it;
        break;
    }
    case Kind::SignalName:
        if (!signalRows_.contains(s.words[0])) {
            signals_.push_back({words.left(cut), words.mid(cut + 1)});
            signalRows_.insert(s.words[0], std::uint32_t(signals_.size() - 1));
            signalCache_[s.words[0]] = std::uint32_t(signals_.size() - 1);
        }
        break;
    case Kind::CodePlace:
        codes_.insert(s.words[0], {words, s.words[1]});
        break;
    case Kind::LinkPlace:
        linkPlaces_[s.words[0]].place = s.words[1];
        linkPlaces_[s.words[0]].outerPlace = s.words[2];
        linkPlaces_[s.words[0]].outermostPlace = s.words[3];
        break;
    case Kind::LinkWords:
        linkPlaces_[s.words[0]].first = s.words[1];
        linkPlaces_[s.words[0]].second = s.words[2];
        linkPlaces_[s.words[0]].fourth = s.words[3];
        break;
    case Kind::Link:
        if (!linkRows_.contains(s.words[0])) {
            LinkRow row = linkPlaces_.take(s.words[0]);
            row.kind = link::LinkKind(s.value & 0xff);
            row.codeIsFunction = s.value & link::CodeIsFunction;
            row.serial = s.words[0];
            if (const auto sender = lastNamed_.find(s.words[1]); s.words[1] && sender != lastNamed_.end())
                row.sender = sender->second + 1;
            row.signal = s.words[2] ? signalRows_.value(s.words[2], 0) + 1 : 0;
            row.code = s.words[3];
            links_.push_back(row);
            linkRows_.insert(s.words[0], std::uint32_t(links_.size() - 1));
        }
        break;
    case Kind::ThreadName:
        threads_[t.index].name = words;
        break;
    case Kind::ThreadRole: // older recordings do not say: there it was the process's first thread
        t.main = threads_[t.index].main = s.value == 1;
        threads_[t.index].name = threadName(threads_[t.index].pid, threads_[t.index].tid, t.main);
        break;
    default:
        break;
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
    if (written_ >= std::uint32_t(chunkSpans) * maxChunks - 8) {
        ++lost_; // the trace is full; the recording on disk goes on
        return;
    }
    switch (Kind(s.kind)) {
    case Kind::WaitBegin:
        served(t, time, s.value != 0);
        t.lastServed = 0; // waiting is no work
        t.woke = 0;
        unservedSince_[t.index] = 0;
        busySince_[t.index] = 0;
        break;
    case Kind::WaitEnd:
        awake(t, time);
        break;
    case Kind::FullPoll:
        served(t, time, false);
        awake(t, time);
        break;
    case Kind::Post:
        posted_[s.words[0]] = {time, t.open.empty() ? 0 : t.open.back().span + 1, generationOf(s)};
        break;
    case Kind::Lost:
        lost_ += s.words[0] - t.lost; // told as a sum
        t.lost = s.words[0];
        cutByLoss(t, time);
        break;
    case Kind::Message: {
        openTurn(t, time);
        const std::uint32_t i = add(t, SpanKind::Message, time);
        mutableSpan(i).end = time;
        mutableSpan(i).next = i + 2;
        std::lock_guard lock(mutex_);
        mutableSpan(i).what = std::uint32_t(messages_.size());
        mutableSpan(i).object = s.value;
        messages_.push_back(QString::fromUtf8(text, qsizetype(bytes)));
        break;
    }
    default:
        if (link::opens(Kind(s.kind)))
            begin(t, s);
        else if (link::closes(Kind(s.kind)))
            end(t, s);
        else
            learn(t, s, text, bytes);
    }
    if ((written_ & 63) == 0)
        publish();
}

void TraceModel::streamEnded(int stream)
{
    const auto i = std::size_t(stream);
    if (i >= threadStates_.size() || !threadStates_[i] || !threadStates_[i]->open.empty())
        return; // what it did not finish lasted until the program's end
    busySince_[threadStates_[i]->index] = 0;
    if (!threadStates_[i]->main) // of that the shutdown is known by it
        unservedSince_[threadStates_[i]->index] = 0;
    threadStates_[i].reset();
}

void TraceModel::caughtUp(std::int64_t time)
{
    publish();
    now_ = time;
}

ObjectInfo TraceModel::object(std::uint32_t i) const
{
    std::lock_guard lock(mutex_);
    return i < objects_.size() ? objects_[i] : objects_[0];
}

SignalInfo TraceModel::signal(std::uint32_t i) const
{
    std::lock_guard lock(mutex_);
    return i < signals_.size() ? signals_[i] : signals_[0];
}

LinkRow TraceModel::link(std::uint32_t i) const
{
    std::lock_guard lock(mutex_);
    return i < links_.size() ? links_[i] : LinkRow{};
}

std::uint32_t TraceModel::linkCount() const
{
    std::lock_guard lock(mutex_);
    return std::uint32_t(links_.size());
}

CodeInfo TraceModel::code(std::uint64_t address) const
{
    std::lock_guard lock(mutex_);
    return codes_.value(address);
}

QString TraceModel::message(std::uint32_t i) const
{
    std::lock_guard lock(mutex_);
    return i < messages_.size() ? messages_[i] : QString();
}

QList<ThreadInfo> TraceModel::threads() const
{
    std::lock_guard lock(mutex_);
    return threads_;
}

std::int64_t TraceModel::busySinceMain() const
{
    std::lock_guard lock(mutex_);
    for (qsizetype i = 0; i < threads_.size(); ++i)
        if (threads_[i].main && busySince_[std::size_t(i)])
            return busySince_[std::size_t(i)];
    return 0;
}

bool TraceModel::mainWaits() const
{
    std::lock_guard lock(mutex_);
    for (qsizetype i = 0; i < threads_.size(); ++i)
        if (threads_[i].main && unservedSince_[std::size_t(i)])
            return false;
    return true;
}

std::vector<Stretch> TraceModel::stretches() const
{
    std::lock_guard lock(mutex_);
    return stretches_;
}

} // namespace pipit
