// What kind of program a file is, from its bytes alone; nothing is started.
//
// Threads: any; reads the file, so on a worker where the disk may be slow.
#pragma once

#include "core/base/result.h"

namespace pipit
{

// The path to start, or why it cannot be recorded.
Result<QString> inspectProgram(const QString &program);
// Whether it is linked with Qt 6 itself; a script or what loads it later is not known to be.
bool usesToolkit(const QString &program);

} // namespace pipit
