// What the writer of a trace knows of a thread: private to the model.
//
// Threads: the writer's.
#pragma once

#include "core/trace/model.h"

#include <vector>

namespace pipit
{

struct TraceModel::Thread {
    struct Open {
        std::uint32_t row;
        std::uint16_t depth; // the recorder's; a turn has that of what runs in it
        SpanKind kind;
        bool turn() const { return kind == SpanKind::Turn; }
    };
    explicit Thread(Shared &s, std::uint16_t i) : shared(s), rows(s.rows), index(i) {}
    Shared &shared;
    ThreadRows &rows;
    const std::uint16_t index;
    std::uint64_t salt = 0; // of its process
    std::uint64_t lost = 0; // records, from the last report
    struct OpenHop {        // of a dispatch that has not ended
        std::uint32_t row, order;
        Hop hop;
    };
    std::vector<Open> open;
    std::vector<OpenHop> hops;   // of inner dispatches after those of outer ones
    ObjectsByAddress objects;    // as last named here
    std::int64_t lastServed = 0; // 0 while no loop has begun
    std::uint32_t servedRow = 0; // what stretches begin with
    SpanId servedAround;
    std::int64_t woke = 0;
    SpanId startedBy; // what started this thread
    int loops = 0;
    int forced = 0;
    std::uint32_t published = 0;
    bool waiting = false; // to be published

    // The span that began last, if nothing was recorded since.
    bool justBegan(std::uint16_t depth) const
    {
        return !open.empty() && !open.back().turn() && open.back().depth + 1 == depth &&
               open.back().row + 1 == rows.written();
    }
    SpanId top() const { return open.empty() ? SpanId() : SpanId(index, open.back().row); }
    // What was begun last; false when there is no memory.
    bool push(std::uint32_t row, std::uint16_t depth, SpanKind kind)
    {
        if (rows.full())
            return false;
        open.push_back({row, depth, kind});
        return true;
    }
};

} // namespace pipit
