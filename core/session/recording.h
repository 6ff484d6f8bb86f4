// A recording as it is opened: its trace, who its handlers are, and what run it was.
//
// Threads: `open` is blocking, so on a worker; afterwards as for its parts.
#pragma once

#include "core/formats/recording_reader.h"
#include "core/trace/handlers.h"

#include <QJsonObject>

#include <memory>

namespace pipit
{

// What run it was: pipit/info.json in the recording.
struct RunInfo {
    QString program;
    QStringList arguments;
    QString project; // its name; empty for other programs
    QString flavour; // how it was built; empty for other programs
    QString ending;  // in words
    int exitCode = -1, signal = 0;
    QString play;
    QString playFingerprint;
    bool playOk = true;
    std::int64_t playStart = 0, playEnd = 0, timeToResult = 0;
    std::int64_t started = 0;
    QStringList notes;

    QJsonObject toJson() const;
    static RunInfo fromJson(const QJsonObject &o);
};

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
