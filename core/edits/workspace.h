// An open project: the model, the user's files, what can be done to them, undo and redo.
//
// Threads: one at a time. Every edit of the window and of the command line is one of these
// functions; each is one step of undo, holding the model before and after and the exact text
// that it put into user files. Nothing is written to disk before `save`.
#pragma once

#include "core/edits/removal.h"
#include "core/project/naming.h"
#include "core/project/requests.h"
#include "core/store/unsaved.h"

namespace pipit
{

struct Connected {
    QString connection; // id of the first
    QString handler;    // empty when it goes to a slot, signal or window
    bool stubAdded = false;
    QStringList connections; // all, when a selector made several
    QStringList matches;     // what a selector matched
    QStringList leftovers;   // what it matched that has no such signal
    QStringList notes;       // what the binding shadows, and what else is to be known
};

// What a plan was made from: equal stamps are equal models and equal code.
struct Stamp {
    int model = 0;
    std::uint64_t code = 0;
    friend bool operator==(const Stamp &, const Stamp &) = default;
};

// One step of undo.
struct Edit {
    QString text; // "connect boardButton · clicked"
    Project before, after;
    QList<FileEdit> files;
    int stateBefore = 0, stateAfter = 0; // numbers of the models, given when it is applied
    // Of a plan that is looked at before it is applied: it is refused once anything has changed since,
    // which it would overwrite, and is to be made anew.
    std::optional<Stamp> madeFrom{};
};

// What became of the text of a step that was taken back or done again.
struct StepTaken {
    QString text; // "remove start"
    // What did not fit, since the code around it was edited: the file is as it was there.
    struct Left {
        QString file;
        QString text; // what is out of the file, to be put in by hand where it is wanted; may be empty
        QString why;
        QString sentence() const { return file + ": " + why; } // without its full stop
    };
    QList<Left> left;
};

class Workspace
{
public:
    static Result<Workspace> open(const QString &path);
    // A new folder with a first window, the user's files and CMakeLists.txt.
    static Result<Workspace> create(const QString &folder);

    const Project &project() const { return project_; }
    // What the headers of the user's classes say (core/edits/own_headers.h); no step of undo.
    void takeOwnClasses(OwnClasses own) { project_.own = std::make_shared<const OwnClasses>(std::move(own)); }
    const ProjectPlace &place() const { return place_; }
    UserFiles &files() { return files_; }

    // Adds one, several or a window; the names that were made. `index` is the place among the
    // parent's children, -1 the last.
    Result<QStringList> add(const AddRequest &request, const QString &parent, int index = -1);
    Outcome addWidget(const QString &parent, const QString &className, const QString &name,
                      const QList<Property> &properties);
    Outcome addTimer(const QString &name, int intervalMs);
    // "" is a value like others; a null resets the property to its default.
    Outcome setProperty(const QString &object, const QString &property, const QString &text);
    // For all that a selector or a list of names means; what was set. One step of undo.
    Result<QStringList> setProperties(const QString &selector, const QString &property, const QString &text);
    // And its connections; a handler with its code. What went with it.
    Result<Removed> remove(const QString &object);
    Result<Removed> removeAll(const QStringList &objects);
    // "desk.cpp:12 still uses boardButton": where the user's code names them, the first place in each file.
    QStringList usesInCode(const QStringList &names);
    // Into another place; not into itself.
    Outcome move(const QString &widget, const QString &parent, int index);
    // As the project's own text, with the connections from and among them; and back, under new
    // names where they are taken. What was pasted.
    QByteArray copy(const QStringList &objects) const;
    Result<QStringList> paste(const QByteArray &text, const QString &parent, int index = -1);

    Result<Connected> connect(const ConnectRequest &request);
    Outcome disconnect(const QString &id);
    Outcome moveConnection(const QString &id, const QString &before); // empty: to the end
    Outcome retarget(const QString &id, const QString &handler);
    Outcome setCondition(const QString &id, const QString &when);
    Outcome setPacing(const QString &id, const Pacing &pacing);
    Outcome setEnabled(const QString &id, bool enabled);
    // Any change at once, as one step: moves use it.
    Outcome apply(Edit edit);
    // Writes the missing stub of a handler.
    Outcome addStub(const QString &handler);

    bool canUndo() const { return !undo_.isEmpty(); }
    bool canRedo() const { return !redo_.isEmpty(); }
    QString undoText() const { return canUndo() ? undo_.last().text : QString(); }
    QString redoText() const { return canRedo() ? redo_.last().text : QString(); }
    // Steps of an earlier time too, whoever did them, as long as the project is as they left it.
    // A step always counts as taken back, and done again: what of its text no longer fits is handed out.
    Result<StepTaken> undo();
    Result<StepTaken> redo();

    // The model's state as a number: equal numbers are equal models, also after undo.
    int state() const { return state_; }
    Stamp stamp() const { return {state_, files_.revision()}; }
    bool dirty() const;
    Outcome save(); // project file and user files
    // The same in two halves, for whoever writes the project file on a worker with `saveProject`:
    // what is written, and then what became of it. The user's files are written by the second.
    struct SaveWork {
        Project project;
        QString file;
        QByteArray knownBytes;
        int state = 0;
    };
    SaveWork saveWork() const { return {project_, place_.file, savedBytes_, state_}; }
    Outcome saved(const SaveWork &work, const Result<QByteArray> &written);
    // Keeps the steps that can be undone beside the project, for whoever opens it next; on any thread. Null
    // when there is nothing to keep them for.
    std::function<void()> historyWork() const;
    Outcome generate(); // generated/
    // What changed on disk by someone else: names of files, the project's among them.
    UserFiles::Refreshed refresh();
    bool projectChangedOnDisk() const; // or gone
    bool projectIsGone() const;
    // The project as it is on disk now, as one step of undo: with what is unsaved here merged into it
    // where both do not touch each other, else instead of it. Whether it was merged.
    Result<bool> reloadProject();
    // What is here instead of what is on disk, which the next save overwrites.
    Outcome keepOwnProject();
    // Brings unsaved work of an earlier time back, as one step of undo.
    Outcome recover(const UnsavedWork &work);

    // Several at once, as one step; what was set, or the problem of the first that cannot be.
    Result<QStringList> applySettings(const QList<SetRequest> &settings);

private:
    void follow(); // handlers that were moved by hand
    void take(const Project &project);
    Result<QString> knownClassFor(const AddRequest &request) const;
    Outcome removeHandler(Edit &edit, const QString &name, Removed &removed);
    void removeTraces(Edit &edit, Removed &removed) const;
    Outcome change(const QString &id, const QString &text, const std::function<Outcome(Connection &)> &how);

    Project project_;
    ProjectPlace place_;
    QByteArray savedBytes_;
    UserFiles files_;
    QHash<QString, QString> moved_; // by handler's id, the file that it was found in
    QList<Edit> undo_, redo_;
    int state_ = 0, lastState_ = 0, savedState_ = 0;
};

} // namespace pipit
