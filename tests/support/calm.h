// Runs a test class that measures time, and once more what failed while the machine had no time for it.
//
// A gauge notes when a processor was not given to it: one thread for each, bound to it, that asks to be woken
// every 2 ms. What failed in a quiet time has failed. What failed after a hold-up of `heldUp` or more in the
// same round is run again; what had no quiet time in `rounds` rounds is not judged, and that is said.
//
// Threads: call it from the only thread, before anything else; its own threads last until the process ends.
#pragma once

#include <chrono>

namespace pipit::tests
{

inline constexpr std::chrono::milliseconds heldUp(20);
inline constexpr int rounds = 6;
inline constexpr int notJudged = 77; // the exit code: CTest calls it skipped

// Whether this process was asked for that (PIPIT_TEST_ALONE), as the suite asks for tests that run alone.
[[nodiscard]] bool measuresTime();

// `argv`: the program and what it is called with, as main() has it, which each round begins again in a
// process of its own. Gives what to exit with.
[[nodiscard]] int judgedInQuiet(int argc, char **argv);

} // namespace pipit::tests
