#include "core/records/moments.h"

#include <QFile>

#include <algorithm>
#include <iterator>

namespace pipit
{

link::Clock clockOfThisMachine()
{
#ifdef __x86_64__
    QFile source("/sys/devices/system/clocksource/clocksource0/current_clocksource");
    if (source.open(QIODevice::ReadOnly) && source.readAll().trimmed() == "tsc")
        return link::Clock::Counter;
#endif
    return link::Clock::Monotonic;
}

Moments::Moments(link::Clock clock) : clock_(clock)
{
    read();
}

// Whoever reads may be interrupted in between: the closest of a few is taken.
void Moments::read()
{
    if (clock_ == link::Clock::Monotonic)
        return;
    Reading best{};
    std::uint64_t narrowest = UINT64_MAX;
    for (int i = 0; i < 4; ++i) {
        const std::uint64_t from = link::counterAfterwards();
        const std::uint64_t ns = link::monotonic();
        const std::uint64_t to = link::counterAfterwards();
        if (to - from < narrowest) {
            narrowest = to - from;
            best = {from + (to - from) / 2, ns};
        }
    }
    add(best);
}

void Moments::add(Reading reading)
{
    if (!readings_.empty() &&
        (reading.counter <= readings_.back().counter || reading.ns < readings_.back().ns))
        return;
    readings_.push_back(reading);
    if (readings_.size() > remembered)
        readings_.pop_front();
}

std::uint64_t Moments::now() const
{
    return clock_ == link::Clock::Counter ? link::counterAfterwards() : link::monotonic();
}

// Counts of the first per nanosecond of the second.
static double pace(const Moments::Reading &a, const Moments::Reading &b)
{
    return b.ns > a.ns ? double(b.counter - a.counter) / double(b.ns - a.ns) : 1;
}

std::uint64_t Moments::before(std::uint64_t moment, std::uint64_t ns) const
{
    if (clock_ == link::Clock::Monotonic)
        return moment - ns;
    return moment - std::uint64_t(double(ns) * pace(readings_.front(), readings_.back()));
}

std::uint64_t Moments::nanoseconds(std::uint64_t moment) const
{
    if (clock_ == link::Clock::Monotonic)
        return moment;
    const Reading &first = readings_.front(), &last = readings_.back();
    if (moment <= first.counter)
        return first.ns - std::uint64_t(double(first.counter - moment) / pace(first, last));
    if (moment >= last.counter)
        return last.ns;
    // Most often it lies between the last few.
    auto after = readings_.end() - 1;
    while ((after - 1)->counter > moment)
        --after;
    const Reading &a = *std::prev(after), &b = *after;
    return a.ns +
           std::uint64_t(double(moment - a.counter) / double(b.counter - a.counter) * double(b.ns - a.ns));
}

} // namespace pipit
