// Takes stacks of threads that have been busy for long, while they are: some for each stretch, closer
// together in its beginning, at most forty a second in all; of the thread that holds a lock that one waits
// for; once one lasts long, of the process's other threads as well. With each it reads how long the thread
// had a processor.
//
// Threads: made and destroyed on one thread; its own thread does the work and calls `keep`. It does nothing
// but look at a clock while no thread is busy.
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
