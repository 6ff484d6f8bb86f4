// What is seen from further away: how many turns there were in a stretch of rows, and the longest, in cells
// of 256 rows and of sixteen times as many at each level above, so that any stretch is told from a few
// dozen cells.
//
// Threads: one writer; any number of readers, without locks. A cell grows until all its turns have ended.
#pragma once

#include "core/spans/append_only.h"

#include <algorithm>
#include <limits>

namespace pipit
{

struct ZoomCell {
    std::uint32_t count = 0;
    std::int64_t shortest = std::numeric_limits<std::int64_t>::max(), longest = 0; // ns
    void add(const ZoomCell &o)
    {
        count += o.count;
        shortest = std::min(shortest, o.shortest);
        longest = std::max(longest, o.longest);
    }
};

class Zoom
{
public:
    // A turn of that row took so long.
    void add(std::uint32_t row, std::int64_t duration)
    {
        std::uint32_t cell = row >> baseBits;
        for (Level &level : levels_) {
            while (level.cells.size() <= cell)
                level.cells.add({});
            Cell &c = level.cells.mutableAt(cell);
            c.shortest.store(std::min(c.shortest.load(relaxed), duration), relaxed);
            c.longest.store(std::max(c.longest.load(relaxed), duration), relaxed);
            c.count.store(c.count.load(relaxed) + 1, std::memory_order_release);
            cell >>= stepBits;
        }
    }

    // Of whole cells: a stretch is widened to the borders of those of 256 rows.
    ZoomCell of(std::uint32_t from, std::uint32_t to) const
    {
        ZoomCell sum;
        std::uint64_t a = from >> baseBits, b = (std::uint64_t(to) + (1u << baseBits) - 1) >> baseBits;
        for (std::size_t k = 0; k < levelCount && a < b; ++k) {
            const bool top = k + 1 == levelCount;
            for (; a < b && (top || a % step); ++a)
                take(k, a, sum);
            for (; a < b && b % step; --b)
                take(k, b - 1, sum);
            a >>= stepBits;
            b >>= stepBits;
        }
        return sum;
    }

private:
    static constexpr unsigned baseBits = 8, stepBits = 4, step = 1u << stepBits;
    static constexpr std::size_t levelCount = 5;
    static constexpr auto relaxed = std::memory_order_relaxed;
    struct Cell {
        std::atomic<std::int64_t> shortest{std::numeric_limits<std::int64_t>::max()}, longest{0};
        std::atomic<std::uint32_t> count{0};
        Cell() = default;
        Cell(Cell &&) noexcept {} // an empty one, to begin with
        Cell &operator=(Cell &&) noexcept { return *this; }
    };
    struct Level {
        AppendOnly<Cell> cells;
    };
    void take(std::size_t level, std::uint64_t i, ZoomCell &sum) const
    {
        const auto &cells = levels_[level].cells;
        if (i >= cells.size())
            return;
        const Cell &c = cells[std::uint32_t(i)];
        if (const std::uint32_t n = c.count.load(std::memory_order_acquire))
            sum.add({n, c.shortest.load(relaxed), c.longest.load(relaxed)});
    }
    std::array<Level, levelCount> levels_;
};

} // namespace pipit
