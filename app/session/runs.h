// Runs: build, start, play, stop, finish; and the runs that have finished, to compare.
//
// Threads: the loop's thread only. Building, starting and finishing happen on workers; what they and
// the drain thread have to say comes back through `BackToLoop`, so nothing is touched that is gone.
#pragma once

#include "app/session/document.h"
#include "app/session/shown_trace.h"
#include "core/build/builder.h"
#include "core/pace/compare.h"

namespace pipit::app
{

enum class RunState { Idle, Building, Running, Stopping };

// A finished run that can be compared.
struct PastRun : ComparedRun {
    QString label;  // "ferry-desk, tide.play, 14:20:31"
    int series = 0; // the same for runs that were asked for together
    std::vector<Stall> stalls, busy;
    QString folder; // of its recording
};

class Runs : public QObject
{
    Q_OBJECT
public:
    Runs(Messages *messages, Document *document, ShownTrace *shown, QObject *parent = nullptr);
    ~Runs() override;

    RunState state() const { return state_; }
    void run();
    // As often as asked, each time in a run of its own.
    void runPlayFile(const QString &playFile, int times = 1);
    // The same play on another project's folder, for comparison.
    void playElsewhere(const QString &projectPath, const QString &playFile, int times = 1);
    // Any other program, perhaps with a play.
    void record(const ProgramSpec &program, const QString &playFile = {});
    void stop(); // harder each time it is asked; nothing more is begun
    // On or off, in the project and at once in the running program.
    void switchConnection(const QString &id, bool on);

    // A comparison as a page for a browser.
    void saveProof(const Comparison &comparison, const std::vector<ComparedRun> &before,
                   const std::vector<ComparedRun> &after, const QString &path);

    const QList<PastRun> &past() const { return past_; }
    const QList<BuildMessage> &buildMessages() const { return messages_; }
    const std::optional<PlayReport> &lastPlay() const { return playReport_; }
    bool wiringChangedSinceRun() const;
    // The run's program is one that was composed here.
    bool isOfProject() const { return ofProject_; }

Q_SIGNALS:
    void stateChanged();
    void buildFinished();
    void playChanged();
    void pastChanged();
    void outputArrived(const QString &text, bool isError);

private:
    struct Started;
    struct Finished;
    // What is built, and whether it is the open project: another's figures do not belong on the Board.
    struct Job {
        ProjectPlace place;
        Project project;
        UserFiles files;
        std::optional<Play> play;
        bool open = true;
    };
    // What is to be run again.
    struct Series {
        int number = 0, asked = 1, done = 0;
        RunSpec spec;
        std::optional<Play> play;
    };
    void setState(RunState s);
    void beginSeries(int times);
    bool runAgain();
    void stopProgram();
    bool dropWaitingRun();
    void saveAndRun(std::optional<Play> play);
    void buildAndRun(Job job);
    void built(const Job &job, const Result<BuildReport> &report);
    void startProgram(const RunSpec &spec, std::optional<Play> play);
    Program::Callbacks callbacks();
    void started(const Started &started, const std::optional<Play> &play);
    void play(const Play &play);
    void programEnded();
    void finished(const std::shared_ptr<LiveRun> &run, const std::shared_ptr<Finished> &f);
    void tellSwitches();
    void askOtherCompiler();

    Messages *say_;
    Document *document_;
    ShownTrace *shown_;
    RunState state_ = RunState::Idle;
    std::shared_ptr<Builder> builder_;
    std::shared_ptr<std::atomic<bool>> otherCancel_ = std::make_shared<std::atomic<bool>>(false);
    Later otherCompiler_{std::chrono::seconds(4), [this] { askOtherCompiler(); }}; // once the program stands
    std::shared_ptr<LiveRun> run_;                                                 // the last one
    bool over_ = true;             // its end is being seen to, or was
    QList<BuildMessage> messages_; // the compiler's
    std::optional<PlayReport> playReport_;
    std::shared_ptr<std::atomic<bool>> cancelPlay_;
    QList<PastRun> past_;
    int ranState_ = -1; // of the model when it was run; -1: not yet
    Series series_;
    int stopTries_ = 0;
    bool waits_ = false; // until everything is saved
    bool ofProject_ = false, ofOpenProject_ = true;
};

} // namespace pipit::app
