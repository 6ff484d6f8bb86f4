// A handler that runs in parts, put into one function again.
//
// Threads: plain values.
#pragma once

#include "core/moves/move.h"

namespace pipit
{

// `move` holds the project as it will be, `handler` is as it is now.
Result<Move> planBack(Move move, const Handler &handler, const QString &text, const QString &className);

} // namespace pipit
