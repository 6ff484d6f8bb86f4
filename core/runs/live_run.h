// A run while it lasts: the program, its trace in memory, and the recording if one is kept.
//
// Threads: made and destroyed on one thread; its parts have their own rules. `finish` blocks
// (it asks for the places of all handlers), so on a worker.
#pragma once

#include "core/plays/player.h"
#include "core/project/model.h"
#include "core/project/place.h"
#include "core/recordings/writer.h"
#include "core/runs/pictures.h"
#include "core/runs/recording.h"
#include "core/runs/sampler.h"

#include <QFile>
#include <QTemporaryDir>

namespace pipit
{

struct RunSpec {
    ProgramSpec program;
    QString recordTo; // empty: only in memory
    KeepLast keep;    // of the recording; all of it stays in memory
    QString project;  // name, for the recording
    QString flavour;
    QString map;         // generated/map.json, empty for other programs
    QString projectFile; // copied into the recording
};

// A project's program, built by Pipit.
RunSpec specOf(const ProjectPlace &place, const Project &project, const QString &program,
               const QString &recordTo);
// Any other program.
RunSpec specOf(const QString &program, const QStringList &arguments, const QString &recordTo);

class LiveRun
{
public:
    static Result<std::unique_ptr<LiveRun>> start(const RunSpec &spec, Program::Callbacks callbacks);

    Program &program() { return *program_; }
    const TraceModel &trace() const { return trace_; }
    Handlers &handlers() { return handlers_; }
    const RunSpec &spec() const { return spec_; }

    // While it runs: exactly these connections of the project are not followed. Blocks, so on a worker.
    // A connection that the program was built without cannot be switched on in it: a Problem.
    Outcome switchOff(const QStringList &connections, const QStringList &on);

    // While it runs: another interval for the timer of this name, which the project does not hear of. Blocks
    // until the loop is free, so on a worker.
    Outcome setInterval(const QString &timer, std::chrono::milliseconds interval);

    // What its windows show now. Blocks until its loop is free, at most half a second, so on a worker.
    Result<std::vector<WindowPicture>> pictures();
    // Those that were taken last are kept in the recording.
    Outcome keepPictures();

    // After the program ended: why nothing was recorded, if nothing was.
    std::optional<Problem> unrecorded() const;
    // After the program ended: completes the recording and says what run it was.
    Result<RunInfo> finish(const PlayReport *play = nullptr);

private:
    LiveRun() = default;
    Outcome saveStacks(const QString &path);
    RunSpec spec_;
    TraceModel trace_;
    Handlers handlers_{trace_};
    std::unique_ptr<RecordingWriter> writer_;
    SinkList sinks_;
    QFile stacksFile_;
    QTemporaryDir pictures_;
    std::unique_ptr<Sampler> sampler_;
    std::unique_ptr<Program> program_; // the last member: it feeds the others until it is gone
};

} // namespace pipit
