// What the recorder's hands share: finding a target, asking the main loop, stamping input.
//
// Threads: the recorder's own thread; what is asked runs on the main thread once it is idle.
#pragma once

#include "recorder/hands/hands.h"
#include "recorder/hands/snapshot.h"

#include <QtCore/QJsonObject>

#include <functional>

namespace pipit::recorder
{

// The target as the last snapshot has it; waits a moment for one that is about to appear, or to become
// enabled. A reason when there is none that input reaches.
std::optional<Target> findTarget(const QString &name, QJsonObject *why);
bool isWidget(const QString &name); // as far as the last snapshot knows
// The same, with the middle of a row of a list, table or tree (from 1) for its own; scrolled into
// view, which needs the loop. 0: the widget itself. A reason when there is none.
std::optional<Target> findTarget(const QString &name, int row, QJsonObject *why);
// Runs `ask` on the main thread once all input so far is worked off; an error while the loop is busy.
// An answer with "met": false counts as none until `withinMs` are over: it is asked again whenever the
// loop is about to wait.
QJsonObject onIdle(std::function<QJsonObject()> ask, int timeoutMs, int withinMs = 0);

// Input in the order in which it was asked for: while some of it waits for the loop, because it needs
// the focus given first, what comes after it waits too.
void inOrder(std::function<void()> input);
void postClick(const Target &t, Click how);
void postMove(const Target &t);
// Remembers what a click that is not yet worked off will give the focus to.
void willFocus(const QPointer<QWidget> &widget);
bool willHaveFocus(const Target &t);

QJsonObject error(const QString &text);
// With the nearest names; of a snapshot where the caller is on the main thread.
QJsonObject notFound(const QString &target);
QJsonObject notFound(const QString &target, const Snapshot &in);
QJsonObject posted(const Target &t); // the answer to input: when and where
// Of input, CLOCK_MONOTONIC in ms. Told to Pipit once a request, before anything of it is posted.
ulong stampNow();

} // namespace pipit::recorder
