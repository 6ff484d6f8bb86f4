// The open project: edits, the wiring check, saving, what others change on disk, unsaved work.
//
// Threads: the loop's thread only. Saving, checking a large project and generating happen on workers;
// their results come back here.
#pragma once

#include "app/session/later.h"
#include "app/session/messages.h"
#include "core/edits/workspace.h"
#include "core/findings/findings.h"

#include <QFileSystemWatcher>
#include <QSet>

#include <atomic>
#include <memory>
#include <optional>

namespace pipit::app
{

class Document : public QObject
{
    Q_OBJECT
public:
    explicit Document(Messages *messages, QObject *parent = nullptr);
    ~Document() override;

    void open(const QString &path); // a project's folder or file
    void create(const QString &folder);
    // The same, its files written on a worker: a disk may take long. What is opened meanwhile stays open.
    void createSoon(const QString &folder);
    // Compiles what every first build needs, at a low priority, unless this machine has it.
    void prepareCompiler();
    bool isOpen() const { return workspace_.has_value(); }
    Workspace &workspace() { return *workspace_; }
    const Project &project() const { return workspace_->project(); }

    // Does an edit and emits changed(); a problem is shown. True if it was done.
    bool edit(const std::function<Outcome(Workspace &)> &what);
    // Removes objects or handlers and says what went with them; true if it was done.
    bool remove(const QStringList &names);
    void undo();
    void redo();
    void userTextChanged(); // by the editor, while typing

    // On a worker; `then` is called on the loop once everything is written, not after a problem.
    // Asked again meanwhile, it saves once more afterwards.
    void save(std::function<void()> then = {});
    // Writes generated/ as the project is now, saved or not; then, unless it cannot be generated, goes on.
    void generateCode(std::function<void()> then = {});
    bool saving() const { return saving_; }
    // Whether saving goes on to make the code; a run that waits for it makes it itself.
    void setBuildWaits(bool waits) { buildWaits_ = waits; }
    // Ends a clash of a user file with what is on disk: for each place, whether what is here is kept.
    void settle(const QString &file, const QList<bool> &keepMine);
    // Takes back that the project was loaded again; the next save overwrites what is on disk.
    void keepOwnProject();
    // Brings back what was not saved when Pipit ended.
    void recoverUnsaved();

    const QList<Finding> &findings() const { return findings_; }
    // What the preview noticed by showing the windows; shown beside the findings.
    void setPreviewFindings(QList<Finding> found);
    // What only the compiler refuses that the project's own build uses.
    void setCompilerFindings(QList<Finding> found);
    // The first one of each connection, object and handler, with what mends it.
    const QHash<QString, QString> &findingTexts() const { return findingTexts_; }
    // Where something is broken, not only worth a hint.
    const QSet<QString> &brokenPlaces() const { return brokenPlaces_; }
    QStringList playFiles() const;

Q_SIGNALS:
    void opened();
    void changed();         // the model, and findings where they are quick to compute
    void findingsChanged(); // of a large project, once they are known
    void filesReloaded();   // user files changed on disk, or Pipit put text into them
    void saved();
    void savingFailed();
    void clashesChanged();  // user files that stand otherwise here and on disk
    void projectReplaced(); // what was unsaved here did not go with what was changed outside
    void unsavedFound();    // work of an earlier time that was not saved
    // A step was taken back or done again, all but text whose place was edited since; the text, empty where
    // nothing is lost.
    void textLeft(const QString &sentences, const QString &text);
    void removed(const QString &text); // more than what was named

private:
    void adopt(Workspace w);
    void step(Result<StepTaken> (Workspace::*which)());
    void tellChange();
    void written(const Workspace::SaveWork &work, const Result<QByteArray> &bytes);
    void checkWiring();
    void checkOnWorker();
    bool takeFindings(QList<Finding> found); // whether they are others than before
    bool mergeFindings();
    void keepUnsavedWork();
    void watchFiles();
    void readOwnHeaders();
    QStringList headersRead_; // of the user's classes, the last time
    void filesChangedOnDisk();
    void takeProjectFromDisk();

    Messages *messages_;
    std::optional<Workspace> workspace_;
    int opened_ = 0; // projects opened so far: answers about an earlier one are dropped
    std::shared_ptr<std::atomic<bool>> leaving_ = std::make_shared<std::atomic<bool>>(false);

    QList<Finding> checked_, previewed_, compiled_; // by the check, by the preview, by the other compiler
    QList<Finding> findings_;                       // all of them
    QHash<QString, QString> findingTexts_;
    QSet<QString> brokenPlaces_;
    bool checking_ = false, checkAgain_ = false; // the wiring, on a worker, one at a time
    int checks_ = 0;                             // begun so far: only the last one's answer counts

    bool saving_ = false, saveAgain_ = false, buildWaits_ = false;
    QList<std::function<void()>> whenSaved_;
    std::optional<UnsavedWork> unsaved_;

    QFileSystemWatcher watcher_;
    Later disk_{std::chrono::milliseconds(150), [this] { filesChangedOnDisk(); }}; // written in several steps
    Later typing_{std::chrono::milliseconds(300), [this] { tellChange(); }};
    Later check_{std::chrono::milliseconds(150), [this] { checkOnWorker(); }}; // once the edit is painted
    Later keep_{std::chrono::seconds(2), [this] { keepUnsavedWork(); }};
};

} // namespace pipit::app
