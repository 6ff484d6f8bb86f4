// The session's runs: build, start, watch, play, finish.
#include "app/shell/session.h"

#include "app/shell/background.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

QString recordingFolder(const QString &name)
{
    const QString base =
        QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/pipit/recordings/";
    return base + name + '-' + QDateTime::currentDateTime().toString("yyyyMMdd-HHmmss-zzz");
}

struct BuildResult {
    Result<BuildReport> report;
    std::shared_ptr<Builder> builder;
};

} // namespace

struct Session::Started {
    std::shared_ptr<LiveRun> run;
    std::optional<Problem> problem;
};

void Session::run()
{
    if (state_ != RunState::Idle || !workspace_)
        return;
    saveAndRun(std::nullopt);
}

void Session::runPlayFile(const QString &playFile)
{
    if (state_ != RunState::Idle || !workspace_)
        return;
    auto play = loadPlay(playFile);
    if (!play) {
        Q_EMIT problem(play.problem().text());
        return;
    }
    saveAndRun(*play);
}

// One that waits until everything is saved; whether there was any.
bool Session::dropWaitingRun()
{
    if (!std::exchange(runWaits_, false))
        return false;
    setState(RunState::Idle);
    return true;
}

void Session::saveAndRun(std::optional<Play> play)
{
    setState(RunState::Building);
    runWaits_ = true;
    save([this, play] {
        if (std::exchange(runWaits_, false))
            buildAndRun(workspace_->place(), workspace_->project(), workspace_->files(), play, true);
    });
}

void Session::playElsewhere(const QString &projectPath, const QString &playFile)
{
    if (state_ != RunState::Idle)
        return;
    auto play = loadPlay(playFile);
    auto other = Workspace::open(projectPath);
    if (!play || !other) {
        Q_EMIT problem(!play ? play.problem().text() : other.problem().text());
        return;
    }
    buildAndRun(other->place(), other->project(), other->files(), *play, false);
}

void Session::buildAndRun(ProjectPlace place, Project project, UserFiles files, std::optional<Play> play,
                          bool showing)
{
    setState(RunState::Building);
    runIsShown_ = showing;
    if (showing)
        ranState_ = workspace_->state();
    builder_ = std::make_shared<Builder>(place);
    auto builder = builder_;
    const auto say = [this](const QString &what) {
        QMetaObject::invokeMethod(
            this, [this, what] { Q_EMIT progress(what); }, Qt::QueuedConnection);
    };
    inBackground(
        this,
        [builder, project, files, say]() mutable -> BuildResult {
            return {builder->build(project, files, say), builder};
        },
        [this, place, project, play](BuildResult result) {
            Q_EMIT progress({});
            messages_.clear();
            if (!result.report) {
                messages_ << BuildMessage{{}, 0, 0, true, result.report.problem().text()};
                Q_EMIT problem(result.report.problem().text());
            } else {
                messages_ = result.report->messages;
            }
            Q_EMIT buildFinished();
            if (!result.report || !result.report->ok) {
                setState(RunState::Idle);
                return;
            }
            Q_EMIT note(QStringLiteral("Built in %1.").arg(durationText(result.report->ns)));
            RunSpec spec;
            spec.program.program = result.report->program;
            spec.program.workingFolder = place.folder;
            spec.program.texts = true;
            spec.project = project.name;
            spec.flavour = buildFlavour();
            spec.map = place.folder + "/generated/map.json";
            spec.projectFile = place.file;
            spec.recordTo = recordingFolder(project.name);
            runIsProject_ = true;
            startProgram(spec, play);
        });
}

void Session::record(const QString &program, const QStringList &arguments)
{
    if (state_ != RunState::Idle)
        return;
    RunSpec spec;
    spec.program.program = program;
    spec.program.arguments = arguments;
    spec.recordTo = recordingFolder(QFileInfo(program).fileName());
    runIsProject_ = false;
    runIsShown_ = false;
    setState(RunState::Building);
    startProgram(spec, std::nullopt);
}

