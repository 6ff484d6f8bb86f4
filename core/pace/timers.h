// What timers promised and what they kept: for each, its interval, how far its ticks were from it, what they
// cost, how many of them changed nothing that is seen, and how late a poll learns of what it polls for.
//
// A tick is a timer event that was delivered. The interval is what the program said when it started the
// timer, or what the timer was seen to have; of an object that has timers of its own (QObject::startTimer) it
// is not known. Gaps in which a timer was stopped, or started anew, are no intervals, and of one whose
// interval was changed only those since then count. A coarse timer may be off by 5 % by itself
// (Qt::CoarseTimer), which is not the program's doing.
//
// Threads: any; reads the published part of a trace. Times are nanoseconds.
#pragma once

#include "core/pace/compare.h"

namespace pipit
{

struct TimerRow {
    std::uint32_t object = 0; // index
    QString name, className;  // "gateTimer", "QTimer"
    std::uint16_t thread = 0;
    std::int64_t promised = 0; // 0: not known
    bool known = false;        // it is a QTimer, with one interval
    bool shots = false;   // single shots, of one object or of many: what lies between them is no interval
    bool toolkit = false; // all objects of the toolkit's own that have timers, as one row
    int objects = 1;      // that it stands for
    int ticks = 0;
    int idle = 0; // ticks in which nothing was set, emitted (but its own signal) or posted
    // That woke the loop for nothing else: each is a wake-up of the processor. What the tick itself posted is
    // no company, nor are the signals by which the dispatcher says that it wakes and sleeps.
    int alone = 0;
    Spread intervals;             // between ticks
    std::int64_t work = 0;        // in all ticks together
    std::int64_t over = 0;        // from the first tick to the last
    std::vector<std::int64_t> at; // when each tick came

    // Wake-ups in a second, and the part of one processor that the ticks take.
    [[nodiscard]] double perSecond() const { return over > 0 ? double(ticks - 1) / double(over) * 1e9 : 0; }
    [[nodiscard]] double load() const { return over > 0 ? double(work) / double(over) : 0; }
    // Most and median of how much longer than promised an interval was; 0 where that is not known.
    [[nodiscard]] std::int64_t late(double part) const;
    // "gateTimer: promised every 250 ms, kept 250 ms (241 to 612), …"
    [[nodiscard]] QString sentence() const;
};

// Those that ticked; QTimers first, then objects that have timers of their own, the most ticks first. What
// QTimer::singleShot() makes is an object for each shot, at addresses that come again: on each thread all of
// them are one row. The toolkit's own objects are one row, the last.
[[nodiscard]] std::vector<TimerRow> timersOf(const TraceModel &trace, TimeRange range = {});

// How long after a change a poll notices it, if changes come at any moment: predicted from the intervals that
// were kept. The mean is the mean residual life, E[I²] / 2 E[I] (Cox, Renewal Theory, 1962, 5.2); the longest
// is the longest interval.
struct PollDelay {
    std::int64_t shortest = 0, mean = 0, longest = 0;
    bool known = false;
};
[[nodiscard]] PollDelay predictedDelay(const Spread &intervals);
// The same of moments that are known: from each to the next tick.
[[nodiscard]] PollDelay measuredDelay(const std::vector<std::int64_t> &changes,
                                      const std::vector<std::int64_t> &ticks);

// What another interval would give and cost, by the same formula: what one tick costs stays, and what the
// loop added to intervals stays.
struct OtherInterval {
    std::int64_t interval = 0;
    PollDelay delay;
    double perSecond = 0, load = 0;
};
[[nodiscard]] OtherInterval otherInterval(const TimerRow &timer, std::int64_t interval);

} // namespace pipit
