// An input in numbers: its button or key, the modifiers, where in the widget it happened.
//
// Threads: the event's own. Characters that are typed are not read: see link/record.h.
#pragma once

#include "recorder/acts.h"

#include <cstdint>

QT_BEGIN_NAMESPACE
class QEvent;
QT_END_NAMESPACE

namespace pipit::recorder
{

// False for an event that is none, or has nothing of the kind.
Offer offered(QObject *window, const QEvent *event);
bool describeInput(const QEvent *event, std::uint32_t *value, std::uint32_t *what);

} // namespace pipit::recorder
