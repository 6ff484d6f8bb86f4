#include "core/pace/python_slots.h"

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
    QString name;
    std::size_t found = 0;
    for (const StackSample &s : samples) {
        const auto frames = s.story();
        const StackFrame *called = calledIn(frames);
        if (!called)
            continue;
        if (!called->file.endsWith(".py") || (!name.isEmpty() && name != called->function))
            return {};
        name = called->function;
        ++found;
    }
    return found * 2 >= samples.size() ? name : QString();
}

bool isBindingsSlot(const HandlerName &handler)
{
    return handler.name.startsWith("PyQtSlotProxy::");
}

} // namespace pipit