void Session::startProgram(RunSpec spec, std::optional<Play> play)
{
    Program::Callbacks callbacks;
    callbacks.output = [this](const QByteArray &bytes, bool isError) {
        const QString text = QString::fromUtf8(bytes);
        QMetaObject::invokeMethod(
            this, [this, text, isError] { Q_EMIT outputArrived(text, isError); }, Qt::QueuedConnection);
    };
    callbacks.ended = [this](const Ending &) {
        QMetaObject::invokeMethod(
            this, [this] { programEnded(); }, Qt::QueuedConnection);
    };
    callbacks.note = [this](const QString &text) {
        QMetaObject::invokeMethod(
            this, [this, text] { Q_EMIT note(text); }, Qt::QueuedConnection);
    };
    inBackground(
        this,
        [spec, callbacks]() -> Started {
            auto run = LiveRun::start(spec, callbacks);
            if (!run)
                return {nullptr, run.problem()};
            return {std::shared_ptr<LiveRun>(std::move(*run)), std::nullopt};
        },
        [this, play](Started started) {
            if (!started.run) {
                Q_EMIT problem(started.problem->text());
                setState(RunState::Idle);
                return;
            }
            watch_.reset();
            recording_.reset();
            run_ = started.run;
            figures_ = {};
            ending_.clear();
            playReport_.reset();
            stopTries_ = 0;
            Q_EMIT traceReset();
            watch_ = std::make_unique<LiveWatch>(run_, budget_);
            connect(watch_.get(), &LiveWatch::figures, this, [this](const LiveFigures &f) {
                figures_ = f;
                if (!runIsShown_) {
                    figures_.connections.clear();
                    figures_.handlers.clear();
                }
                Q_EMIT figuresChanged();
            });
            setState(RunState::Running);
            if (!run_->program().running()) { // it ended before we looked
                programEnded();
                return;
            }
            if (!play)
                return;
            cancelPlay_ = std::make_shared<std::atomic<bool>>(false);
            auto cancel = cancelPlay_;
            auto run = run_;
            inBackground(
                this,
                [run, play, cancel] {
                    return runPlay(*play, run->program(), run->trace(), run->handlers(), *cancel);
                },
                [this](PlayReport report) {
                    playReport_ = std::move(report);
                    Q_EMIT playChanged();
                    stop();
                });
        });
}

void Session::stop()
{
    if (dropWaitingRun())
        return;
    if (builder_ && state_ == RunState::Building)
        builder_->cancel = true;
    if (!run_ || !run_->program().running())
        return;
    if (cancelPlay_)
        *cancelPlay_ = true;
    setState(RunState::Stopping);
    const int tries = stopTries_++;
    if (tries == 0)
        run_->program().askToQuit();
    else if (tries == 1)
        run_->program().terminate();
    else
        run_->program().kill();
    if (tries < 3)
        QTimer::singleShot(tries == 0 ? 2500 : 800, this, [this, run = run_] {
            if (run == run_ && run_->program().running())
                stop();
        });
}

void Session::programEnded()
{
    if (!run_ || state_ == RunState::Idle)
        return;
    if (cancelPlay_ && !playReport_ && !*cancelPlay_) { // the play notices and reports; then we come back
        QTimer::singleShot(50, this, &Session::programEnded);
        return;
    }
    auto run = run_;
    auto report = playReport_;
    cancelPlay_.reset();
    struct Finished {
        Result<RunInfo> info;
        PastRun past;
    };
    setState(RunState::Stopping);
    inBackground(
        this,
        [run, report, budget = budget_]() -> std::shared_ptr<Finished> {
            (void)run->program().waitForEnd(5s);
            auto f = std::make_shared<Finished>(Finished{run->finish(report ? &*report : nullptr), {}});
            if (f->info) {
                f->past.info = *f->info;
                f->past.figures = figuresOf(run->trace(), run->handlers(), *f->info, budget);
                f->past.stalls = stallsOf(run->trace(), run->handlers(), budget);
                f->past.folder = run->spec().recordTo;
            }
            return f;
        },
        [this, run](const std::shared_ptr<Finished> &f) {
            setState(RunState::Idle);
            const Ending e = run->program().ending();
            if (!e.refused.isEmpty() || !e.sawToolkit)
                Q_EMIT problem(!e.refused.isEmpty()
                                   ? e.refused
                                   : "The program ended without using Qt 6, so nothing was recorded. " +
                                         e.text(run->spec().program.program) + '.');
            if (!f->info) {
                Q_EMIT problem(f->info.problem().text());
                return;
            }
            ending_ = f->info->ending;
            if (f->info->signal)
                Q_EMIT problem(ending_ + ". Everything recorded up to then is kept.");
            figures_.stalls = f->past.stalls; // the watcher may not have told the last of them yet
            figures_.open.reset();
            Q_EMIT figuresChanged();
            f->past.label = QFileInfo(f->info->program).fileName();
            if (!f->info->project.isEmpty())
                f->past.label = QFileInfo(QFileInfo(run->spec().projectFile).path()).fileName();
            if (!f->info->play.isEmpty())
                f->past.label += ", " + f->info->play;
            f->past.label += ", " + QTime::currentTime().toString("HH:mm:ss");
            pastRuns_.append(f->past);
            Q_EMIT stateChanged();
            Q_EMIT pastRunsChanged();
        });
}

} // namespace pipit::app
