// Tries another interval of a timer, in the running program.
//
// Threads: the recorder's own; the timer is changed on the main thread while it has nothing to do.
#pragma once

#include <QtCore/QJsonObject>
#include <QtCore/QString>

namespace pipit::recorder
{

// The QTimer of this name, of the main thread's. Answers {was, now} in milliseconds; an error if there is
// none, or more than one.
QJsonObject setInterval(const QString &timer, int milliseconds, int timeoutMs);

} // namespace pipit::recorder
