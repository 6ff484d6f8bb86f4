// A recording in other formats: for other tools, and for people without Pipit.
//
// Threads: any worker's; each reads a whole recording and writes as it goes, so that memory does not grow.
// Nothing is run, nothing is fetched.
#pragma once

#include "core/base/result.h"
#include "core/runs/recording.h"

#include <QIODevice>

namespace pipit
{

// The Trace Event format (JSON): a complete event for each span, times in µs; what was posted is joined to
// its cause by a flow. An open format that several viewers read.
[[nodiscard]] Outcome exportTraceEvents(Recording &recording, QIODevice &to);
// A line for each span: id, parent, thread, kind, start_ns, duration_ns, object, class, sentence.
[[nodiscard]] Outcome exportCsv(Recording &recording, QIODevice &to);
// One file to be read in a browser: what run it was, its pace, stalls, handlers, waits, connections that
// failed.
[[nodiscard]] Outcome exportReport(Recording &recording, QIODevice &to);

// "trace-event", "csv", "html": into a file, which is there whole or not at all.
[[nodiscard]] Outcome exportTo(Recording &recording, const QString &format, const QString &path);

} // namespace pipit
