// What really happened, as spans of time: turns of the loop, dispatches, signals, calls.
//
// Times are CLOCK_MONOTONIC nanoseconds. Spans are numbered from 0 in the order in which they
// began; a parent comes before its children. References to other spans are number + 1, so that 0
// says "none".
#pragma once

#include <atomic>
#include <cstdint>

namespace pipit
{

enum class SpanKind : std::uint8_t {
    Turn,       // one pass of the event loop, from waking to waiting again
    Dispatch,   // one event delivered; `what` is the event type
    Signal,     // one signal; `what` is the index of the signal's name
    Call,       // one run of a handler; `what` is the index of its link
    Loop,       // a loop's exec()
    ForcedPass, // processEvents()
    Message,    // a message of the program; `what` is the index of its text
};

enum SpanFlag : std::uint8_t {
    FromWindow = 1,     // the event came from the window system
    Handled = 2,        // notify() said true
    ByException = 4,    // left by an exception
    CutShort = 8,       // its end was not recorded
    Forced = 16,        // a turn that processEvents() asked for
    BesideLoss = 64,    // records were lost in it: neither its end nor what was in it is known
    SlotIsUnknown = 32, // the event calls a slot, and which is not known
};

struct Span {
    std::int64_t start = 0;
    std::atomic<std::int64_t> end{-1}; // -1: still open
    std::int64_t posted = 0;           // when it was queued or the input happened; 0 unknown
    std::uint32_t parent = 0;          // span + 1
    std::uint32_t cause = 0;           // span + 1: what posted it
    std::uint32_t object = 0;          // index of the receiver, sender or loop
    std::uint32_t what = 0;            // by kind
    std::uint32_t next = 0;            // the span + 1 after this one and all its children, on its thread
    std::uint16_t thread = 0;
    SpanKind kind = SpanKind::Turn;
    std::atomic<std::uint8_t> flags{0};

    // Whether how long it took is known.
    bool judged() const { return !(flags.load(std::memory_order_relaxed) & BesideLoss); }
    bool open() const { return end.load(std::memory_order_relaxed) < 0; }
    std::int64_t duration(std::int64_t now) const
    {
        const std::int64_t e = end.load(std::memory_order_relaxed);
        return (e < 0 ? now : e) - start;
    }
};

} // namespace pipit
