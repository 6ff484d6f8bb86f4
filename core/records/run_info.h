// Information about a run beside its records: program, ending, play.
//
// Threads: plain values.
#pragma once

#include <QJsonObject>
#include <QString>
#include <QStringList>

#include <cstdint>

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
    bool playHeld = true; // all that it expected, but for the pace
    std::int64_t playStart = 0, playEnd = 0, timeToResult = 0;
    std::int64_t processorTime = -1; // that its threads ran during the play, ns; -1: not known
    std::int64_t started = 0;
    std::int64_t firstPass = 0, lastPass = 0; // when the main loop looked for work first and last; 0: never
    std::int64_t ended = 0;                   // seen to have; 0: not known
    bool cut = false;                         // the disk took no more before it ended
    QStringList notes;

    QJsonObject toJson() const;
    static RunInfo fromJson(const QJsonObject &o);
};

} // namespace pipit
