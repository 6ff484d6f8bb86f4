#include "app/session/runs.h"

#include "app/session/background.h"
#include "app/session/output_box.h"
#include "core/base/files.h"
#include "core/edits/own_headers.h"
#include "core/exports/proof_page.h"
#include "link/control.h"

#include <QDateTime>
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

QString labelOf(const RunSpec &spec, const RunInfo &info)
{
    QString label = info.project.isEmpty() ? QFileInfo(info.program).fileName()
                                           : QFileInfo(QFileInfo(spec.projectFile).path()).fileName();
    if (!info.play.isEmpty())
        label += ", " + info.play;
    return label + ", " + QTime::currentTime().toString("HH:mm:ss");
}

} // namespace

struct Runs::Started {
    std::shared_ptr<LiveRun> run;
    std::optional<Problem> problem;
};

struct Runs::Finished {
    Result<RunInfo> info;
    PastRun past;
};

Runs::Runs(Messages *messages, Document *document, ShownTrace *shown, QObject *parent)
    : QObject(parent), say_(messages), document_(document), shown_(shown)
{
    connect(document_, &Document::opened, this, [this] { ranState_ = -1; });
    connect(document_, &Document::savingFailed, this, [this] { dropWaitingRun(); });
}

Runs::~Runs()
{
    if (cancelPlay_)
        *cancelPlay_ = true;
    if (builder_)
        builder_->cancel = true;
    *otherCancel_ = true;
    if (run_ && run_->program().running())
        run_->program().kill(); // workers that ask it something get their answer at once
}

void Runs::setState(RunState s)
{
    state_ = s;
    Q_EMIT stateChanged();
}

void Runs::beginSeries(int times)
{
    ++series_.number;
    series_.asked = std::max(1, times);
    series_.done = 0;
}

// True if one more was asked for, which begins.
bool Runs::runAgain()
{
    if (++series_.done >= series_.asked || !series_.play)
        return false;
    RunSpec spec = series_.spec;
    spec.recordTo =
        recordingFolder(spec.project.isEmpty() ? QFileInfo(spec.program.program).fileName() : spec.project);
    Q_EMIT say_->progress(QStringLiteral("Run %1 of %2").arg(series_.done + 1).arg(series_.asked));
    setState(RunState::Building);
    startProgram(spec, series_.play);
    return true;
}

void Runs::run()
{
    if (state_ != RunState::Idle || !document_->isOpen())
        return;
    beginSeries(1);
    saveAndRun(std::nullopt);
}

void Runs::runPlayFile(const QString &playFile, int times)
{
    if (state_ != RunState::Idle || !document_->isOpen())
        return;
    auto play = loadPlay(playFile);
    if (!play) {
        Q_EMIT say_->problem(play.problem().text());
        return;
    }
    beginSeries(times);
    saveAndRun(*play);
}

// One that waits until everything is saved; whether there was any.
bool Runs::dropWaitingRun()
{
    if (!std::exchange(waits_, false))
        return false;
    document_->setBuildWaits(false);
    setState(RunState::Idle);
    return true;
}

void Runs::saveAndRun(std::optional<Play> play)
{
    setState(RunState::Building);
    waits_ = true;
    document_->setBuildWaits(true);
    document_->save([this, play] {
        document_->setBuildWaits(false);
        Workspace &w = document_->workspace();
        if (std::exchange(waits_, false))
            buildAndRun({w.place(), w.project(), w.files(), play, true});
    });
}

void Runs::playElsewhere(const QString &projectPath, const QString &playFile, int times)
{
    if (state_ != RunState::Idle)
        return;
    auto play = loadPlay(playFile);
    auto other = Workspace::open(projectPath);
    if (!play || !other) {
        Q_EMIT say_->problem(!play ? play.problem().text() : other.problem().text());
        return;
    }
    beginSeries(times);
    buildAndRun({other->place(), other->project(), other->files(), *play, false});
}

void Runs::buildAndRun(Job job)
{
    setState(RunState::Building);
    ofOpenProject_ = job.open;
    if (job.open)
        ranState_ = document_->workspace().state();
    builder_ = std::make_shared<Builder>(job.place);
    const auto say = [back = BackToLoop(say_), say = say_](const QString &what) {
        back([say, what] { Q_EMIT say->progress(what); });
    };
    inBackground(
        this,
        [builder = builder_, place = job.place, project = job.project, files = job.files, say]() mutable {
            if (!project.own) // slots of the user's classes are called by what their headers say
                project.own = std::make_shared<const OwnClasses>(readOwnClasses(place, project));
            return builder->build(project, files, say);
        },
        [this, job](const Result<BuildReport> &report) { built(job, report); });
}

