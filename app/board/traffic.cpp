#include "app/board/traffic.h"

#include <algorithm>

namespace pipit::app
{

bool Traffic::fast(const Strand &s, std::int64_t now)
{
    // What happened within the last second; the entry before it says from which count it began.
    const auto recent = std::find_if(s.counts.begin(), s.counts.end(),
                                     [&](const auto &c) { return c.first > now - rateTime; });
    if (recent == s.counts.end() || recent == s.counts.begin())
        return false;
    return s.counts.back().second - std::prev(recent)->second > steadyAbove;
}

void Traffic::take(const QHash<QString, CallFigures> &connections, std::int64_t now, bool motion)
{
    const auto travels = [&](const Strand &s) { return s.pulseAt && now - s.pulseAt < travelTime; };
    auto pulses = std::count_if(strands_.cbegin(), strands_.cend(), travels);
    for (auto it = connections.begin(); it != connections.end(); ++it) {
        Strand &s = strands_[it.key()];
        if (s.counts.empty())
            s.counts.emplace_back(now - rateTime, 0);
        s.running = motion && it->running;
        if (it->count <= s.counts.back().second)
            continue;
        s.counts.emplace_back(now, it->count);
        while (s.counts.size() > 2 && s.counts[1].first <= now - rateTime)
            s.counts.pop_front();
        if (!motion || travels(s) || pulses >= mostPulses || fast(s, now))
            continue;
        s.pulseAt = now;
        ++pulses;
    }
}

std::optional<double> Traffic::pulse(const QString &connection, std::int64_t now) const
{
    const auto it = strands_.constFind(connection);
    if (it == strands_.constEnd())
        return std::nullopt;
    if (it->pulseAt && now - it->pulseAt < travelTime)
        return double(now - it->pulseAt) / double(travelTime);
    return it->running ? std::optional(1.0) : std::nullopt;
}

bool Traffic::steady(const QString &connection, std::int64_t now) const
{
    const auto it = strands_.constFind(connection);
    return it != strands_.constEnd() && fast(*it, now);
}

bool Traffic::moves(std::int64_t now) const
{
    return std::any_of(strands_.cbegin(), strands_.cend(), [&](const Strand &s) {
        return (s.pulseAt && now - s.pulseAt < travelTime) || fast(s, now);
    });
}

} // namespace pipit::app
