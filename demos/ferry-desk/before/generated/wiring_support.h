// Made by Pipit; edits here are overwritten.
#pragma once

#include <QtCore/QString>
#include <QtCore/QTimer>

#include <functional>
#include <memory>

namespace wiring
{

// Fires once it was started and left alone for that long.
inline QTimer *pause(QObject *owner, int ms)
{
    auto *timer = new QTimer(owner);
    timer->setSingleShot(true);
    timer->setInterval(ms);
    return timer;
}

} // namespace wiring
