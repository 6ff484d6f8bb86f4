// What is connected to what in a running program, or was: all connections that the program made, with the
// place of each connect, and those that failed.
//
// Threads: reads debug information: off the event loop.
#pragma once

#include "core/why/scene.h"

namespace pipit
{

struct WiringRow {
    std::int64_t time = 0;
    QString source, sourceClass, signal;      // "boardButton", "QPushButton", "clicked(bool)"
    QString receiver, receiverClass, handler; // empty handler: not known
    QString type;                             // "auto", "direct", "queued", "blocking"
    QString file;                             // of the connect
    int line = 0;
    QString handlerFile; // where the handler stands
    int handlerLine = 0;
    bool failed = false, gone = false; // gone: disconnected, or an end of it deleted
    QString reason;                    // of a failure
    std::uint64_t sender = 0;          // address
    std::uint64_t serial = 0;          // of its link; 0: bound by name
};

// As it was then, in the order in which it was connected; what failed as well.
std::vector<WiringRow> wiringOf(const TraceModel &trace, Handlers &handlers, const Scene &scene,
                                std::int64_t time = INT64_MAX);

} // namespace pipit
