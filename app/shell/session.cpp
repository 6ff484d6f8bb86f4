#include "app/shell/session.h"

#include "app/shell/background.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace pipit::app
{

using namespace std::chrono_literals;

Session::Session(QObject *parent) : QObject(parent)
{
    // Editors write a file in several steps: look once they are done.
    diskTimer_.setSingleShot(true);
    diskTimer_.setInterval(150ms);
    connect(&diskTimer_, &QTimer::timeout, this, &Session::filesChangedOnDisk);
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { diskTimer_.start(); });
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { diskTimer_.start(); });
    findingsTimer_.setSingleShot(true);
    findingsTimer_.setInterval(300ms);
    connect(&findingsTimer_, &QTimer::timeout, this, &Session::changed);
}

Session::~Session()
{
    if (cancelPlay_)
        *cancelPlay_ = true;
    if (builder_)
        builder_->cancel = true;
    *leaving_ = true;
    watch_.reset();
    if (run_ && run_->program().running())
        run_->program().kill(); // workers that ask it something get their answer at once
}

QString Session::title() const
{
    if (run_ && !runIsProject_)
        return QFileInfo(run_->spec().program.program).fileName();
    if (workspace_)
        return workspace_->project().name;
    return recording_ ? QFileInfo(recording_->folder).fileName() : QString();
}

void Session::open(const QString &path)
{
    if (QFileInfo::exists(path + "/metadata")) {
        openRecording(path);
        return;
    }
    auto w = Workspace::open(path);
    if (!w) {
        Q_EMIT problem(w.problem().text());
        return;
    }
    adopt(std::move(*w));
}

void Session::createProject(const QString &folder)
{
    auto w = Workspace::create(folder);
    if (!w) {
        Q_EMIT problem(w.problem().text());
        return;
    }
    adopt(std::move(*w));
}

void Session::adopt(Workspace w)
{
    workspace_ = std::move(w);
    selection_ = {};
    ranState_ = -1;
    watchFiles();
    findings_ = findingsOf(workspace_->project(), workspace_->files());
    inBackground(
        this,
        [project = workspace_->project(), leaving = leaving_] {
            warmCompiler(toolkitHeaders(project, hasBackground(project)), *leaving);
            warmCompiler(toolkitHeaders(project, true), *leaving); // for the first move
            return 0;
        },
        [](int) {});
    Q_EMIT projectOpened();
    Q_EMIT projectChanged();
    Q_EMIT selectionChanged();
}

void Session::openRecording(const QString &folder)
{
    Q_EMIT progress("Reading the recording");
    inBackground(
        this,
        [folder]() -> std::shared_ptr<Result<std::unique_ptr<Recording>>> {
            return std::make_shared<Result<std::unique_ptr<Recording>>>(Recording::open(folder));
        },
        [this](const auto &result) {
            Q_EMIT progress({});
            if (!*result) {
                Q_EMIT problem(result->problem().text());
                return;
            }
            watch_.reset();
            run_.reset();
            recording_ = std::move(**result);
            figures_ = {};
            figures_.stalls = stallsOf(recording_->trace, recording_->handlers, budget_);
            figures_.spans = recording_->trace.spanCount();
            figures_.now = recording_->trace.now();
            figures_.first = recording_->trace.firstTime();
            ending_ = recording_->info.ending;
            Q_EMIT traceReset();
            Q_EMIT figuresChanged();
            Q_EMIT stateChanged();
            for (const QString &n : recording_->report.notes)
                Q_EMIT note(n);
        });
}

const TraceModel *Session::trace() const
{
    return run_ ? &run_->trace() : recording_ ? &recording_->trace : nullptr;
}

Handlers *Session::handlers() const
{
    return run_ ? &run_->handlers() : recording_ ? &recording_->handlers : nullptr;
}

bool Session::edit(const std::function<Outcome(Workspace &)> &what)
{
    if (!workspace_)
        return false;
    auto ok = what(*workspace_);
    if (!ok)
        Q_EMIT problem(ok.problem().text());
    Q_EMIT filesReloaded();
    changed();
    return bool(ok);
}

void Session::changed()
{
    if (!workspace_)
        return;
    findings_ = findingsOf(workspace_->project(), workspace_->files());
    Q_EMIT projectChanged();
}

void Session::userTextChanged()
{
    findingsTimer_.start();
}

void Session::undo()
{
    if (workspace_ && workspace_->canUndo())
        edit([](Workspace &w) { return w.undo(); });
}

void Session::redo()
{
    if (workspace_ && workspace_->canRedo())
        edit([](Workspace &w) { return w.redo(); });
}

void Session::save()
{
    if (!workspace_)
        return;
    if (auto ok = workspace_->save(); !ok) {
        Q_EMIT problem(ok.problem().text());
        return;
    }
    if (auto ok = workspace_->generate(); !ok)
        Q_EMIT note(ok.problem().text());
    watchFiles();
    Q_EMIT projectChanged();
}

void Session::watchFiles()
{
    if (!watcher_.files().isEmpty())
        watcher_.removePaths(watcher_.files());
    if (!watcher_.directories().isEmpty())
        watcher_.removePaths(watcher_.directories());
    const QString folder = workspace_->place().folder;
    watcher_.addPath(folder);
    watcher_.addPath(workspace_->place().file);
    for (const QString &f : QDir(folder).entryList({"*.cpp", "*.h"}, QDir::Files))
        watcher_.addPath(folder + '/' + f);
}

void Session::filesChangedOnDisk()
{
    if (!workspace_)
        return;
    const bool projectChangedThere = workspace_->projectChangedOnDisk();
    const QStringList changedFiles = workspace_->refresh();
    watchFiles();
    if (changedFiles.isEmpty())
        return;
    QStringList kept;
    for (const QString &f : changedFiles)
        if (workspace_->files().dirty(f))
            kept << f;
    if (projectChangedThere) {
        if (auto ok = workspace_->reloadProject(); !ok)
            Q_EMIT problem(ok.problem().text() + " The wiring shown is the last one that could be read.");
        else
            Q_EMIT note("The project was changed outside and loaded again; Undo brings back what was here.");
    } else if (!kept.isEmpty()) {
        Q_EMIT problem(kept.join(", ") + " was changed outside while you were typing. Your text is kept; "
                                         "saving will not overwrite the other change.");
    } else {
        Q_EMIT note(changedFiles.join(", ") + " was changed outside and read again.");
    }
    Q_EMIT filesReloaded();
    changed();
}

void Session::select(const Selection &s)
{
    if (selection_ == s)
        return;
    selection_ = s;
    Q_EMIT selectionChanged();
}

void Session::setState(RunState s)
{
    state_ = s;
    Q_EMIT stateChanged();
}

bool Session::wiringChangedSinceRun() const
{
    return workspace_ && ranState_ >= 0 && workspace_->state() != ranState_;
}

QStringList Session::playFiles() const
{
    QStringList files;
    if (workspace_) {
        const QDir dir(workspace_->place().folder + "/plays");
        for (const QString &f : dir.entryList({"*.play"}, QDir::Files, QDir::Name))
            files << dir.filePath(f);
    }
    return files;
}

} // namespace pipit::app
