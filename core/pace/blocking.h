// What kept a thread from its loop, told from the stacks that were taken of it while it was busy.
//
// Threads: any; plain values. A sample that ran was computing; one that waited in a system call is told by
// the call's number (x86-64 Linux) and by which function of the libraries asked for it. What neither tells is
// `Waiting`.
#pragma once

#include "core/trace/stacks.h"

#include <QString>

namespace pipit
{

enum class Blocking { Computing, Sleeping, Lock, Thread, Process, File, Network, Waiting };

[[nodiscard]] Blocking blockingOf(const StackSample &sample);
[[nodiscard]] QString blockingWords(Blocking blocking); // "waiting for a lock"

// How much of the looks found it: 0 to 1.
struct BlockingShare {
    Blocking blocking = Blocking::Computing;
    double share = 0;
};
// The largest share first.
[[nodiscard]] std::vector<BlockingShare> blockingOf(const std::vector<StackSample> &samples);

// "sleeping", or "computing, at times reading or writing a file"; empty without looks.
[[nodiscard]] QString blockingSentence(const std::vector<BlockingShare> &shares);

} // namespace pipit
