// Who took the time in a stretch: handlers, an event's own handling, or what lay between dispatches.
//
// Threads: any; reads the published part of a trace.
#pragma once

#include "core/trace/handlers.h"

namespace pipit
{

struct Contributor {
    HandlerName handler;
    std::int64_t ns = 0; // its own time within the stall, without handlers that it called
    int calls = 0;
};

// What stands for the time outside of every dispatch and call.
inline QString betweenDispatches()
{
    return QStringLiteral("work between dispatches");
}

// Who is to blame needs its share: a handler, or an event's own handling, that took a third; else handlers
// that together took two thirds; else what lay outside of every dispatch; else many events, none of them
// long. The largest first; never empty.
[[nodiscard]] std::vector<Contributor> contributors(const TraceModel &trace, Handlers &handlers,
                                                    const Stretch &stretch);

} // namespace pipit
