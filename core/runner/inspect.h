// What kind of program a file is, from its bytes alone; nothing is started.
#pragma once

#include "core/base/result.h"

namespace pipit
{

// The path to start, or why it cannot be recorded.
Result<QString> inspectProgram(const QString &program);

} // namespace pipit
