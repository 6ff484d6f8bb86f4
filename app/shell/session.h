// The session: the open project or recording, the run, the selection. Pages read it and act
// through it; it tells them what changed.
//
// Threads: the loop's thread only. Building, starting, finishing and reading recordings happen on
// workers; their results come back here.
#pragma once

#include "app/shell/live_watch.h"
#include "core/build/builder.h"
#include "core/moves/move.h"
#include "core/pace/compare.h"
#include "core/project/findings.h"
#include "core/project/recovery.h"
#include "core/project/workspace.h"

#include <QFileSystemWatcher>
#include <QTimer>

#include <memory>
#include <optional>

namespace pipit::app
{

enum class RunState { Idle, Building, Running, Stopping };

struct Selection {
    QString object;     // a widget or timer
    QString connection; // id
    QString handler;    // name
    friend bool operator==(const Selection &, const Selection &) = default;
};

// A finished run that can be compared.
struct PastRun {
    QString label; // "ferry-desk, tide.play, 14:20:31"
    RunInfo info;
    RunFigures figures;
    std::vector<Stall> stalls;
    QString folder; // of its recording
};

class Session : public QObject
{
    Q_OBJECT
public:
    explicit Session(QObject *parent = nullptr);
    ~Session() override;

    // A project's folder or file, or a recording's folder.
    void open(const QString &path);
    void createProject(const QString &folder);
    bool hasProject() const { return workspace_.has_value(); }
    Workspace &workspace() { return *workspace_; }
    const Project &project() const { return workspace_->project(); }
    QString title() const;

    // Does an edit and tells everyone; a problem is shown inline. True if it was done.
    bool edit(const std::function<Outcome(Workspace &)> &what);
    void undo();
    void redo();
    // On a worker; `then` is called on the loop once everything is written, not after a problem.
    // Asked again meanwhile, it saves once more afterwards.
    void save(std::function<void()> then = {});
    bool saving() const { return saving_; }
    const QList<Finding> &findings() const { return findings_; }
    // What the preview noticed by showing the windows; told beside what the check found.
    void setPreviewFindings(QList<Finding> found);
    // The first one of each connection, object and handler, with what mends it.
    const QHash<QString, QString> &findingTexts() const { return findingTexts_; }
    // Called by the editor while typing.
    void userTextChanged();
    // On or off, in the project and at once in the running program.
    void switchConnection(const QString &id, bool on);
    // What the person did last in the running program: a widget's name and what to connect it by.
    std::pair<QString, QString> lastInput() const;
    // Brings back what was not saved when Pipit ended.
    void recoverUnsaved();

    RunState state() const { return state_; }
    void run();
    void runPlayFile(const QString &playFile);
    // The same play on another project's folder, for comparison.
    void playElsewhere(const QString &projectPath, const QString &playFile);
    void record(const QString &program, const QStringList &arguments);
    void stop();
    // The run that is shown; null before the first one. A recording opened from disk comes as `recording`.
    std::shared_ptr<LiveRun> liveRun() const { return run_; }
    const TraceModel *trace() const;
    // Keeps the trace that is shown alive for a worker that reads it.
    std::shared_ptr<const void> traceOwner() const
    {
        return run_ ? std::shared_ptr<const void>(run_) : std::shared_ptr<const void>(recording_);
    }
    Handlers *handlers() const;
    const LiveFigures &figures() const { return figures_; }
    const QList<PastRun> &pastRuns() const { return pastRuns_; }
    bool wiringChangedSinceRun() const;
    QString lastEnding() const { return ending_; }
    const QList<BuildMessage> &buildMessages() const { return messages_; }
    const std::optional<PlayReport> &lastPlay() const { return playReport_; }

    const Selection &selection() const { return selection_; }
    void select(const Selection &s);

    std::chrono::milliseconds budget() const { return budget_; }
    QStringList playFiles() const;

Q_SIGNALS:
    void projectOpened();
    void savingFailed();
    void projectChanged();  // the model, and findings where they are quick to tell
    void findingsChanged(); // of a large project, once they are known
    void unsavedFound();    // work of an earlier time that was not saved
    void filesReloaded();   // user files changed on disk, or Pipit put text into them
    void stateChanged();
    void figuresChanged();
    void traceReset(); // another trace from now on
    void pastRunsChanged();
    void playChanged();
    void buildFinished();
    void selectionChanged();
    void outputArrived(const QString &text, bool isError);
    void problem(const QString &text);
    void note(const QString &text);
    void progress(const QString &text); // what is being done; empty: nothing

private:
    struct Started;
    void adopt(Workspace w);
    void changed();
    void saved(const Workspace::SaveWork &work, const Result<QByteArray> &written);
    void generateCode();
    void checkWiring();
    void checkOnWorker();
    bool takeFindings(QList<Finding> found); // whether they are others than before
    bool mergeFindings();
    void keepUnsavedWork();
    void tellSwitches();
    void startProgram(RunSpec spec, std::optional<Play> play);
    bool dropWaitingRun();
    void saveAndRun(std::optional<Play> play);
    void buildAndRun(ProjectPlace place, Project project, UserFiles files, std::optional<Play> play,
                     bool showing);
    void programEnded();
    void setState(RunState s);
    void watchFiles();
    void filesChangedOnDisk();
    void openRecording(const QString &folder);

    std::optional<Workspace> workspace_;
    QList<Finding> checked_, previewed_; // by the check, by the preview
    QList<Finding> findings_;            // both
    QHash<QString, QString> findingTexts_;
    RunState state_ = RunState::Idle;
    std::shared_ptr<LiveRun> run_;
    std::shared_ptr<Recording> recording_;
    std::unique_ptr<LiveWatch> watch_;
    LiveFigures figures_;
    QList<PastRun> pastRuns_;
    QList<BuildMessage> messages_;
    std::optional<PlayReport> playReport_;
    std::shared_ptr<std::atomic<bool>> cancelPlay_;
    std::shared_ptr<Builder> builder_;
    std::shared_ptr<std::atomic<bool>> leaving_ = std::make_shared<std::atomic<bool>>(false);
    int ranState_ = -1; // of the model when it was run; -1: not yet
    QString ending_;
    Selection selection_;
    std::chrono::milliseconds budget_{50};
    QFileSystemWatcher watcher_;
    QTimer diskTimer_, findingsTimer_, keepTimer_, checkTimer_;
    bool checking_ = false, checkAgain_ = false; // the wiring, on a worker, one at a time
    int checks_ = 0;                             // begun so far: only the last one's answer counts
    bool saving_ = false, saveAgain_ = false, runWaits_ = false;
    int opened_ = 0; // projects opened so far: answers about an earlier one are dropped
    QList<std::function<void()>> whenSaved_;
    std::optional<UnsavedWork> unsaved_;
    int stopTries_ = 0;
    bool runIsProject_ = false;
    bool runIsShown_ = true; // of the open project; another project's figures do not belong on the Board
};

} // namespace pipit::app
