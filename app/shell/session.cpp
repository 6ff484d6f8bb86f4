#include "app/shell/session.h"

#include "app/shell/background.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"

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
    checkTimer_.setSingleShot(true);
    checkTimer_.setInterval(150ms); // once the edit is painted
    connect(&checkTimer_, &QTimer::timeout, this, &Session::checkOnWorker);
    keepTimer_.setSingleShot(true);
    keepTimer_.setInterval(2s);
    connect(&keepTimer_, &QTimer::timeout, this, &Session::keepUnsavedWork);
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
    previewed_.clear();
    ++opened_;
    saving_ = saveAgain_ = false;
    whenSaved_.clear();
    watchFiles();
    unsaved_ = findUnsaved(*workspace_);
    checkWiring();
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
    if (unsaved_)
        Q_EMIT unsavedFound();
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
    checkWiring();
    if (workspace_->dirty())
        keepTimer_.start();
    Q_EMIT projectChanged();
}

// At once where that takes a few milliseconds, else on a worker.
void Session::checkWiring()
{
    const Project &p = workspace_->project();
    if (p.connections.size() + p.handlers.size() < 400) {
        checkAgain_ = false;
        ++checks_; // what a worker still looks at is of the past
        takeFindings(findingsOf(p, workspace_->files()));
        return;
    }
    checkAgain_ = true;
    if (!checking_)
        checkTimer_.start();
}

// One at a time: what changes meanwhile is looked at by the next.
void Session::checkOnWorker()
{
    checking_ = true;
    checkAgain_ = false;
    inQuiet(
        this,
        [project = workspace_->project(), files = workspace_->files()]() mutable {
            return findingsOf(project, files);
        },
        [this, mine = ++checks_](QList<Finding> found) {
            checking_ = false;
            if (checkAgain_)
                checkTimer_.start();
            else if (mine == checks_ && takeFindings(std::move(found)))
                Q_EMIT findingsChanged();
        });
}

bool Session::takeFindings(QList<Finding> found)
{
    checked_ = std::move(found);
    return mergeFindings();
}

void Session::setPreviewFindings(QList<Finding> found)
{
    previewed_ = std::move(found);
    if (workspace_ && mergeFindings())
        Q_EMIT findingsChanged();
}

// Where the check has found something already, the preview need not say it again.
bool Session::mergeFindings()
{
    QList<Finding> all = checked_;
    for (const Finding &f : std::as_const(previewed_))
        if (std::none_of(checked_.begin(), checked_.end(),
                         [&](const Finding &c) { return c.where == f.where; }))
            all.append(f);
    if (all == findings_)
        return false;
    findings_ = std::move(all);
    findingTexts_.clear();
    for (const Finding &f : std::as_const(findings_))
        if (!findingTexts_.contains(f.where))
            findingTexts_.insert(f.where, f.fix.isEmpty() ? f.message : f.message + ' ' + f.fix);
    return true;
}

void Session::keepUnsavedWork()
{
    if (!workspace_ || !workspace_->dirty())
        return;
    inQuiet(
        this,
        [place = workspace_->place(), project = workspace_->project(),
         files = workspace_->files()]() mutable {
            UnsavedWork work{projectBytes(project), {}};
            for (const QString &f : files.dirtyFiles())
                if (auto text = files.text(f))
                    work.files.insert(f, *text);
            return keepUnsaved(place, work);
        },
        [this, place = workspace_->place()](const Outcome &ok) {
            if (!ok)
                Q_EMIT note("Unsaved work could not be kept: " + ok.problem().text());
            else if (workspace_ && workspace_->place().file == place.file && !workspace_->dirty())
                dropUnsaved(place); // it was saved meanwhile
        });
}

void Session::recoverUnsaved()
{
    if (workspace_ && unsaved_) {
        const UnsavedWork work = *std::exchange(unsaved_, std::nullopt);
        edit([&](Workspace &w) { return recover(w, work); });
    }
}

void Session::switchConnection(const QString &id, bool on)
{
    if (edit([&](Workspace &w) { return w.setEnabled(id, on); }))
        tellSwitches();
}

// The running program hears which connections are off, unless its wiring is older than they are.
void Session::tellSwitches()
{
    if (state_ != RunState::Running || !runIsProject_ || !runIsShown_ || !run_)
        return;
    QStringList off;
    for (const Connection &c : project().connections)
        if (!c.enabled)
            off << c.id;
    inBackground(
        this,
        [run = run_, off] {
            return run->program().request("switch", {{"off", off.join(' ')}}, std::chrono::seconds(5));
        },
        [this](const Result<QJsonObject> &answer) {
            if (!answer)
                Q_EMIT note("The running program did not switch: " + answer.problem().text());
        });
}

std::pair<QString, QString> Session::lastInput() const
{
    const TraceModel *t = trace();
    if (!t || !workspace_)
        return {};
    const auto classes = project().named();
    for (std::uint32_t i = t->spanCount(); i-- > 0;) {
        const Span &s = t->span(i);
        if (s.kind != SpanKind::Dispatch || !isInputEvent(s.what))
            continue;
        const QString name = t->object(s.object).name;
        const auto it = classes.constFind(name);
        if (it == classes.constEnd())
            continue;
        const Catalog &c = Catalog::get();
        for (const char *signal :
             {"clicked", "triggered", "textEdited", "activated", "valueChanged", "itemClicked"})
            if (!c.signalsNamed(it->className, QLatin1String(signal)).isEmpty())
                return {name, QLatin1String(signal)};
        return {name, eventWords(s.what)};
    }
    return {};
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

void Session::save(std::function<void()> then)
{
    if (!workspace_)
        return;
    if (then)
        whenSaved_ << std::move(then);
    if (saving_) {
        saveAgain_ = true;
        return;
    }
    saving_ = true;
    const Workspace::SaveWork work = workspace_->saveWork();
    inBackground(
        this, [work] { return saveProject(work.project, work.file, work.knownBytes); },
        [this, work, mine = opened_](const Result<QByteArray> &written) {
            if (mine == opened_)
                saved(work, written);
        });
}

void Session::saved(const Workspace::SaveWork &work, const Result<QByteArray> &written)
{
    saving_ = false;
    const bool again = std::exchange(saveAgain_, false);
    if (auto ok = workspace_->saved(work, written); !ok) {
        whenSaved_.clear();
        dropWaitingRun();
        Q_EMIT problem(ok.problem().text());
        Q_EMIT savingFailed();
        return;
    }
    watchFiles();
    if (again) {
        save();
        return;
    }
    if (!workspace_->dirty())
        dropUnsaved(workspace_->place());
    if (!runWaits_) // or the build makes it
        generateCode();
    Q_EMIT stateChanged(); // nothing else is otherwise by now
    for (const auto &then : std::exchange(whenSaved_, {}))
        then();
}

void Session::generateCode()
{
    const ProjectPlace place = workspace_->place();
    inQuiet(
        this,
        [place, project = workspace_->project(), files = workspace_->files()]() mutable -> Outcome {
            auto made = generate(project, place, files);
            return made ? writeGenerated(*made, place) : Outcome(made.problem());
        },
        [this](const Outcome &ok) {
            if (!ok)
                Q_EMIT note(ok.problem().text());
        });
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
    if (saving_) {
        diskTimer_.start();
        return;
    }
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
