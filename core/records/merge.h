// Several streams, each in order of time, handed on in order of time: the one merge for live runs and
// for recordings.
//
// Threads: the caller's.
#pragma once

#include <algorithm>
#include <cstdint>
#include <functional>
#include <queue>
#include <utility>
#include <vector>

namespace pipit
{

// `head(i)` says when the first record of stream i was made, or null when it has none; `handOn(i)` hands
// that one on. What is later than `until` stays. Ends early once `handOn` says false.
template <class Head, class HandOn>
void mergeByTime(std::size_t streams, std::uint64_t until, Head &&head, HandOn &&handOn)
{
    using First = std::pair<std::uint64_t, std::size_t>; // time, stream
    std::priority_queue<First, std::vector<First>, std::greater<>> firsts;
    const auto push = [&](std::size_t i) {
        if (const std::uint64_t *time = head(i); time && *time <= until)
            firsts.emplace(*time, i);
    };
    for (std::size_t i = 0; i < streams; ++i)
        push(i);
    while (!firsts.empty()) {
        const std::size_t i = firsts.top().second;
        firsts.pop();
        // Most often one thread is busy: hand on its run without touching the heap.
        const std::uint64_t limit = firsts.empty() ? until : std::min(until, firsts.top().first);
        for (const std::uint64_t *time = head(i); time && *time <= limit; time = head(i))
            if (!handOn(i))
                return;
        push(i);
    }
}

} // namespace pipit
