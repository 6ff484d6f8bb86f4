// Conditions as C++: on the event `e`, or on the state of a widget.
//
// Threads: any.
#pragma once

#include "core/project/condition.h"
#include "core/project/reach.h"

namespace pipit
{

// "true" when there is none. `source` names whose state is meant where a term names nobody.
Result<QByteArray> conditionCode(const QString &when, const QString &eventClass, const QString &source,
                                 const Reach &reach, int window, const QByteArray &through);

} // namespace pipit
