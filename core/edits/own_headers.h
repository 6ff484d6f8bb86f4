// Reads the headers of the user's classes with the toolkit's meta-object compiler.
//
// Threads: any. Blocks some tens of milliseconds for each header that changed, so on a worker where a
// window waits; a header that cannot be read offers nothing.
#pragma once

#include "core/project/model.h"
#include "core/project/place.h"

namespace pipit
{

// With one more header, of what is about to be added.
OwnClasses readOwnClasses(const ProjectPlace &place, const Project &project, const QString &another = {});

} // namespace pipit
