// Reads a recording back, in order of time, into a sink.
//
// Threads: any; blocking, so never on an event loop. A torn last packet is left out and listed in
// `notes`; nothing in a recording is ever executed, and no byte of it is trusted.
#pragma once

#include "core/base/result.h"
#include "core/recordings/files.h"
#include "core/records/sink.h"

#include <QStringList>

#include <atomic>

namespace pipit
{

struct ReadReport {
    std::uint64_t records = 0;
    std::uint64_t lost = 0;
    QStringList notes;
    std::int64_t sinceEpoch = 0; // what to add to times, ns; 0: not known
};

// `stop`, when given, ends the reading early. The sink gets the progress now and then.
Result<ReadReport> readRecording(const RecordingFiles &files, RecordSink &sink,
                                 const std::atomic<bool> *stop = nullptr);
// The same of a folder, or a packed file.
Result<ReadReport> readRecording(const QString &path, RecordSink &sink,
                                 const std::atomic<bool> *stop = nullptr);

} // namespace pipit
