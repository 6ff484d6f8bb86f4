// What kept a thread from its loop, from the stacks that were taken while it was busy.
//
// Threads: any; plain values. A sample that ran was computing; one that waited in a system call is told by
// the call's number (x86-64 Linux) and by which function of the libraries, or which library, asked for it.
// What none of these tells is `Waiting`.
#pragma once

#include "core/trace/stacks.h"

#include <QString>

namespace pipit
{

enum class Blocking {
    Computing,
    Sleeping,
    Lock,
    Thread,
    Process,
    File, // a call that syncs a file is one, also while the system works on it for the thread
    Network,
    Display, // the X server or the compositor
    Bus,     // a call over D-Bus
    Waiting
};

[[nodiscard]] Blocking blockingOf(const StackSample &sample);
[[nodiscard]] QString blockingWords(Blocking blocking); // "waiting for a lock"

// What part of a stretch each look at it stands for: looks are closer together in its beginning, so each
// stands for the time that is nearer to it than to any other. In all 1.
[[nodiscard]] std::vector<double> sharesOf(const std::vector<StackSample> &samples, std::int64_t from,
                                           std::int64_t to);

// How much of the time it was: 0 to 1.
struct BlockingShare {
    Blocking blocking = Blocking::Computing;
    double share = 0;
};
// The largest share first.
[[nodiscard]] std::vector<BlockingShare> blockingOf(const std::vector<StackSample> &samples,
                                                    const std::vector<double> &shares);

// "sleeping", or "computing, at times reading or writing a file"; empty without looks.
[[nodiscard]] QString blockingSentence(const std::vector<BlockingShare> &shares);

} // namespace pipit
