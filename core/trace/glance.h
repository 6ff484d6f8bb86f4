// A whole trace at a glance: the longest turn of the main threads in each piece of its time.
//
// Threads: any. It reads some hundred rows for each piece at most, however long the trace is; off the event
// loop all the same.
#pragma once

#include "core/trace/model.h"

#include <vector>

namespace pipit
{

struct Glance {
    std::int64_t from = 0, to = 0;
    std::vector<std::int64_t> longest; // ns, of turns that began in the piece; 0: none did
    [[nodiscard]] std::size_t pieceOf(std::int64_t time) const
    {
        const double share = to > from ? double(time - from) / double(to - from) : 0;
        const auto last = double(longest.size()) - 1;
        return longest.empty() ? 0
                               : std::size_t(std::max(0.0, std::min(last, share * double(longest.size()))));
    }
};

Glance glanceOf(const TraceModel &trace, int pieces);

} // namespace pipit
