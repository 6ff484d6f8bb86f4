// Renaming, with the user's code following.
//
// In code a name is followed where it is a member for certain: bare, after this->, through the
// name of another window, or after the window's class and two colons. A function that declares
// something of that name itself is left alone and listed. Where somebody who understands the code
// has said what a word stands for (see core/build/word_meanings.h), that counts instead. Nothing is changed
// before the plan was looked at; applying it is one step of undo.
//
// Threads: any, one at a time.
#pragma once

#include "core/edits/workspace.h"
#include "core/userfiles/code_words.h"

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

// What is renamed to what: a widget, timer, object, window or handler.
struct RenameRequest {
    QString from, to;
    bool all = false; // `from` is a regular expression over whole names; $1 in `to` stands for a group
};
Result<RenamePlan> planRename(Workspace &workspace, const RenameRequest &request,
                              const WordVerdicts &verdicts = {});
// All the words that the request is about.
Result<QList<CodeWord>> wordsToRename(Workspace &workspace, const RenameRequest &request);

} // namespace pipit
