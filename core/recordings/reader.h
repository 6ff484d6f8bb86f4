// Reads a recording back, in order of time, into a sink.
//
// Threads: any; blocking, so never on an event loop. A torn last packet is left out and told in
// `notes`; nothing in a recording is ever executed, and no byte of it is trusted.
#pragma once

#include "core/base/result.h"
#include "core/records/sink.h"

#include <QStringList>

#include <atomic>

namespace pipit
{

struct ReadReport {
    std::uint64_t records = 0;
    std::uint64_t lost = 0;
    QStringList notes;
};

// `stop`, when given, ends the reading early. The sink is told how far it has come now and then.
Result<ReadReport> readRecording(const QString &folder, RecordSink &sink,
                                 const std::atomic<bool> *stop = nullptr);

} // namespace pipit
