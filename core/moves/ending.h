// In the place of a timer that sweeps: one that ends each thing on time. It is started where that begins, and
// runs out once; what begins again meanwhile lasts as long as if it had begun then.
//
// Threads: blocking, so on a worker; works on copies. `cancel` may be set from any thread.
// Errors: a Problem when the question itself makes no sense or the code cannot be read; what stands against
// a refusal names its lines, as for a move.
#pragma once

#include "core/moves/move.h"

namespace pipit
{

// `question.handler` is the timer's name.
[[nodiscard]] Result<Move> planEnding(const MoveQuestion &question, const std::atomic<bool> &cancel);

} // namespace pipit
