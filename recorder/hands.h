// The recorder's hands and eyes: what a play does to the window and reads from it.
//
// Threads: `beforeWait` runs on any loop's thread and acts on the main thread only; all else is
// called on the recorder's own thread. Input is posted through the window system's own queue with
// a monotonic stamp, at places taken from a snapshot of the geometry that the main loop publishes
// before it waits. So input lands, and waits, while the loop is frozen, as a person's would.
// Reading a text waits until the loop has worked off all input posted before.
#pragma once

#include <QtCore/QJsonObject>
#include <QtCore/QPointF>
#include <QtCore/QString>

namespace pipit::recorder
{

// Called on a loop's thread before each poll; `reallyWaits` is false for a poll without a wait.
void beforeWait(bool reallyWaits);
// Called on the main thread when an event may have moved, shown or hidden something.
void geometryChanged();
// From now on snapshots are kept; until then nothing is spent on them.
void startWatching();

// Each answers with the result, or with an "error" text and perhaps "near", a list of names.
QJsonObject waitForWindow(int timeoutMs);
// A row of a list, table or tree counts from 1; 0 is the widget itself.
QJsonObject clickOn(const QString &target, int row);
QJsonObject hoverOver(const QString &target, int row,
                      const QPointF &offset); // from its corner; null: its middle
QJsonObject dragTo(const QString &source, int row, const QString &goal, int goalRow);
QJsonObject typeInto(const QString &target, const QString &text);
QJsonObject pressKey(const QString &target, const QString &key);
QJsonObject readText(const QString &target, int timeoutMs);
QJsonObject waitIdle(int timeoutMs);
QJsonObject listTargets();
// Connections of a window made by Pipit that are off from now on, by their ids; all others are on.

} // namespace pipit::recorder
