// What was begun, for what comes of it (link/ties.h): timers, threads, work for pools, what objects stand
// for, ends of loops. What is painted because of what is in painting.cpp.
//
// Threads: any. Functions that take a log are called on its thread.
#pragma once

#include "link/ties.h"

#include <QtCore/qglobal.h>
#include <cstdint>

QT_BEGIN_NAMESPACE
class QEvent;
class QObject;
QT_END_NAMESPACE

namespace pipit::recorder
{

class ThreadLog;

// The innermost span of this thread began it.
void began(link::Tie tie, std::uint64_t token, const QObject *object = nullptr);
// The span that has just begun came of it.
void cameOf(ThreadLog *log, link::Tie tie, std::uint64_t token);

// A socket tells its state: whether the innermost span has it look for its host, for what it tells later.
void tellConnecting(const QObject *socket, void **values);

// A token that no other has, of threads and tasks.
std::uint64_t freshToken();
// The one by which this thread was started; 0 where it was not seen.
std::uint64_t tokenOfThread();

// What the dispatch that has just begun came of: a timer, or what had something painted.
void tellCauseOf(ThreadLog *log, QObject *receiver, QEvent *event);
// A paint's part of that. Main thread.
void tellPaint(ThreadLog *log, QObject *widget, QEvent *event);

} // namespace pipit::recorder
