// Handlers of code that Pipit did not compose: the same cut, written into the function itself, as a change
// that `git apply` takes.
//
// What comes out uses QtCore only, so no build file changes: the work runs on a pool of one thread, in the
// order in which it was triggered, and is cancelled when the object goes. The code is compiled again before
// it is shown.
//
// Threads: blocking, so on a worker.
// Errors: as of planMove.
#pragma once

#include "core/moves/move.h"

namespace pipit
{

struct OtherMove {
    QString file; // relative to the folder, where it lies in it
    QStringList sentences;
    QList<MovedLine> lines;
    QList<MoveRefusal> refused;
    QString diff; // unified, with a/ and b/
};

// Whether that folder says how its code is compiled (compile_commands.json, in it or in a folder in it).
[[nodiscard]] bool hasCompileCommands(const QString &folder);
// `function` is qualified: "Window::load"; or a place, as in "src/window.cpp:42": the lambda, or function,
// there.
[[nodiscard]] Result<OtherMove> planOtherMove(const QString &folder, const QString &function,
                                              const QSet<int> &trusted, const std::atomic<bool> &cancel);

} // namespace pipit
