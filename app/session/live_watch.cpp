#include "app/session/live_watch.h"

#include <algorithm>

namespace pipit::app
{

using namespace std::chrono_literals;

LiveWatch::LiveWatch(std::shared_ptr<LiveRun> run)
    : run_(std::move(run)), stalls_(run_->trace(), run_->handlers(), stallBudget)
{
    f_.ribbon.assign(LiveFigures::ribbonSlots, 0);
    thread_ = std::thread([this] { loop(); });
}

LiveWatch::~LiveWatch()
{
    {
        std::lock_guard lock(mutex_);
        stop_ = true;
    }
    wake_.notify_all();
    thread_.join();
}

void LiveWatch::loop()
{
    std::uint64_t told = 0;
    bool toldOpen = false, ended = false;
    for (;;) {
        {
            std::unique_lock lock(mutex_);
            if (wake_.wait_for(lock, 33ms, [this] { return stop_; }))
                return;
        }
        const bool over = !run_->program().running();
        gather();
        const bool moved = f_.spans != told || f_.open || toldOpen || over != ended;
        if (!moved)
            continue;
        told = f_.spans;
        toldOpen = f_.open.has_value();
        ended = over;
        const LiveFigures copy = f_;
        QMetaObject::invokeMethod(
            this, [this, copy] { Q_EMIT figures(copy); }, Qt::QueuedConnection);
    }
}

void LiveWatch::takeTurn(const Span &s)
{
    if (!run_->trace().isMain(s.thread))
        return;
    const std::int64_t end = s.open() ? f_.now : s.end, duration = s.judged() ? s.duration(f_.now) : 0;
    const std::int64_t oldest = end / LiveFigures::ribbonStep - LiveFigures::ribbonSlots;
    for (std::int64_t k = std::max(s.start / LiveFigures::ribbonStep, oldest);
         k <= end / LiveFigures::ribbonStep; ++k) {
        auto &cell = f_.ribbon[LiveFigures::ribbonSlot(k)];
        cell = std::max(cell, duration);
    }
}

void LiveWatch::takeCall(const Span &s, bool fresh)
{
    const HandlerName &h = run_->handlers().of(s.what);
    if (h.helper)
        return;
    const std::int64_t duration = s.judged() ? s.duration(f_.now) : 0;
    const auto add = [&](CallFigures &c) {
        c.count += fresh;
        c.worst = std::max(c.worst, duration);
        if (run_->trace().isMain(s.thread))
            c.worstOnLoop = std::max(c.worstOnLoop, duration);
        c.running = s.open();
        c.lastStart = s.start;
    };
    if (!h.connection.isEmpty())
        add(f_.connections[h.connection]);
    add(f_.handlers[h.name]);
    if (fresh) {
        CallRow row;
        row.span = s.id;
        row.start = s.start;
        row.thread = s.thread;
        row.handler = h;
        row.source = h.source;
        row.signal = h.signal;
        f_.lastCalls.push_back(std::move(row));
        tellCall(f_.lastCalls.back(), s);
    } else if (const auto row = std::find_if(f_.lastCalls.rbegin(), f_.lastCalls.rend(),
                                             [&](const CallRow &r) { return r.span == s.id; });
               row != f_.lastCalls.rend()) {
        tellCall(*row, s);
    }
}

void LiveWatch::tellCall(CallRow &row, const Span &s) const
{
    row.duration = s.duration(f_.now);
    row.open = s.open();
    row.judged = s.judged();
}

void LiveWatch::gather()
{
    const TraceModel &trace = run_->trace();
    f_.now = trace.now();
    f_.first = trace.firstTime();
    f_.spans = trace.spanCount();
    if (f_.now <= 0)
        return; // the program has said nothing yet
    const std::int64_t slot = f_.now / LiveFigures::ribbonStep;
    // The ribbon is a ring by time: what fell out of the last minute is wiped before it is used again.
    if (wipedTo_ == 0 || slot - wipedTo_ > LiveFigures::ribbonSlots)
        wipedTo_ = slot - LiveFigures::ribbonSlots;
    for (; wipedTo_ < slot; ++wipedTo_)
        f_.ribbon[LiveFigures::ribbonSlot(wipedTo_ + 1)] = 0;
    const auto take = [&](const Span &s, bool fresh) {
        if (s.open())
            openSpans_.push_back(s.id);
        s.kind == SpanKind::Turn ? takeTurn(s) : takeCall(s, fresh);
    };
    for (const SpanId id : std::exchange(openSpans_, {}))
        take(trace.span(id), false);
    const std::size_t before = f_.lastCalls.size();
    next_.resize(trace.threadCount(), 0);
    for (std::uint16_t i = 0; i < next_.size(); ++i) {
        const ThreadRows &rows = trace.rows(i);
        for (const std::uint32_t count = rows.count(); next_[i] < count; ++next_[i])
            if (const SpanKind kind = rows.kind(next_[i]); kind == SpanKind::Turn || kind == SpanKind::Call)
                take(rows.at(next_[i]), true);
        if (f_.lastCalls.size() > 4096)
            keepLast();
    }
    if (f_.lastCalls.size() != before)
        keepLast();
    f_.open = openStall(trace, run_->handlers(), stallBudget);
    if (!startUpKnown_) {
        startUpKnown_ = trace.firstPass() != 0;
        f_.startUp = startUpOf(trace, run_->handlers(), stallBudget);
    }
    if (stalls_.update()) {
        f_.stalls = stalls_.stalls();
        f_.busy = stalls_.busy();
    }
}

void LiveWatch::keepLast()
{
    constexpr std::size_t kept = 200;
    std::stable_sort(f_.lastCalls.begin(), f_.lastCalls.end(),
                     [](const CallRow &a, const CallRow &b) { return a.start < b.start; });
    if (f_.lastCalls.size() > kept)
        f_.lastCalls.erase(f_.lastCalls.begin(), f_.lastCalls.end() - std::ptrdiff_t(kept));
}

} // namespace pipit::app
