// What really happened, as spans of time: turns of the loop, dispatches, signals, calls.
//
// Times are CLOCK_MONOTONIC nanoseconds. The spans of a thread are its rows, numbered from 0 in the
// order in which they began; a parent comes before its children, and all that lies in a span
// follows it without a gap. A span is addressed by its thread and its row.
//
// Threads: any; values.
#pragma once

#include <compare>
#include <cstdint>
#include <functional>

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

enum SpanFlag : std::uint16_t {
    FromWindow = 1,     // the event came from the window system
    Handled = 2,        // notify() said true
    ByException = 4,    // left by an exception
    CutShort = 8,       // its end was not recorded
    Forced = 16,        // a turn that processEvents() asked for
    SlotIsUnknown = 32, // the event calls a slot, and which is not known
    BesideLoss = 64,    // records were lost in it: neither its end nor what was in it is known
    WasPosted = 128,    // when it was queued or the input happened is known, perhaps by whom too
    WayIsKnown = 256,   // what filters and receivers did with the event
    OneGotIt = 512,     // it was offered to its own receiver and to no other
    Accepted = 1024,    // by that one
    HasHops = 2048,     // there were filters, or more receivers: see ThreadRows::hops
};

// A thread's row, or none.
class SpanId
{
public:
    constexpr SpanId() = default;
    constexpr SpanId(std::uint16_t thread, std::uint32_t row)
        : number_((std::uint64_t(thread) << 32 | row) + 1)
    {
    }
    constexpr explicit operator bool() const { return number_ != 0; }
    constexpr std::uint16_t thread() const { return std::uint16_t((number_ - 1) >> 32); }
    constexpr std::uint32_t row() const { return std::uint32_t(number_ - 1); }
    // 0 for none; what recordings' answers call its id.
    constexpr std::uint64_t number() const { return number_; }
    constexpr auto operator<=>(const SpanId &) const = default;

private:
    std::uint64_t number_ = 0;
};

// One span, as it is read: a value.
struct Span {
    SpanId id, parent;
    std::int64_t start = 0;
    std::int64_t end = -1;    // -1: still open
    std::uint32_t object = 0; // index of the receiver, sender or loop
    std::uint32_t what = 0;   // by kind
    std::uint16_t thread = 0;
    SpanKind kind = SpanKind::Turn;
    std::uint16_t flags = 0;

    // Whether how long it took is known.
    bool judged() const { return !(flags & BesideLoss); }
    bool open() const { return end < 0; }
    std::int64_t duration(std::int64_t now) const { return (end < 0 ? now : end) - start; }
};

// When a dispatch was queued, or its input happened, and what posted it.
struct Posting {
    std::int64_t time = 0; // 0: not known
    SpanId cause;
};

// How a span led to another (link/ties.h).
enum class CauseKind : std::uint8_t {
    Posted,     // it posted the event, or one like it that was compressed into this one
    Painted,    // it marked what is painted
    Timer,      // it started the timer, which fires for the first time
    TimerAgain, // the same; the timer has fired before
    Thread,     // it started the thread
    Task,       // it gave the work to a pool
    Object,     // it started what the object stands for
    LoopEnded,  // it told the loop to end
    Aside,      // no cause, but what is said of a paint: it went elsewhere than into a window
};
struct Cause {
    SpanId span; // none: it is not known, or was no span's
    CauseKind kind = CauseKind::Posted;
    bool operator==(const Cause &) const = default;
};

// An input, as far as it is recorded; which of it counts depends on the type of the event.
struct InputInfo {
    std::int32_t key = 0;       // Qt::Key
    std::int16_t x = 0, y = 0;  // in the widget, in pixels; of a wheel, in eighths of a degree
    std::uint16_t button = 0;   // Qt::MouseButton; of a move, those that are held
    std::uint8_t modifiers = 0; // Qt::KeyboardModifiers, see link/record.h
    bool repeated = false;
    bool typed = false;      // a character, which one is not recorded
    bool byKeyboard = false; // a context menu
    bool operator==(const InputInfo &) const = default;
};

// One filter or receiver on the way of an event.
struct Hop {
    std::uint32_t object = 0; // index of it
    std::uint32_t before = 0; // of a filter: index of the receiver that it stands before
    enum Outcome : std::uint8_t { Ignored, Accepted, Passed, Kept } outcome = Ignored;
    enum Role : std::uint8_t { Receiver, Filter, ApplicationFilter, ScrollArea } role = Receiver;
    bool accepted = false;  // of a filter that kept it: as accepted, so that nobody else is asked
    bool ofToolkit = false; // a filter of a class of the toolkit's own
    bool operator==(const Hop &) const = default;
};

} // namespace pipit

template <> struct std::hash<pipit::SpanId> {
    std::size_t operator()(const pipit::SpanId &id) const noexcept
    {
        return std::hash<std::uint64_t>()(id.number() * 0x9e3779b97f4a7c15u);
    }
};