void Runs::built(const Job &job, const Result<BuildReport> &report)
{
    Q_EMIT say_->progress({});
    messages_.clear();
    if (!report) {
        messages_ << BuildMessage{{}, 0, 0, true, report.problem().text()};
        Q_EMIT say_->problem(report.problem().text());
    } else {
        messages_ = report->messages;
    }
    Q_EMIT buildFinished();
    if (!report || !report->ok) {
        setState(RunState::Idle);
        return;
    }
    Q_EMIT say_->note(QStringLiteral("Built in %1.").arg(durationText(report->ns)));
    if (job.open && report->linked)
        otherCompiler_.start();
    ofProject_ = true;
    startProgram(specOf(job.place, job.project, report->program, recordingFolder(job.project.name)),
                 job.play);
}

// Nobody waits for it: the project's own build uses another compiler than Pipit, and what only that one
// refuses would be noticed late.
void Runs::askOtherCompiler()
{
    if (!document_->isOpen() || !chosenCompiler().clang)
        return;
    otherCancel_ = std::make_shared<std::atomic<bool>>(false);
    inBackground(
        this,
        [place = document_->workspace().place(), project = document_->project(),
         files = document_->workspace().files(),
         cancel = otherCancel_]() mutable { return otherCompilersErrors(place, project, files, *cancel); },
        [this, cancel = otherCancel_](const Result<QList<BuildMessage>> &errors) {
            if (!errors || *cancel)
                return;
            QList<Finding> found;
            for (const BuildMessage &m : *errors) {
                Finding f;
                f.id = "other-compiler";
                f.severity = Finding::Severity::Warning;
                f.where = m.file;
                f.message = QStringLiteral("The project's CMake uses g++, which rejects %1:%2: %3.")
                                .arg(m.file)
                                .arg(m.line)
                                .arg(m.text);
                found.append(f);
            }
            document_->setCompilerFindings(found);
        });
}

void Runs::record(const ProgramSpec &program, const QString &playFile)
{
    if (state_ != RunState::Idle)
        return;
    std::optional<Play> play;
    if (!playFile.isEmpty()) {
        auto loaded = loadPlay(playFile);
        if (!loaded) {
            Q_EMIT say_->problem(loaded.problem().text());
            return;
        }
        play = *loaded;
    }
    ofProject_ = ofOpenProject_ = false;
    beginSeries(1);
    setState(RunState::Building);
    RunSpec spec =
        specOf(program.program, program.arguments, recordingFolder(QFileInfo(program.program).fileName()));
    spec.program.workingFolder = program.workingFolder;
    spec.program.environment = program.environment;
    spec.program.maskTexts = program.maskTexts;
    startProgram(spec, play);
}

Program::Callbacks Runs::callbacks()
{
    Program::Callbacks c;
    const BackToLoop back(this);
    auto box = std::make_shared<OutputBox>();
    c.output = [this, back, box](const QByteArray &bytes, bool isError) {
        if (box->put(QString::fromUtf8(bytes), isError))
            back([this, box] {
                for (const auto &[text, error] : box->take())
                    Q_EMIT outputArrived(text, error);
            });
    };
    c.ended = [this, back](const Ending &) { back([this] { programEnded(); }); };
    c.note = [this, back](const QString &text) { back([this, text] { Q_EMIT say_->note(text); }); };
    return c;
}

void Runs::startProgram(const RunSpec &spec, std::optional<Play> play)
{
    series_.spec = spec;
    series_.play = play;
    inBackground(
        this,
        [spec, callbacks = callbacks()]() -> Started {
            auto run = LiveRun::start(spec, callbacks);
            if (!run)
                return {nullptr, run.problem()};
            return {std::shared_ptr<LiveRun>(std::move(*run)), std::nullopt};
        },
        [this, play](const Started &s) { started(s, play); });
}

void Runs::started(const Started &s, const std::optional<Play> &wanted)
{
    if (!s.run) {
        Q_EMIT say_->problem(s.problem->text());
        setState(RunState::Idle);
        return;
    }
    run_ = s.run;
    over_ = false;
    playReport_.reset();
    cancelPlay_.reset();
    stopTries_ = 0;
    shown_->follow(run_, ofOpenProject_);
    setState(RunState::Running);
    if (!run_->program().running()) // it ended before we looked
        programEnded();
    else if (wanted)
        play(*wanted);
}

