// From a cut to the code that a person would write: `…Take`, `…Work`, `…Show`, and the structs that are
// handed between them. The person's lines, comments and formatting stay as they are; only what must change
// does.
//
// Threads: plain values.
#pragma once

#include "core/moves/cut.h"

namespace pipit
{

struct Rewritten {
    QString functions; // in place of the old function's text, from its comment to its last brace
    QString structs;   // for the header, before the class; empty for none
    QString input = "void", result = "void"; // types
    QStringList includes;                    // that the structs need: "QtCore/QString" as QString
    QString state;                           // in steps
    bool afterClass = false;                 // the structs name types of the class's own
    bool batches = false;                    // there is a function that adds what has come so far
    QStringList bars, labels;                // updated with the progress, by their names in the code
};

// `comment` is where the function's text begins, its comment included; `name` the handler's.
[[nodiscard]] Rewritten rewriteForBackground(const CutQuestion &question, const Cut &cut, const QString &name,
                                             int comment);

// `…Begin`, `…Step`, `…End`, and the state that goes from one to the next.
[[nodiscard]] Rewritten rewriteForSteps(const CutQuestion &question, const Cut &cut, const QString &name,
                                        int comment);

// Where the code that is written anew stands.
struct InPlace {
    QString name;              // what the functions are called by
    QString owner = "this";    // the object that the work belongs to
    QString captures = "this"; // of what is done when it is finished
    QString connect = "connect";
};
// For code that nobody generates anything for: the function's body, and what stands above the function in
// `structs`.
[[nodiscard]] Rewritten rewriteInPlace(const CutQuestion &question, const Cut &cut, const InPlace &place);

} // namespace pipit
