#include "app/session/document.h"

#include "app/session/background.h"
#include "core/build/builder.h"
#include "core/codegen/generate.h"
#include "core/edits/own_headers.h"

#include <QDir>
#include <QFileInfo>

namespace pipit::app
{

using namespace std::chrono_literals;

Document::Document(Messages *messages, QObject *parent) : QObject(parent), messages_(messages)
{
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { disk_.start(); });
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { disk_.start(); });
}

Document::~Document()
{
    *leaving_ = true;
}

void Document::open(const QString &path)
{
    auto w = Workspace::open(path);
    if (!w) {
        Q_EMIT messages_->problem(w.problem().text());
        return;
    }
    adopt(std::move(*w));
}

void Document::create(const QString &folder)
{
    auto w = Workspace::create(folder);
    if (!w) {
        Q_EMIT messages_->problem(w.problem().text());
        return;
    }
    adopt(std::move(*w));
}

void Document::createSoon(const QString &folder)
{
    inBackground(
        this, [folder] { return std::make_shared<Result<Workspace>>(Workspace::create(folder)); },
        [this, before = opened_](const std::shared_ptr<Result<Workspace>> &made) {
            if (!*made)
                Q_EMIT messages_->problem((*made).problem().text());
            else if (before == opened_)
                adopt(std::move(**made));
        });
}

void Document::adopt(Workspace w)
{
    workspace_ = std::move(w);
    previewed_.clear();
    compiled_.clear();
    ++opened_;
    saving_ = saveAgain_ = false;
    whenSaved_.clear();
    watchFiles();
    readOwnHeaders();
    unsaved_ = findUnsaved(workspace_->place(), workspace_->project(), workspace_->files());
    checkWiring();
    inBackground(
        this,
        [project = workspace_->project(), leaving = leaving_] {
            warmCompiler(toolkitHeaders(project, hasBackground(project)), *leaving);
            warmCompiler(toolkitHeaders(project, true), *leaving); // for the first move
            return 0;
        },
        [](int) {});
    Q_EMIT opened();
    Q_EMIT changed();
    if (unsaved_)
        Q_EMIT unsavedFound();
}

void Document::prepareCompiler()
{
    static QPointer<QThreadPool> pool; // of its own: what else is quiet does not wait for it
    if (!pool) {
        pool = new QThreadPool(QCoreApplication::instance());
        pool->setMaxThreadCount(1);
    }
    inBackground(
        pool, this,
        [leaving = leaving_] {
            lowerThreadPriority();
            warmCompiler(toolkitHeaders(Project(), false), *leaving);
            return 0;
        },
        [](int) {});
}

// The headers of the user's own classes, on a worker; again when one of them changes.
void Document::readOwnHeaders()
{
    headersRead_ = workspace_->project().ownHeaders();
    if (headersRead_.isEmpty())
        return;
    inBackground(
        this,
        [place = workspace_->place(), project = workspace_->project()] {
            return readOwnClasses(place, project);
        },
        [this, mine = opened_](OwnClasses own) {
            if (mine != opened_ || !workspace_)
                return;
            workspace_->takeOwnClasses(std::move(own));
            checkWiring();
            Q_EMIT changed();
        });
}

bool Document::edit(const std::function<Outcome(Workspace &)> &what)
{
    if (!workspace_)
        return false;
    auto ok = what(*workspace_);
    if (!ok)
        Q_EMIT messages_->problem(ok.problem().text());
    Q_EMIT filesReloaded();
    if (ok && workspace_->project().ownHeaders() != headersRead_)
        readOwnHeaders(); // something of another class of the user's
    tellChange();
    return bool(ok);
}

void Document::tellChange()
{
    if (!workspace_)
        return;
    checkWiring();
    if (workspace_->dirty())
        keep_.start();
    Q_EMIT changed();
}

// At once where that takes a few milliseconds, else on a worker.
void Document::checkWiring()
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
        check_.start();
}

// One at a time: what changes meanwhile is looked at by the next.
void Document::checkOnWorker()
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
                check_.start();
            else if (mine == checks_ && takeFindings(std::move(found)))
                Q_EMIT findingsChanged();
        });
}

