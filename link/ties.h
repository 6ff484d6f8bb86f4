// Ties: how a span led to a later one, where no event was posted for it.
//
// A Began record stands in the span that began something, and names it by a token. A CameOf record stands
// just behind the beginning of the span that came of it, with the same tie and token. A token is used again
// once what it stood for is over, so it means the last one that was begun.
#pragma once

#include <cstdint>

namespace pipit::link
{

enum class Tie : std::uint32_t {
    // It marked a widget to be painted, and the widget, or what lies where it lies, is painted. Token: the
    // number of the span on its thread.
    Painted = 0,
    // It started a timer, and the timer fires. Token: the timer's id.
    Timer = 1,
    // It started a thread. Token: a number. CameOf stands at the beginning of the thread's stream, and is of
    // all that stands in no span there.
    Thread = 2,
    // It gave work to a pool, and the work runs. Token: a number, or the address of the runnable.
    Task = 3,
    // It started what an object stands for: a process, a connection, a request, a watch, a dialog. Token: the
    // object. There is no CameOf: the object's later signals come of it.
    Object = 4,
    // It told a loop to end. Token: the loop. CameOf stands before the end of the loop.
    LoopEnd = 5,
    // Only Began: the object was deleted, and its address may be another's. Token: the object.
    ObjectGone = 7,
    // Only CameOf, without a token: a paint into something else than a window, such as grab() and render().
    PaintedAside = 6,
};

} // namespace pipit::link
