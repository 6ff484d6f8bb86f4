// A program that Pipit started with the recorder in it.
//
// Threads: `start` and the destructor on any one thread; `request`, `stop`, `kill` and the
// read-only questions on any thread. A drain thread of its own reads rings, control channel and
// output; the sink and the callbacks are called on that thread. Nothing here waits for the
// program's own loop except `request`, up to its timeout.
// Ownership: the process is killed when a Program is destroyed while it runs; every record it
// had published by then is handed over first.
#pragma once

#include "core/base/result.h"
#include "core/records/sink.h"

#include <QJsonObject>
#include <QStringList>

#include <chrono>
#include <functional>
#include <memory>

namespace pipit
{

struct ProgramSpec {
    QString program; // a path, or a name looked up in PATH
    QStringList arguments = {};
    QString workingFolder = {};   // empty: Pipit's own
    QStringList environment = {}; // "NAME=value", added to Pipit's own
    bool ownTexts = false;        // composed in Pipit: texts that its signals carry are recorded
    bool maskTexts = false;       // not even captions of widgets without a name are recorded
    bool record = true;           // false: start it bare
    bool ownOutput = false;       // it keeps Pipit's own three descriptors, and `output` is never called
};

struct Ending {
    int exitCode = -1;
    int signal = 0;          // the signal that ended it, or 0
    bool asked = false;      // that signal was Pipit's own
    bool sawToolkit = false; // the recorder said hello
    QString refused;         // why the recorder records nothing, if it said so
    QStringList notes;       // what was not recorded, and why
    QString text(const QString &program) const;
    bool crashed() const { return signal != 0 && !asked; }
};

class Program
{
public:
    struct Callbacks {
        std::function<void(const QByteArray &, bool isError)> output;
        std::function<void(const Ending &)> ended; // the last call
        std::function<void(const QString &)> note; // limits that the recorder reports
    };

    // Looks at the file first: missing, not executable and Qt 5 programs are refused unstarted.
    static Result<std::unique_ptr<Program>> start(const ProgramSpec &spec, RecordSink &sink,
                                                  Callbacks callbacks);
    ~Program();

    // Asks the recorder; an error that it answers is the Problem.
    Result<QJsonObject> request(const QString &method, const QJsonObject &params,
                                std::chrono::milliseconds timeout);
    // The ways to end it, one after the other: its own quit(), answered when its loop is free; SIGTERM;
    // SIGKILL. Goes the step of this number and says how long it is given before the next; nothing is
    // left to try after the last.
    std::optional<std::chrono::milliseconds> press(int step);
    // All of them until it has ended, each given its time: blocking.
    void end();
    void askToQuit();
    void terminate(); // SIGTERM
    void kill();      // SIGKILL

    bool running() const;
    int pid() const;
    std::int64_t startedAt() const; // CLOCK_MONOTONIC, ns
    // Blocks until the program ended and every record is handed over, at most that long.
    bool waitForEnd(std::chrono::milliseconds timeout);
    // Blocks until what was published before the call is handed over.
    void drainNow();
    Ending ending() const;

private:
    struct Private;
    explicit Program(std::unique_ptr<Private> d);
    std::unique_ptr<Private> d;
};

// Where the recorder's libraries are: beside Pipit's own programs, or in its library folder.
Result<QString> recorderLibrary(const QString &name);
std::int64_t monotonicNow();

} // namespace pipit
