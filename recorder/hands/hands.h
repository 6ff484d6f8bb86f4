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

// Whether `beforeWait` has anything to do: then it is the recorder's own work, and is recorded as such.
bool worksBeforeWait();
// Called on a loop's thread before a poll; `reallyWaits` is false for one without a wait.
void beforeWait(bool reallyWaits);
// Called on a loop's thread before a poll when there is no such work: the loop came round.
void loopServed();
// Called on the main thread when an event may have moved, shown or hidden something.
void geometryChanged();
// From now on snapshots are kept; until then nothing is spent on them.
void startWatching();

// Set once: called before the first input of a request is posted (recorder/acts.h).
extern void (*tellPosting)();
void newRequest();

enum class Click { Plain, Double, Context, Hold, Release };

// Each answers with the result, or with an "error" text and perhaps "near", a list of names. What is
// hidden, disabled, covered or behind a modal dialog is an error: a person could not do it either.
QJsonObject waitForWindow(int timeoutMs);
// A row of a list, table or tree counts from 1; 0 is the widget itself. An action is clicked in its menu.
QJsonObject clickOn(const QString &target, int row, Click how);
QJsonObject turnWheel(const QString &target, int row, int steps); // up is positive
QJsonObject hoverOver(const QString &target, int row,
                      const QPointF &offset); // from its corner; null: its middle
QJsonObject dragTo(const QString &source, int row, const QString &goal, int goalRow);
QJsonObject typeInto(const QString &target, const QString &text);
QJsonObject pressKey(const QString &target, const QString &key);
// Looks whether the target is as wanted (recorder/hands/states.h) once all input so far is worked off, and
// again whenever the loop has nothing to do, until it is or the time is over; the loop is not woken for it.
QJsonObject expectState(const QString &target, const QJsonObject &want, int withinMs, int timeoutMs);
QJsonObject waitIdle(int timeoutMs);
QJsonObject listTargets();

} // namespace pipit::recorder
