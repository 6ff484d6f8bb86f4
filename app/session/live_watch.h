// Watches a run from its own thread and hands the event loop what to show: counts and worst durations by
// connection and handler, the pace of the last minute, the stall that lasts now.
//
// Threads: made, destroyed and asked on the loop. A thread of its own reads the trace (naming a
// handler may read debug information) and posts a fresh LiveFigures at most 30 times a second, and
// only when something changed.
#pragma once

#include "core/pace/stalls.h"
#include "core/runs/live_run.h"

#include <QHash>
#include <QObject>

#include <condition_variable>
#include <thread>

namespace pipit::app
{

struct CallFigures {
    int count = 0;
    std::int64_t worst = 0;
    std::int64_t worstOnLoop = 0; // of the main thread: what it is judged by
    std::int64_t lastStart = 0;
    bool running = false;
    bool operator==(const CallFigures &) const = default;
};

struct LiveFigures {
    QHash<QString, CallFigures> connections; // by id
    QHash<QString, CallFigures> handlers;    // by function's name
    static constexpr int ribbonSlots = 240;
    static constexpr std::int64_t ribbonStep = 250'000'000;
    // Where a quarter second stands in the ring; times before the clock began are negative.
    static std::size_t ribbonSlot(std::int64_t quarter)
    {
        return std::size_t((quarter % ribbonSlots + ribbonSlots) % ribbonSlots);
    }
    std::vector<std::int64_t> ribbon; // longest turn in each quarter second, the newest last
    std::vector<Stall> stalls;        // over the budget, oldest first
    std::optional<Stall> open;        // the stall that lasts now
    std::optional<Stall> startUp;     // if it was as long
    std::vector<Stall> busy;          // what worker threads were busy with as long
    std::vector<CallRow> lastCalls;   // the newest last, at most 200
    std::uint64_t spans = 0;
    std::int64_t now = 0, first = 0;
};

class LiveWatch : public QObject
{
    Q_OBJECT
public:
    explicit LiveWatch(std::shared_ptr<LiveRun> run);
    ~LiveWatch() override;

Q_SIGNALS:
    void figures(const pipit::app::LiveFigures &figures);

private:
    void loop();
    void gather();
    void takeTurn(const Span &turn);
    void takeCall(const Span &call, bool fresh);
    void tellCall(CallRow &row, const Span &call) const;
    void keepLast();

    std::shared_ptr<LiveRun> run_; // constant after construction
    // Watch thread only.
    LiveFigures f_;
    StallLog stalls_;
    std::vector<std::uint32_t> next_; // by thread: the first row that was not looked at
    std::vector<SpanId> openSpans_;   // calls and turns that had not ended
    bool startUpKnown_ = false;
    std::int64_t wipedTo_ = 0; // slots of the ribbon up to this one are current

    std::mutex mutex_; // guards stop_
    std::condition_variable wake_;
    bool stop_ = false;
    std::thread thread_; // last: it uses all of the above
};

} // namespace pipit::app
