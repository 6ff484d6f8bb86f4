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
    QStringList bars, labels; // told how far the work is, by the name that the code has for them
};

// `comment` is where the function's text begins, its comment included; `name` the handler's.
[[nodiscard]] Rewritten rewriteForBackground(const CutQuestion &question, const Cut &cut, const QString &name,
                                             int comment);

// `…Begin`, `…Step`, `…End`, and the state that goes from one to the next.
[[nodiscard]] Rewritten rewriteForSteps(const CutQuestion &question, const Cut &cut, const QString &name,
                                        int comment);

// For code that nobody generates anything for: all in the function itself, and what stands above it in
// `structs`.
[[nodiscard]] Rewritten rewriteInPlace(const CutQuestion &question, const Cut &cut, const QString &name);

} // namespace pipit
