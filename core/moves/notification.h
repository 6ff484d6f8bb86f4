// In the place of a timer that polls: being told. The files and folders that its handler looks at are
// watched, the devices that it asks tell by their signals, and the timer only looks once, when the window is
// there.
//
// Threads: blocking, so on a worker; works on copies. `cancel` may be set from any thread.
// Errors: a Problem when the question itself makes no sense or the code cannot be read; what stands against
// it is told as a move's refusals are, with lines.
#pragma once

#include "core/moves/move.h"

namespace pipit
{

// How long what tells waits for more: who writes a file does it in pieces.
inline constexpr int settleMs = 50;

// `question.handler` is the timer's name.
[[nodiscard]] Result<Move> planNotification(const MoveQuestion &question, const std::atomic<bool> &cancel);

} // namespace pipit
