// Why nothing happened, or what did: the way of an interaction as stations, from the window system to the
// repaint, and the first one that is broken.
//
// What a recording cannot decide is said as unknown, never guessed: a station is Broken only where the
// recording shows it. States are the last recorded ones before the input (core/why/scene.h).
//
// Threads: `why` reads a whole trace and may read debug information: off the event loop.
#pragma once

#include "core/base/result.h"
#include "core/runs/recording.h"
#include "core/why/scene.h"

#include <optional>
#include <vector>

namespace pipit
{

// Input of a play that could not be given.
struct WhyAttempt {
    std::int64_t time = 0;
    QString target, why;
};

struct WhyQuestion {
    QString widget;                 // a name, class and caption, or class; empty: of the last input
    std::optional<std::int64_t> at; // CLOCK_MONOTONIC ns; the last interaction up to then
    // What is known of the run beside its trace.
    std::vector<WhyAttempt> attempts;
    int signal = 0; // that ended the program
};

struct Station {
    enum State { Fine, Broken, Unknown };
    QString name; // "window system", "window", "widget", …
    State state = Fine;
    QString detail; // a clause without its full stop
};

// Who changed something of the widget, the last one first.
struct WhyChange {
    std::int64_t time = 0;
    QString what;  // "text"
    QString value; // empty where it is unknown
    QString by;    // the handler or event in which it was done
    QString file;
    int line = 0; // 0: not known
    SpanId span;
};

struct WhyAnswer {
    QString widget;      // as it is called
    QString interaction; // "left click", "Ctrl+S", empty for none
    std::int64_t at = 0; // of the interaction; 0 for none
    SpanId span;         // its first dispatch
    QString verdict;     // "ok", "unknown", or a few of the trade's words: "not connected", "disabled"
    QString station;     // the first one that is broken; empty for none
    QString sentence;    // explains it
    QString fix;         // what to do; empty where nothing is to do, or nobody knows
    QString file;        // where to look
    int line = 0;
    QString handler; // of the project, that the fault lies in; empty for none
    std::vector<Station> stations;
    std::vector<WhyChange> changes;
};

Result<WhyAnswer> why(const TraceModel &trace, Handlers &handlers, const WhyQuestion &question);

// Steps of a recording's play that could not be done.
std::vector<WhyAttempt> attemptsOf(const RecordingFiles &recording);
// The same for a recording, with its play and its ending.
Result<WhyAnswer> why(Recording &recording, const QString &widget, std::optional<std::int64_t> at);

// A clause of an answer as a sentence; a name at its beginning keeps its small letter.
QString asSentence(const QString &clause, const QString &widget = {});
// "fine", "broken", "unknown".
QString stationWords(Station::State state);

} // namespace pipit
