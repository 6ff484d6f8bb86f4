// A recording as it is opened: its trace, who its handlers are, and what run it was.
//
// Threads: `open` is blocking, so on a worker; afterwards as for its parts.
#pragma once

#include "core/recordings/reader.h"
#include "core/records/run_info.h"
#include "core/trace/handlers.h"

#include <memory>

namespace pipit
{

struct Recording {
    QString folder;
    RunInfo info;
    TraceModel trace;
    Handlers handlers{trace};
    ReadReport report;

    static Result<std::unique_ptr<Recording>> open(const QString &folder,
                                                   const std::atomic<bool> *stop = nullptr);
};

} // namespace pipit
