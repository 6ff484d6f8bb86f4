// Stalls: the longest spans in which no loop of the main thread, at any depth, reached a wait or a full
// poll, over a budget; with who caused them and what waited meanwhile. A worker's loop that is busy does
// its work and stalls nothing: this is the one place that says so.
//
// Threads: any; reads the published part of a trace.
#pragma once

#include "core/base/duration_text.h"
#include "core/pace/blocking.h"
#include "core/pace/contributors.h"
#include "core/pace/locks.h"
#include "core/pace/unseen.h"
#include "core/trace/queries.h"

#include <chrono>

namespace pipit
{

// Over this a stretch is a stall: the one place for it. In pages and texts as `stallBudget.count()`.
inline constexpr std::chrono::milliseconds stallBudget{50};
constexpr bool overBudget(std::int64_t ns)
{
    return std::chrono::nanoseconds(ns) >= stallBudget;
}

// Where a thread was found most often while it was busy, by its stacks: in a line of the program's own.
// Without debug information in a function of a library that the program called, or in one of its own: then
// without file.
struct HotPlace {
    QString function, file;
    int line = 0;
    bool called = false; // a library's, called from the program
    int found = 0, looks = 0;
    double share = 0;                                        // of the time: see sharesOf
    bool known() const { return found > 0 && share >= 0.5; } // else it is now here, now there
    // "spin, waits.cpp:30 (4 of 5 looks)", "QImageReader::read, called from the program (4 of 5 looks)"
    QString text() const;
};

// What of a stretch was looked at, and how much of that the thread ran, or could have run but had no
// processor.
struct ProcessorTime {
    std::int64_t over = 0, ran = 0, delayed = 0;
    static constexpr std::int64_t leastOver = 10'000'000; // over less nothing is said
    bool known() const { return over >= leastOver; }
    double delayedShare() const { return known() ? double(delayed) / double(over) : 0; }
    // Others had the processors for a third of the time or more: not only the program is to blame.
    bool machineWasBusy() const { return delayedShare() >= 1.0 / 3; }
};

struct Stall {
    std::int64_t start = 0, duration = 0;
    std::uint16_t thread = 0;
    std::vector<Contributor> contributors; // the largest first; never empty
    std::vector<Unseen> unseen;            // what was set in it and never seen
    std::vector<WaitRow> waiting;          // inputs, repaints and queued calls that waited for its end
    bool reentry = false;                  // a forced pass inside a handler ended it
    bool startUp = false;                  // no stall: see startUpOf
    bool open = false;                     // it had not ended: it lasts now, or the program ended in it
    HotPlace hot;
    std::vector<HotPlace>
        places; // all lines of the program's own that it was found in, the most frequent first
    std::vector<BlockingShare> blocking; // what it did there
    ProcessorTime processor;
    std::optional<LockWait> lock; // that it waited for when it was looked at last
    QStringList story; // of one that had not ended: what its thread was last seen at, and the others
    QString worker; // the worker thread that was busy so long, which stalls nothing; empty: the main thread
    // "boardPassenger blocked the loop for 702 ms at ferry_desk.cpp:57; 2 clicks and 1 repaint waited."
    QString sentence() const;
};

// Stalls and busy workers as they end: each is described once, and what waited for it is added as it is
// dispatched.
//
// Threads: one at a time.
class StallLog
{
public:
    StallLog(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
             TimeRange range = {});
    // Looks at what came since. True if there is something new.
    bool update();
    // As far as was looked, the oldest first.
    const std::vector<Stall> &stalls() const { return stalls_; }
    const std::vector<Stall> &busy() const { return busy_; }
    // What had not ended when it was asked for: of the main thread, or of all others.
    std::vector<Stall> open(bool main) const;

private:
    bool lookForWaits();
    bool lookForUnseen();
    struct Looked {                      // at a thread
        std::uint32_t posted = 0;        // dispatches that were queued
        std::vector<std::size_t> stalls; // of its own, by where they are
    };
    const TraceModel &trace_;
    Handlers &handlers_;
    const std::chrono::milliseconds budget_;
    const TimeRange range_;
    std::vector<Stall> stalls_, busy_;
    std::uint32_t next_ = 0;             // of the stretches
    std::vector<std::size_t> unsettled_; // stalls after which something may yet be painted
    std::vector<Looked> looked_;
};

// The stacks taken in it, named: its own thread's, or those of the process's other threads.
std::vector<StackSample> stacksOf(const TraceModel &trace, Handlers &handlers, const Stall &stall,
                                  bool others = false);

// The oldest first; one that has not ended is the last.
std::vector<Stall> stallsOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget,
                            TimeRange range = {});
// What the main thread did between making its application object and the first look of its loop for events,
// or until now. It is no stall, since no window waits for it; described like one, if it took that long.
std::optional<Stall> startUpOf(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds over);
// What worker threads were busy with for as long without looking for work: no stalls, though what is queued
// for them waits.
std::vector<Stall> busyWorkersOf(const TraceModel &trace, Handlers &handlers,
                                 std::chrono::milliseconds budget, TimeRange range = {});
// The stall that the main thread is in now, if it is one already.
std::optional<Stall> openStall(const TraceModel &trace, Handlers &handlers, std::chrono::milliseconds budget);

} // namespace pipit
