// When a record was made: from what the processor's counter said (link/clock.h) to CLOCK_MONOTONIC.
//
// Both are read together now and then; between two such readings time is interpolated, so it never runs
// backwards, and is as exact as a reading, some tens of nanoseconds. What was made before all readings that
// are remembered is told by the pace of all of them.
//
// Threads: one at a time.
#pragma once

#include "link/clock.h"

#include <cstddef>
#include <cstdint>
#include <deque>

namespace pipit
{

// Which clock records of programs on this machine have.
[[nodiscard]] link::Clock clockOfThisMachine();

class Moments
{
public:
    explicit Moments(link::Clock clock);

    struct Reading {
        std::uint64_t counter, ns;
    };

    // Reads both. Records made after the last reading have no time yet.
    void read();
    void add(Reading reading); // one that does not go forward is left out

    // What the records' clock says now, and what it said so many nanoseconds before that.
    [[nodiscard]] std::uint64_t now() const;
    [[nodiscard]] std::uint64_t before(std::uint64_t moment, std::uint64_t ns) const;
    // In CLOCK_MONOTONIC.
    [[nodiscard]] std::uint64_t nanoseconds(std::uint64_t moment) const;

private:
    static constexpr std::size_t remembered = 1024;

    link::Clock clock_;
    std::deque<Reading> readings_;
};

} // namespace pipit
