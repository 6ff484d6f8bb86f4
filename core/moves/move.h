// Moves: changing a handler's shape, with a preview of what happens to its code.
//
// Threads: any; works on copies. The user's old body is kept verbatim, switched off and marked;
// nothing of it is guessed into the new functions. Which of its lines belong where is told by a
// rule that errs to the safe side: a statement that names a widget, a timer or the window touches
// the interface; what cannot be told apart is said to.
#pragma once

#include "core/edits/workspace.h"

namespace pipit
{

struct MovedLine {
    int line = 0; // in the file as it is now
    QString text;
    QString goesTo; // the function it belongs in
    QString reason;
};

struct Move {
    Edit edit;
    QStringList sentences; // what goes where
    QList<MovedLine> lines;
    QString newText; // what will stand in the file in place of the old functions
};

Result<Move> planMove(const Workspace &workspace, UserFiles &files, const QString &handler, Shape shape);

} // namespace pipit
