// The recorder's end of the control channel.
//
// Threads: `sendRing` may be called on any thread; requests are answered on the recorder's own
// thread, one after the other. See link/control.h for the protocol.
#pragma once

#include <QtCore/qglobal.h>
#include <cstdint>

QT_BEGIN_NAMESPACE
class QByteArray;
class QJsonObject;
QT_END_NAMESPACE

namespace pipit::recorder
{

// Connects to Pipit and says hello. False when nobody listens.
bool openControl(const char *socketPath);
// Hands a new ring to Pipit. False when Pipit is gone.
bool sendRing(int fd, std::uint32_t tid);
// Tells Pipit one thing without an answer.
void notifyPipit(const char *method, const QJsonObject &params);
// Starts the thread that answers requests.
void startControlThread();
// In a forked child: forget the socket.
void forgetControl();

} // namespace pipit::recorder
