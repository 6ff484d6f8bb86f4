// A handler that sleeps in the middle: it is parted at the sleep, and a single-shot timer leads from the
// first part to the second, so that the loop goes on meanwhile. One that sleeps until something is so
// (`while (!ready()) msleep(100)`) is parted at the loop: a timer looks, and stops once it is.
//
// What the first part does is seen during the pause; before, nothing of it was. Triggered again during the
// pause, the timer begins anew: the second part is done once, a whole pause after the last trigger.
//
// Threads: plain values; function and effects must outlive the answer.
#pragma once

#include "core/moves/effects.h"
#include "core/project/model.h"
#include "core/userfiles/cpp_scan.h"

#include <optional>

namespace pipit
{

struct Pause {
    const CodeNode *sleep = nullptr; // the statement; of one that waits for something, the loop
    QString condition;               // as long as it holds, it waits; empty: it only sleeps
    QStringList meanwhile;           // what a loop does beside sleeping
    int milliseconds = 0;            // 0: it is told by
    QString expression;              // in milliseconds
    QList<int> usedLater; // variables of the first part that the second uses: it cannot be parted then
};

// The function's only statement that takes long, if it is a sleep in its outermost block, or a `while` that
// sleeps.
[[nodiscard]] std::optional<Pause> pauseIn(const Effects &effects, const CodeFunction &function,
                                           const QString &text);

// The handler parted there, with the timer, the second handler and their connection in the project.
struct PausedHandler {
    Project after;
    QString text; // of both functions
    QStringList sentences;
};
[[nodiscard]] PausedHandler partAtPause(const Pause &pause, const Project &project, const Handler &handler,
                                        const QString &className, const QString &text,
                                        const Definition &definition);

// A name for something new of a window, after one that is wanted: taken by nothing in the project or the
// text.
[[nodiscard]] QString freeNameFor(const Project &project, const QString &className, const QString &text,
                                  const QString &wanted);

} // namespace pipit
