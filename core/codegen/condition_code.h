// Conditions as C++: on an event, or on the state of a widget.
//
// Threads: any.
#pragma once

#include "core/project/condition.h"
#include "core/project/reach.h"

namespace pipit
{

// Empty when there is none. `source` names whose state is meant where a term names nobody, `sourceCode`
// is how the code calls it (empty: by its name), `event` what it calls the event.
Result<QByteArray> conditionCode(const QString &when, const QString &eventClass, const QString &source,
                                 const QByteArray &sourceCode, const Reach &reach, int window,
                                 const QByteArray &event);

} // namespace pipit
