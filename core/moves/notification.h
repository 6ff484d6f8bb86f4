// Notifications in place of a timer that polls. The files and folders that its handler looks at are
// watched, the devices that it asks tell by their signals, and the timer only looks once, when the window is
// there.
//
// Threads: blocking, so on a worker; works on copies. `cancel` may be set from any thread.
// Errors: a Problem when the question itself makes no sense or the code cannot be read; what stands against
// a refusal names its lines, as for a move.
#pragma once

#include "core/moves/move.h"

namespace pipit
{

// How long a notification waits for more, because files are written in pieces.
inline constexpr int settleMs = 50;

// `question.handler` is the timer's name.
[[nodiscard]] Result<Move> planNotification(const MoveQuestion &question, const std::atomic<bool> &cancel);

} // namespace pipit
