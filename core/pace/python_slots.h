// Which function of Python the binding called, where the trace knows only the binding.
//
// Threads: any; plain values.
#pragma once

#include "core/trace/handlers.h"
#include "core/trace/stacks.h"

namespace pipit
{

// The function that a signal called, as more than half of the looks at the stacks found it; else empty. The
// samples are named.
[[nodiscard]] QString slotByStacks(const std::vector<StackSample> &samples);
// Whether that is asked: the code that was called is the binding's, which is the same for every slot.
[[nodiscard]] bool isBindingsSlot(const HandlerName &handler);

} // namespace pipit
