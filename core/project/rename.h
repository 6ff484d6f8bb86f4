// Renaming, with the user's code following.
//
// In code a name is followed where it is a member for certain: bare, after this->, through the
// name of another window, or after the window's class and two colons. A function that declares
// something of that name itself is left alone and told of. Nothing is changed before the plan was
// looked at; applying it is one step of undo.
//
// Threads: any, one at a time.
#pragma once

#include "core/project/workspace.h"

namespace pipit
{

struct RenamePlace {
    QString file;
    int line = 0;
    QString before, after; // the line
};

struct RenamePlan {
    QList<std::pair<QString, QString>> names; // old and new
    QList<RenamePlace> places;                // in the user's files
    QStringList notes;                        // what was left alone, and why
    Edit edit;
};

// A widget, timer, object, window or handler.
Result<RenamePlan> planRename(Workspace &workspace, const QString &from, const QString &to);
// All whose whole name fits a regular expression; $1 stands for a group.
Result<RenamePlan> planRenames(Workspace &workspace, const QString &pattern, const QString &replacement);

} // namespace pipit
