#include "core/pace/python_slots.h"

#include <map>

namespace pipit
{

namespace
{

// Signals call the binding's slots from a function of QtCore's own, which has no name where its symbols were
// taken away; methods that it overrides are called from named ones.
bool callsSlot(const StackFrame &f, const StackFrame &inner)
{
    return f.module.contains("/libQt6Core.so") && inner.module.contains("/QtCore.abi3.") &&
           (f.function.isEmpty() || f.function.contains("ctivate"));
}

// The innermost function that a signal called.
const StackFrame *calledIn(const std::vector<StackFrame> &frames)
{
    const StackFrame *outermost = nullptr;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (outermost && callsSlot(frames[i], frames[i - 1]))
            break;
        if (frames[i].own)
            outermost = &frames[i];
    }
    return outermost;
}

} // namespace

QString slotByStacks(const std::vector<StackSample> &samples)
{
    // One call runs one slot; a look while the interpreter changed its frames may say otherwise.
    std::map<QString, std::size_t> found;
    for (const StackSample &s : samples) {
        const auto frames = s.story();
        if (const StackFrame *called = calledIn(frames))
            ++found[called->file.endsWith(".py") ? called->function : QString()];
    }
    for (const auto &[name, times] : found)
        if (times * 2 > samples.size())
            return name;
    return {};
}

bool isBindingsSlot(const HandlerName &handler)
{
    return handler.name.startsWith("PyQtSlotProxy::");
}

} // namespace pipit
