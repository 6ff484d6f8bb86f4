// Takes stacks of threads that have been busy over the budget, while they are: some for each stretch, at most
// twenty a second in all; once one lasts long, of the process's other threads as well.
//
// Threads: made and destroyed on one thread; its own thread does the work and calls `keep`. It does nothing
// but look at a clock while no thread is over the budget.
#pragma once

#include "core/trace/model.h"

#include <functional>
#include <thread>

namespace pipit
{

class Sampler
{
public:
    using Keep = std::function<void(const StackSample &)>;
    Sampler(const TraceModel &trace, StackLog &log, Keep keep);
    ~Sampler();

private:
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