bool Document::takeFindings(QList<Finding> found)
{
    checked_ = std::move(found);
    return mergeFindings();
}

void Document::setPreviewFindings(QList<Finding> found)
{
    previewed_ = std::move(found);
    if (workspace_ && mergeFindings())
        Q_EMIT findingsChanged();
}

void Document::setCompilerFindings(QList<Finding> found)
{
    compiled_ = std::move(found);
    if (workspace_ && mergeFindings())
        Q_EMIT findingsChanged();
}

// Where the check has found something already, the preview need not say it again.
bool Document::mergeFindings()
{
    QList<Finding> all = checked_;
    for (const Finding &f : std::as_const(previewed_))
        if (std::none_of(checked_.begin(), checked_.end(),
                         [&](const Finding &c) { return c.where == f.where; }))
            all.append(f);
    all += compiled_;
    if (all == findings_)
        return false;
    findings_ = std::move(all);
    findingTexts_.clear();
    brokenPlaces_.clear();
    for (const Finding &f : std::as_const(findings_))
        if (f.severity == Finding::Severity::Error)
            brokenPlaces_.insert(f.where);
    for (const Finding &f : std::as_const(findings_))
        if (!findingTexts_.contains(f.where))
            findingTexts_.insert(f.where, f.fix.isEmpty() ? f.message : f.message + ' ' + f.fix);
    return true;
}

void Document::keepUnsavedWork()
{
    if (!workspace_ || !workspace_->dirty())
        return;
    inQuiet(
        this,
        [place = workspace_->place(), project = workspace_->project(),
         files = workspace_->files()]() mutable { return keepUnsaved(place, unsavedWork(project, files)); },
        [this, place = workspace_->place()](const Outcome &ok) {
            if (!ok)
                Q_EMIT messages_->note("The backup of unsaved work could not be written: " +
                                       ok.problem().text());
            else if (workspace_ && workspace_->place().file == place.file && !workspace_->dirty())
                dropUnsaved(place); // it was saved meanwhile
        });
}

void Document::recoverUnsaved()
{
    if (workspace_ && unsaved_) {
        const UnsavedWork work = *std::exchange(unsaved_, std::nullopt);
        edit([&](Workspace &w) { return w.recover(work); });
    }
}

void Document::userTextChanged()
{
    typing_.start();
}

bool Document::remove(const QStringList &names)
{
    QStringList also;
    const bool done = edit([&](Workspace &w) -> Outcome {
        const auto removed = w.removeAll(names);
        if (!removed)
            return removed.problem();
        also = removed->sentences(names) + w.usesInCode(names);
        return Done{};
    });
    if (!done)
        return false;
    constexpr qsizetype most = 6;
    if (also.size() > most)
        also = also.mid(0, most - 1) << QStringLiteral("and %1 more").arg(also.size() - most + 1);
    const QString said = names.join(", ") + " removed. ";
    if (also.isEmpty())
        Q_EMIT messages_->note(said + "Ctrl+Z brings it back.");
    else
        Q_EMIT removed(said + also.join("; ") + '.');
    return true;
}

void Document::undo()
{
    if (workspace_ && workspace_->canUndo())
        step(&Workspace::undo);
}

void Document::redo()
{
    if (workspace_ && workspace_->canRedo())
        step(&Workspace::redo);
}

// Text that does not fit any more is offered, so that it is not lost.
void Document::step(Result<StepTaken> (Workspace::*which)())
{
    QStringList said;
    QString texts;
    edit([&](Workspace &w) -> Outcome {
        const auto taken = (w.*which)();
        if (!taken)
            return taken.problem();
        for (const StepTaken::Left &left : taken->left) {
            said << left.sentence() + '.';
            texts += left.text;
        }
        return Done{};
    });
    if (!said.isEmpty())
        Q_EMIT textLeft(said.join(' '), texts);
}

void Document::save(std::function<void()> then)
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
        [this, work, mine = opened_](const Result<QByteArray> &bytes) {
            if (mine == opened_)
                written(work, bytes);
        });
}

