// Where code that Pipit did not compose stands, and how it is compiled.
//
// Threads: plain values; reads files, so on a worker.
#pragma once

#include "core/base/result.h"
#include "core/code/unit.h"

#include <QSet>

#include <optional>

namespace pipit
{

struct OtherPlace {
    QString file;          // absolute
    QStringList arguments; // of the compiler
    QString text;
    QString others;   // the texts of the program's other files, one after the other
    QString function; // qualified, or
    int line = 0;     // the line that a lambda or a function begins on, or reaches over
};

// `wanted` is "Window::load" or "src/window.cpp:42".
[[nodiscard]] Result<OtherPlace> findOtherPlace(const QString &folder, const QString &wanted);
// In the folder or in one of those in it, the newest; empty for none.
[[nodiscard]] QString commandsFileIn(const QString &folder);
// The folder around a source file that says how its code is compiled; empty for none.
[[nodiscard]] QString compiledFolderAround(const QString &file);

// A lambda in a function.
struct OtherLambda {
    const CodeFunction *around = nullptr;
    const CodeNode *node = nullptr;
    const CodeNode *call = nullptr; // that it is handed to
};
// The one that begins on the line, or the innermost around it.
[[nodiscard]] std::optional<OtherLambda> lambdaAt(const CodeUnit &unit, const QString &text, int line);
// The innermost function of the file around a line; null for none.
[[nodiscard]] const CodeFunction *functionAt(const CodeUnit &unit, const QString &text, int line);

// What moving it needs to know.
struct LambdaNeeds {
    QString captures;      // as they are written, without brackets
    QString owner;         // an object to belong to: "this", or what connect() was told
    QString name;          // from what triggers it: "loadButtonClicked"
    bool inObject = false; // it stands in a method of a QObject
    QSet<int> captured, borrowed;
    QString why; // it cannot be moved, empty if it can
};
[[nodiscard]] LambdaNeeds needsOf(const OtherLambda &lambda, const CodeUnit &unit, const QString &text);

// The text with the body of a lambda as deep as a function's, and by how much it was deeper.
struct Dedented {
    QString text;
    int by = 0;
};
[[nodiscard]] Dedented dedented(const QString &text, const CodeNode &body);
[[nodiscard]] QString indented(const QString &body, int by);
// The beginning of what stands at the file's top level, or in a namespace, around an offset.
[[nodiscard]] qsizetype topLevelBefore(const QString &text, qsizetype at);

} // namespace pipit
