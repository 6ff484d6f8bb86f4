// What the strands show of the calls that happen: pulses that travel from source to handler, at most
// eight at once and each under 200 ms; a steady line where they come faster than ten a second; one
// that waits at the handler while it runs.
//
// Threads: plain value. Times are CLOCK_MONOTONIC in nanoseconds, given by the caller: there is no
// clock in here.
#pragma once

#include "app/session/live_watch.h"

#include <deque>
#include <optional>

namespace pipit::app
{

class Traffic
{
public:
    static constexpr int mostPulses = 8;
    static constexpr int steadyAbove = 10;                  // calls a second
    static constexpr std::int64_t travelTime = 180'000'000; // from end to end
    static constexpr std::int64_t rateTime = 1'000'000'000; // over which the rate is computed

    // The figures by connection, as they are now. Without motion there are no pulses.
    void take(const QHash<QString, CallFigures> &connections, std::int64_t now, bool motion);
    void clear() { strands_.clear(); }

    // How far the pulse has come: 0 at the source, 1 at the handler. None: there is none.
    std::optional<double> pulse(const QString &connection, std::int64_t now) const;
    bool steady(const QString &connection, std::int64_t now) const;
    // Whether something will look different soon without new figures.
    bool moves(std::int64_t now) const;

private:
    struct Strand {
        std::deque<std::pair<std::int64_t, int>> counts; // of the last second, oldest first
        std::int64_t pulseAt = 0;                        // 0: no pulse
        bool running = false;
    };
    static bool fast(const Strand &s, std::int64_t now);
    QHash<QString, Strand> strands_;
};

} // namespace pipit::app
