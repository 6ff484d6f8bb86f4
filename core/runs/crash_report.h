// What a program was doing when it was ended by a signal: which handlers ran, and what went before.
//
// Threads: any, once the run is over; naming handlers may read debug information.
#pragma once

#include "core/trace/queries.h"

#include <QStringList>

namespace pipit
{

struct CrashReport {
    QString running;        // "B::boom had run for 702 ms (boom.cpp:3)", or that none did
    QStringList dispatches; // the last ones on any thread, the oldest first
    QString text(const QString &ending) const;
    static constexpr int mostDispatches = 100;
};

CrashReport crashReport(const TraceModel &trace, Handlers &handlers);

} // namespace pipit
