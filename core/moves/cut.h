// Where a handler is cut when it goes to the background: which of its statements stay before the work, which
// are the work, which come after, and what is handed from one to the next.
//
// Threads: plain values; unit and effects must outlive it. The order of what touches widgets is kept, and so
// is every value that a statement sees: what a widget or a member holds is read when the handler is
// triggered, as it was. Where that cannot be kept, the cut is refused, with the line and the reason.
#pragma once

#include "core/moves/effects.h"

namespace pipit
{

enum class Stage { Take, Work, Show };

struct PlacedStatement {
    const CodeNode *node = nullptr;
    Stage place = Stage::Take;
    QString reason; // "passengerList is read"; empty: it touches nothing
    // It stood after the work and empties a field that was read before it: whatever is typed meanwhile stays.
    bool early = false;
    // It stood before the work and is done first when the result is shown.
    bool atTurn = false;
    bool leavesAtTurn = false; // an early return shows its text when its turn comes; see Cut::leaves
};

// Something handed over.
struct Handed {
    int decl = -1;        // a variable or member; -1 for what an expression gives
    QString name;         // what the code calls it
    QString field;        // what a struct calls it
    QString type;         // as it is written
    QString value;        // what Take puts in; empty: the variable itself
    bool written = false; // the work changes it
    bool owned = false;   // a member that the work has for itself: what is handed over is where it is
    bool asked = false;   // of these: a flag that others set on the loop, and the work looks at
    bool guarded = false; // a QObject that may be gone when the result is shown
    int typeId = -1;
};

// Widgets that are set in the middle of the work, and by what name it comes to them in the end.
struct Deferred {
    int at = -1;   // where it is used
    QString arrow; // "->" or ".", between the widget and the method
    QString field, type;
    QString widget; // its name in the code
    QString method;
    bool list = false; // each value counts; else the last one
    bool progress = false;
    QString label; // of progress: the label that is updated with it
    // Statements that are done with each, by the names of the values; with more than one it is a tuple.
    QString replay{};
    QStringList names{};
    QSet<int> widgets{}; // that it sets
    bool byRow = false;  // it only changes items by their rows
};

struct TextChange {
    int begin = 0, end = 0;
    QString text;
};

// A loop over widgets' contents that is run once more, on the loop, to gather them.
struct Gathering {
    QList<const CodeNode *> loops; // the outer ones first
    QString before;                // what stands before it in the innermost: an item's declaration
    QString text;                  // what is gathered
    QString name, type;            // of each; the list of all goes by the name
    QStringList headers;           // of the loops
};

struct Refusal {
    int at = -1; // offset
    QString reason;
};

struct Cut {
    QList<PlacedStatement> statements;
    QList<Handed> input, result;
    QList<Deferred> deferred;
    QList<Gathering> gathered;
    QList<TextChange> changes; // within the work's text
    QList<TextChange> showChanges;
    bool stops = false;       // the work may end early, and then nothing is shown after what it had set
    bool declines = false;    // Take may return before the work
    bool batches = false;     // what is added to lists in a loop is shown while it works
    bool takesInTurn = false; // what it reads is what its last run shows: it must wait for its turn
    QSet<int> freed;          // methods of the object that the work calls, and that become plain functions
    QHash<int, QList<int>> lends; // of these, the members that are handed to them
    QSet<int> stays;              // of these, the ones that others call: they stay, too
    QList<Handed> members;        // of result: assigned to members when it is shown
    QStringList notes;
    QList<TextChange> leaves; // what an early return shows when its turn comes
    QSet<int> tellers;        // lambdas of the handler's that the parts have for themselves
    QList<Refusal> refused;
};

struct CutQuestion {
    const CodeUnit &unit;
    const Effects &effects;
    const CodeFunction &function;
    const QString &text; // of its file
    QSet<int> trusted;   // lines whose statements the person answers for
    QSet<int> shared;    // members and variables that other functions use as well
    QSet<QString> heard; // widgets whose signals something is connected to
    bool steps = false;  // it is cut into steps on the loop
    // Who calls a function of the person's beside this one: qualified names, a file's for another file.
    QHash<int, QSet<QString>> callers;
    QString again{}; // what the person wants where it is triggered while it works
    // Of a lambda: variables of the function around it, and those of them that it has by reference.
    QSet<int> captured{}, borrowed{};
    bool inPlace = false; // methods stay, whoever calls them
    // Members that only the works of one queue use, so that the work may have them for itself; and of these,
    // the ones that nothing but the work may touch, since they cannot be handed over, or its queueMates use
    // them.
    QSet<int> owned{}, exclusive{};
    // Widgets whose rows others may take away or move; "*" for any (elsewhere.h).
    QSet<QString> restless{};
};

[[nodiscard]] Cut cutForBackground(const CutQuestion &question);
// The same for steps on a timer: the work is one loop, which goes on round by round.
[[nodiscard]] Cut cutForSteps(const CutQuestion &question);

} // namespace pipit
