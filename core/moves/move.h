// Moves: changing a handler's shape, with the person's code following.
//
// The handler's code is read by pipit-reader, cut (cut.h), written anew (rewrite.h), and what comes out is
// read again: it must compile, and nothing that runs on the other thread may touch a widget or what others
// use. Until then nothing is changed; applying the edit is one step of undo.
//
// Threads: blocking, so on a worker; works on copies. `cancel` may be set from any thread.
// Errors: a Problem when the question itself makes no sense or the code cannot be read. A handler that cannot
// be moved as it stands is no Problem: `refused` says why, line by line, and the edit is empty.
#pragma once

#include "core/edits/workspace.h"
#include "core/moves/cut.h"

#include <atomic>

namespace pipit
{

struct MoveQuestion {
    Project project;
    ProjectPlace place;
    UserFiles files;
    Stamp madeFrom;
    QString handler;
    Shape shape = Shape::Background;
    QSet<int> trusted;      // lines of its file whose statements the person answers for
    QString again;          // when triggered while it runs; empty: nothing is lost and order is kept
    QString cancelButton;   // a button that cancels it; empty for none
    int workers = 0;        // at most so many at once, if it runs together with itself; 0: not said
    QString queue;          // that it shares with others; empty for none
    bool ownQueue = false;  // of one in a queue: it leaves that
    QStringList with;       // handlers that are moved into the queue along with it
    QStringList queueMates; // of these, the others, once one is planned; only planQueue sets it

    static MoveQuestion of(Workspace &workspace, const QString &handler, Shape shape);
    bool asksForPacing() const { return !again.isEmpty() || !queue.isEmpty() || workers > 0 || ownQueue; }
};

struct MovedLine {
    int line = 0; // in the file as it is now
    int at = 0;   // the same in `oldText`, from 0
    QString text; // the statement's first line
    Stage place = Stage::Take;
    QString goesTo; // the function it belongs in
    QString reason; // what keeps it there, empty for nothing
};

struct MoveRefusal {
    QString file;
    int line = 0;
    QString reason;
    int at = -1; // the line in `oldText`, from 0; -1: not there
};

// What would do, or what the code shows that it is meant: not chosen by Pipit.
struct MoveOffer {
    QString again;      // empty: no matter of that
    QString queue;      // to be shared
    QStringList with;   // with these
    QString sentence;   // what it is about
    bool helps = false; // it is refused without, and not with it
};

struct Move {
    Edit edit;
    QStringList sentences; // what goes where
    QList<MovedLine> lines;
    QString oldText, newText; // of the functions, as they stand and as they will
    QString headerText;       // what comes into the header
    QString file;
    QList<MoveRefusal> refused;
    QList<MoveOffer> offers;
    QStringList parts; // handlers that are moved together
};

[[nodiscard]] Result<Move> planMove(const MoveQuestion &question, const std::atomic<bool> &cancel);

} // namespace pipit
