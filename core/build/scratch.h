// A copy of a project's code as it would be if everything were saved now, for whoever reads code that
// is still being typed: neither the project's folder nor its build sees it.
//
// Threads: any, one at a time with the same UserFiles.
#pragma once

#include "core/codegen/generate.h"

namespace pipit
{

// Generated code and the user's sources and headers, as the buffers have them, into this folder.
Outcome layOut(const QString &folder, const ProjectPlace &place, const Project &project, UserFiles &files);

} // namespace pipit
