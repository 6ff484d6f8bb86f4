// The rows of all threads as one sequence: by when they began.
//
// Threads: any.
#pragma once

#include "core/records/merge.h"
#include "core/trace/model.h"

#include <utility>

namespace pipit
{

// Hands on the rows that began from `from` to `to`, the oldest first: `take(rows, row)`, until it says false.
template <class Take> void inOrder(const TraceModel &trace, std::int64_t from, std::int64_t to, Take &&take)
{
    struct Head {
        const ThreadRows *rows;
        std::uint32_t at, end;
        std::uint64_t start;
    };
    std::vector<Head> heads;
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i) {
        const ThreadRows &rows = trace.rows(i);
        const std::uint32_t at = from == INT64_MIN ? 0 : rows.firstFrom(from), end = rows.count();
        if (at < end)
            heads.push_back({&rows, at, end, std::uint64_t(rows.start(at))});
    }
    mergeByTime(
        heads.size(), to < 0 ? 0 : std::uint64_t(to),
        [&](std::size_t i) { return heads[i].at < heads[i].end ? &heads[i].start : nullptr; },
        [&](std::size_t i) {
            Head &h = heads[i];
            const bool on = take(*h.rows, h.at);
            if (++h.at < h.end)
                h.start = std::uint64_t(h.rows->start(h.at));
            return on;
        });
}

// The same from the newest back.
template <class Take> void newestFirst(const TraceModel &trace, Take &&take)
{
    using Last = std::pair<std::int64_t, std::pair<std::uint16_t, std::uint32_t>>;
    std::priority_queue<Last> lasts;
    const auto push = [&](std::uint16_t thread, std::uint32_t rows) {
        if (rows)
            lasts.push({trace.rows(thread).start(rows - 1), {thread, rows - 1}});
    };
    for (std::uint16_t i = 0; i < trace.threadCount(); ++i)
        push(i, trace.rows(i).count());
    while (!lasts.empty()) {
        const auto [thread, row] = lasts.top().second;
        lasts.pop();
        if (!take(trace.rows(thread), row))
            return;
        push(thread, row);
    }
}

} // namespace pipit