void Runs::play(const Play &play)
{
    cancelPlay_ = std::make_shared<std::atomic<bool>>(false);
    inBackground(
        this,
        [run = run_, play, cancel = cancelPlay_] {
            return runPlay(play, run->program(), run->trace(), run->handlers(), *cancel);
        },
        [this](PlayReport report) {
            playReport_ = std::move(report);
            Q_EMIT playChanged();
            stopProgram();
        });
}

void Runs::stop()
{
    series_.asked = 0;
    stopProgram();
}

void Runs::stopProgram()
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
    if (const auto patience = run_->program().press(stopTries_++))
        QTimer::singleShot(*patience, this, [this, run = run_] {
            if (run == run_ && run_->program().running())
                stopProgram();
        });
}

void Runs::programEnded()
{
    if (over_ || run_->program().running())
        return;
    if (cancelPlay_ && !playReport_ && !*cancelPlay_) { // the play notices and reports; then we come back
        QTimer::singleShot(50, this, &Runs::programEnded);
        return;
    }
    over_ = true;
    cancelPlay_.reset();
    setState(RunState::Stopping);
    inBackground(
        this,
        [run = run_, report = playReport_]() -> std::shared_ptr<Finished> {
            (void)run->program().waitForEnd(5s);
            auto f = std::make_shared<Finished>(Finished{run->finish(report ? &*report : nullptr), {}});
            if (f->info) {
                f->past.info = *f->info;
                f->past.figures = figuresOf(run->trace(), run->handlers(), *f->info, stallBudget);
                f->past.stalls = stallsOf(run->trace(), run->handlers(), stallBudget);
                f->past.busy = busyWorkersOf(run->trace(), run->handlers(), stallBudget);
                f->past.folder = run->spec().recordTo;
                f->past.label = labelOf(run->spec(), *f->info);
            }
            return f;
        },
        [this, run = run_](const std::shared_ptr<Finished> &f) { finished(run, f); });
}

void Runs::finished(const std::shared_ptr<LiveRun> &run, const std::shared_ptr<Finished> &f)
{
    if (const auto problem = run->unrecorded())
        Q_EMIT say_->problem(problem->text());
    if (!f->info) {
        Q_EMIT say_->problem(f->info.problem().text());
        setState(RunState::Idle);
        return;
    }
    if (f->info->signal)
        Q_EMIT say_->problem(
            QStringList{f->info->ending, f->info->notes.join(". "), "Everything recorded until then is kept."}
                .filter(QRegularExpression("."))
                .join(". "));
    if (shown_->liveRun() == run)
        shown_->ended(f->info->ending, f->past.stalls, f->past.busy);
    f->past.series = series_.number;
    past_.append(f->past);
    Q_EMIT pastChanged();
    if (!f->info->playHeld || !runAgain())
        setState(RunState::Idle);
}

void Runs::saveProof(const Comparison &comparison, const std::vector<ComparedRun> &before,
                     const std::vector<ComparedRun> &after, const QString &path)
{
    inBackground(
        this,
        [comparison, before, after, path] {
            return writeFile(path, proofPage(comparison, before, after).toUtf8());
        },
        [this, path](const Outcome &saved) {
            saved ? Q_EMIT say_->note("The comparison was saved as " + path + '.')
                  : Q_EMIT say_->problem(saved.problem().text());
        });
}

void Runs::switchConnection(const QString &id, bool on)
{
    if (document_->edit([&](Workspace &w) { return w.setEnabled(id, on); }))
        tellSwitches();
}

// The running program hears which connections are off, unless its wiring is older than they are.
void Runs::tellSwitches()
{
    if (state_ != RunState::Running || !ofProject_ || !ofOpenProject_ || !run_)
        return;
    QStringList off, on;
    for (const Connection &c : document_->project().connections)
        (c.enabled ? on : off) << c.id;
    inBackground(
        this, [run = run_, off, on] { return run->switchOff(off, on); },
        [this](const Outcome &answer) {
            if (!answer)
                Q_EMIT say_->note("The connection was not switched in the running program: " +
                                  answer.problem().text());
        });
}

bool Runs::wiringChangedSinceRun() const
{
    return document_->isOpen() && ranState_ >= 0 && document_->workspace().state() != ranState_;
}

} // namespace pipit::app
