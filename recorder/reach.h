// What the recorder's hands share: finding a target, asking the main loop, stamping input.
//
// Threads: the recorder's own thread; what is asked runs on the main thread once it is idle.
#pragma once

#include "recorder/snapshot.h"

#include <QtCore/QJsonObject>

#include <functional>

namespace pipit::recorder
{

// The target as the last snapshot has it; waits a moment for one that is about to appear.
std::optional<Target> findTarget(const QString &name);
// The same, with the middle of a row of a list, table or tree (from 1) for its own; scrolled into
// view, which needs the loop. 0: the widget itself. A reason when there is none.
std::optional<Target> findTarget(const QString &name, int row, QJsonObject *why);
// Runs `ask` on the main thread once all input so far is worked off; an error while the loop is busy.
QJsonObject onIdle(std::function<QJsonObject()> ask, int timeoutMs);

QJsonObject error(const QString &text);
QJsonObject notFound(const QString &target); // with the nearest names
QJsonObject posted(const Target &t);         // the answer to input: when and where
ulong stampNow();                            // of input, CLOCK_MONOTONIC in ms

} // namespace pipit::recorder
