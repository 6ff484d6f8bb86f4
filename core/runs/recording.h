// A recording as it is opened, a folder or one that was packed into a file: its trace, who its handlers are,
// and what run it was.
//
// Threads: `open` is blocking, so on a worker; afterwards as for its parts. While it is read its trace may be
// looked at by others, as that of a run may.
#pragma once

#include "core/recordings/reader.h"
#include "core/records/run_info.h"
#include "core/runs/excerpts.h"
#include "core/trace/handlers.h"

#include <functional>
#include <memory>

namespace pipit
{

struct Recording {
    std::shared_ptr<const RecordingFiles> files;
    RunInfo info;
    TraceModel trace;
    Handlers handlers{trace};
    Excerpts sources;            // that it carries along
    ReadReport report;           // once it is read
    std::int64_t recordedTo = 0; // the time of the last record, once it is read
    QStringList leftOut;         // what of its records could not be read

    using Begun = std::function<void(const std::shared_ptr<Recording> &)>;
    // Read to the end, or until `stop` says so. `begun` is called once, as soon as something of it can be
    // shown; it is not called for what is no recording.
    static Result<std::shared_ptr<Recording>>
    open(const QString &path, const std::atomic<bool> *stop = nullptr, const Begun &begun = {});
};

// What `packRecording` adds to one: the source that it names, as far as it is at hand and as it ran. Files
// that were left out, since they have changed, are told.
struct PackedExtras {
    std::vector<ExtraFile> files;
    Excerpts sources;
    QStringList leftOut;
};
PackedExtras extrasOf(Recording &recording, bool withSources);

} // namespace pipit
