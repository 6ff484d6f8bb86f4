// The compiler's and the linker's messages as places in the user's files.
//
// Threads: any; works on what it is given.
#pragma once

#include "core/build/builder.h"

namespace pipit
{

// From what g++ printed: JSON arrays, one for each translation unit, with the linker's plain lines
// between them. Paths become relative to the folder where they lie in it.
QList<BuildMessage> diagnosticsFrom(const QByteArray &printed, const QString &folder);

} // namespace pipit
