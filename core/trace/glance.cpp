#include "core/trace/glance.h"

#include <algorithm>

namespace pipit
{

namespace
{

constexpr std::uint32_t cell = 256; // what the store's coarse cells hold

std::int64_t longestExactly(const ThreadRows &rows, std::uint32_t from, std::uint32_t to, std::int64_t now)
{
    std::int64_t longest = 0;
    for (std::uint32_t row = from; row < to; ++row)
        if (rows.kind(row) == SpanKind::Turn)
            if (const Span s = rows.at(row); s.judged())
                longest = std::max(longest, s.duration(now));
    return longest;
}

// Whole cells by what is known of them, what is left at both ends row by row.
std::int64_t longestIn(const ThreadRows &rows, std::uint32_t from, std::uint32_t to, std::int64_t now)
{
    const std::uint32_t first = (from + cell - 1) / cell * cell, last = to / cell * cell;
    if (first >= last)
        return longestExactly(rows, from, to, now);
    return std::max({longestExactly(rows, from, first, now), longestExactly(rows, last, to, now),
                     rows.turns(first, last).longest});
}

} // namespace

Glance glanceOf(const TraceModel &trace, int pieces)
{
    Glance g;
    g.from = trace.firstTime();
    g.to = std::max(g.from + 1, trace.now());
    g.longest.resize(std::size_t(std::max(1, pieces)), 0);
    const std::int64_t all = g.to - g.from;
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        if (!trace.isMain(t))
            continue;
        const ThreadRows &rows = trace.rows(t);
        std::uint32_t from = 0;
        for (std::size_t i = 0; i < g.longest.size(); ++i) {
            const bool last = i + 1 == g.longest.size();
            const auto end = g.from + std::int64_t(double(all) * double(i + 1) / double(g.longest.size()));
            const std::uint32_t to = last ? rows.count() : rows.firstFrom(end);
            if (to > from)
                g.longest[i] = std::max(g.longest[i], longestIn(rows, from, to, g.to));
            from = std::max(from, to);
        }
    }
    return g;
}

} // namespace pipit