void Document::written(const Workspace::SaveWork &work, const Result<QByteArray> &bytes)
{
    saving_ = false;
    const bool again = std::exchange(saveAgain_, false);
    if (auto ok = workspace_->saved(work, bytes); !ok) {
        whenSaved_.clear();
        if (!workspace_->files().clashing().isEmpty())
            Q_EMIT clashesChanged();
        else if (workspace_->projectChangedOnDisk())
            disk_.start(); // it is taken over, and can be saved then
        Q_EMIT messages_->problem(ok.problem().text());
        Q_EMIT savingFailed();
        return;
    }
    watchFiles();
    if (again) {
        save();
        return;
    }
    if (const auto keep = workspace_->historyWork())
        inQuiet(
            this,
            [keep] {
                keep();
                return 0;
            },
            [](int) {});
    if (!workspace_->dirty())
        dropUnsaved(workspace_->place());
    if (!buildWaits_)
        generateCode();
    Q_EMIT saved(); // nothing else is otherwise by now
    for (const auto &then : std::exchange(whenSaved_, {}))
        then();
}

void Document::generateCode(std::function<void()> then)
{
    const ProjectPlace place = workspace_->place();
    inQuiet(
        this,
        [place, project = workspace_->project(), files = workspace_->files()]() mutable -> Outcome {
            auto made = generate(project, place, files);
            return made ? writeGenerated(*made, place) : Outcome(made.problem());
        },
        [this, then = std::move(then), mine = opened_](const Outcome &ok) {
            if (!ok)
                Q_EMIT messages_->note(ok.problem().text());
            else if (then && mine == opened_)
                then();
        });
}

void Document::watchFiles()
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

void Document::takeProjectFromDisk()
{
    const bool unsaved = workspace_->dirty();
    if (auto merged = workspace_->reloadProject(); !merged)
        Q_EMIT messages_->problem(merged.problem().text() +
                                  " Pipit shows the last version that it could read.");
    else if (*merged)
        Q_EMIT messages_->note("The project was also changed on disk. Both changes were merged; Undo removes "
                               "the ones from disk.");
    else if (unsaved)
        Q_EMIT projectReplaced();
    else
        Q_EMIT messages_->note(
            "The project was changed on disk and loaded again. Undo restores Pipit's version.");
}

void Document::keepOwnProject()
{
    if (!workspace_)
        return;
    undo();
    if (auto ok = workspace_->keepOwnProject(); !ok)
        Q_EMIT messages_->problem(ok.problem().text());
    tellChange();
}

void Document::settle(const QString &file, const QList<bool> &keepMine)
{
    if (!workspace_)
        return;
    if (auto ok = workspace_->files().settle(file, keepMine); !ok)
        Q_EMIT messages_->problem(ok.problem().text());
    else
        Q_EMIT messages_->note(file + " is merged. Save writes it.");
    Q_EMIT filesReloaded();
    Q_EMIT clashesChanged();
    tellChange();
}

void Document::filesChangedOnDisk()
{
    if (!workspace_)
        return;
    if (saving_) {
        disk_.start();
        return;
    }
    const bool projectChangedThere = workspace_->projectChangedOnDisk() && !workspace_->projectIsGone();
    const UserFiles::Refreshed seen = workspace_->refresh();
    watchFiles();
    if (seen.changed.isEmpty())
        return;
    QStringList gone;
    for (const QString &f : seen.changed)
        if (workspace_->files().isGone(f) || !QFileInfo::exists(workspace_->files().path(f)))
            gone << f;
    if (!gone.isEmpty())
        Q_EMIT messages_->problem(
            gone.join(", ") +
            (gone.size() == 1
                 ? " was deleted on disk. Pipit still has its text; Save writes it again."
                 : " were deleted on disk. Pipit still has their text; Save writes them again."));
    else if (projectChangedThere)
        takeProjectFromDisk();
    else if (!seen.merged.isEmpty())
        Q_EMIT messages_->note(seen.merged.join(", ") +
                               " was also changed on disk. Both changes were merged.");
    else if (seen.clashing.isEmpty())
        Q_EMIT messages_->note(seen.changed.join(", ") + " was changed on disk and read again.");
    readOwnHeaders();
    Q_EMIT filesReloaded();
    if (!seen.clashing.isEmpty())
        Q_EMIT clashesChanged();
    tellChange();
}

QStringList Document::playFiles() const
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
