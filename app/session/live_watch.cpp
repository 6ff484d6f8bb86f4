#include "app/session/live_watch.h"

#include <algorithm>

namespace pipit::app
{

using namespace std::chrono_literals;

LiveWatch::LiveWatch(std::shared_ptr<LiveRun> run) : run_(std::move(run))
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
    std::uint32_t told = 0;
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

void LiveWatch::gather()
{
    const TraceModel &trace = run_->trace();
    const std::uint32_t count = trace.spanCount();
    f_.now = trace.now();
    f_.first = trace.firstTime();
    if (f_.now <= 0)
        return; // the program has said nothing yet
    const std::int64_t slot = f_.now / LiveFigures::ribbonStep;
    std::vector<std::uint32_t> still;
    const auto threads = trace.threads();
    const auto onMain = [&threads](std::uint16_t thread) { return threads.value(thread).main; };
    const auto take = [&](std::uint32_t i, bool fresh) {
        const Span &s = trace.span(i);
        const bool open = s.open();
        if (open)
            still.push_back(i);
        const std::int64_t duration = s.judged() ? s.duration(f_.now) : 0;
        if (s.kind == SpanKind::Turn && onMain(s.thread)) {
            const std::int64_t end = open ? f_.now : s.end.load();
            for (std::int64_t k = s.start / LiveFigures::ribbonStep; k <= end / LiveFigures::ribbonStep;
                 ++k) {
                auto &cell = f_.ribbon[LiveFigures::ribbonSlot(k)];
                cell = std::max(cell, duration);
            }
        } else if (s.kind == SpanKind::Call) {
            const HandlerName h = run_->handlers().of(s.what);
            if (h.helper)
                return;
            const auto add = [&](CallFigures &c) {
                c.count += fresh;
                c.worst = std::max(c.worst, duration);
                if (onMain(s.thread))
                    c.worstOnLoop = std::max(c.worstOnLoop, duration);
                c.running = open;
                c.lastStart = s.start;
            };
            if (!h.connection.isEmpty())
                add(f_.connections[h.connection]);
            add(f_.handlers[h.name]);
        }
    };
    // The ribbon is a ring by time: what fell out of the last minute is wiped before it is used again.
    if (wipedTo_ == 0 || slot - wipedTo_ > LiveFigures::ribbonSlots)
        wipedTo_ = slot - LiveFigures::ribbonSlots;
    for (; wipedTo_ < slot; ++wipedTo_)
        f_.ribbon[LiveFigures::ribbonSlot(wipedTo_ + 1)] = 0;
    for (const std::uint32_t i : std::exchange(openSpans_, {}))
        take(i, false);
    for (; next_ < count; ++next_)
        take(next_, true);
    openSpans_ = std::move(still);
    f_.spans = count;
    gatherStalls();
}

void LiveWatch::gatherStalls()
{
    const TraceModel &trace = run_->trace();
    f_.open = openStall(trace, run_->handlers(), stallBudget);
    const auto stretches = trace.stretches();
    if (stretches.size() != stretchesSeen_) {
        stretchesSeen_ = stretches.size();
        f_.stalls = stallsOf(trace, run_->handlers(), stallBudget);
        if (!f_.stalls.empty() && f_.stalls.back().open)
            f_.stalls.pop_back(); // told apart, while it lasts
        f_.busy = busyWorkersOf(trace, run_->handlers(), stallBudget);
    }
    const std::size_t keep = 200;
    const std::uint32_t from = f_.spans > 20'000 ? f_.spans - 20'000 : 0;
    f_.lastCalls.clear();
    for (std::uint32_t i = f_.spans; i > from && f_.lastCalls.size() < keep; --i) {
        const Span &s = trace.span(i - 1);
        if (!isCall(trace, run_->handlers(), i - 1))
            continue;
        CallRow row;
        row.span = i - 1;
        row.start = s.start;
        row.duration = s.duration(f_.now);
        row.open = s.open();
        row.judged = s.judged();
        row.thread = s.thread;
        row.handler = run_->handlers().of(s.what);
        row.source = row.handler.source;
        row.signal = row.handler.signal;
        f_.lastCalls.push_back(row);
    }
    std::reverse(f_.lastCalls.begin(), f_.lastCalls.end());
}

} // namespace pipit::app
