// Whether something new may have a name, and what a name that is not there may have meant.
//
// Threads: any.
#pragma once

#include "core/project/model.h"

namespace pipit
{

// Whether a new thing may have this name, or why not.
Outcome checkNewName(const Project &project, const QString &name);
Problem unknownObject(const Project &project, const QString &name);
// Neither a class nor a plain word for one, with the nearest.
Problem unknownKind(const QString &words);

} // namespace pipit
