// An open project: the model, the user's files, what can be done to them, undo and redo.
//
// Threads: one at a time. Every edit of the window and of the command line is one of these
// functions; each is one step of undo, holding the model before and after and the exact text
// that it put into user files. Nothing is written to disk before `save`.
#pragma once

#include "core/project/store.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

struct ConnectRequest {
    QString source; // object name, perhaps ".viewport"
    QString what;   // signal name or signature, or event in words
    QString when;   // condition for an event
    QString target; // handler's name, new or existing, or "object.slot"
    Pacing pacing;
};

struct Connected {
    QString connection; // its id
    QString handler;    // empty when it goes to a slot or signal
    bool stubAdded = false;
};

// One step of undo.
struct Edit {
    QString text; // "connect boardButton · clicked"
    Project before, after;
    QList<FileEdit> files;
    int stateBefore = 0, stateAfter = 0; // numbers of the models, given when it is applied
};

class Workspace
{
public:
    static Result<Workspace> open(const QString &path);
    // A new folder with a first window, the user's files and CMakeLists.txt.
    static Result<Workspace> create(const QString &folder);

    const Project &project() const { return project_; }
    const ProjectPlace &place() const { return place_; }
    UserFiles &files() { return files_; }

    Outcome addWidget(const QString &parent, const QString &className, const QString &name,
                      const QList<Property> &properties);
    Outcome addTimer(const QString &name, int intervalMs);
    Outcome setProperty(const QString &object, const QString &property, const QString &text);
    Outcome remove(const QString &object); // and its connections
    Result<Connected> connect(const ConnectRequest &request);
    Outcome disconnect(const QString &id);
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
    // A problem says which text stayed because it was edited since; the rest was undone.
    Outcome undo();
    Outcome redo();

    // The model's state as a number: equal numbers are equal models, also after undo.
    int state() const { return state_; }
    bool dirty() const;
    Outcome save();     // project file and user files
    Outcome generate(); // generated/
    // What changed on disk by someone else: names of files. Clean user files are read again.
    QStringList refresh();
    bool projectChangedOnDisk() const;
    Outcome reloadProject();

private:
    Project project_;
    ProjectPlace place_;
    QByteArray savedBytes_;
    UserFiles files_;
    QList<Edit> undo_, redo_;
    int state_ = 0, lastState_ = 0, savedState_ = 0;
};

// A property's value from what a person typed, by the type that the catalog gives.
Result<Json> propertyValue(const QString &className, const QString &property, const QString &text);

} // namespace pipit
