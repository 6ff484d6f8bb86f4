// The recorder's end of the control channel, and of the arena.
//
// Threads: places are claimed and left by the threads that record; `notifyPipit` may be called on any;
// requests are answered on the recorder's own thread, one after the other. Nothing here makes a thread of
// the program wait. See link/arena.h and link/control.h.
#pragma once

#include "link/arena.h"

#include <QtCore/qglobal.h>
#include <cstdint>

QT_BEGIN_NAMESPACE
class QByteArray;
class QJsonObject;
QT_END_NAMESPACE

namespace pipit::recorder
{

// Says hello to Pipit, maps the arena that it answers with, and closes the connection. A reason when
// nothing can be recorded; `refusal` is sent to Pipit instead of a hello when it is not empty.
const char *openControl(const char *socketPath, const char *refusal);

// A ring for the calling thread, ready to be written to; null when there is no place for it, which Pipit is
// told. `place` is what it is left by.
link::RingHeader *claimRing(bool isMain, std::size_t *place);
// A segment of a ring is full, or there is an answer: wakes Pipit if it sleeps.
void wakePipit();
// After the thread's last record.
void leaveRing(std::size_t place);

// Sends Pipit one message without an answer. Without room it is dropped.
void notifyPipit(const char *method, const QJsonObject &params);
// Starts the thread that answers requests.
void startControlThread();
// In a forked child: which process it is that records nothing.
void tellFork();

} // namespace pipit::recorder
