// The clock of the records. Where the system's own clock goes by the processor's counter, the recorder writes
// what the counter says, which takes a third of the time, and Pipit tells what that is in CLOCK_MONOTONIC
// (core/records/moments); elsewhere the recorder asks for CLOCK_MONOTONIC itself. Pipit says which in the
// arena.
//
// Threads: any. Intel SDM vol. 2B, RDTSC: it may be executed before earlier instructions have been, LFENCE
// before it waits for them. What comes after it cannot be seen by others before it was executed.
#pragma once

#include <cstdint>
#include <ctime>

#ifdef __x86_64__
#include <x86intrin.h>
#endif

namespace pipit::link
{

enum class Clock : std::uint32_t {
    Monotonic, // CLOCK_MONOTONIC, ns
    Counter,   // the processor's counter, in its own unit
};

inline std::uint64_t monotonic()
{
    timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return std::uint64_t(t.tv_sec) * 1'000'000'000u + std::uint64_t(t.tv_nsec);
}

// What this thread has had of the processor, ns.
inline std::uint64_t processorTime()
{
    timespec t;
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
    return std::uint64_t(t.tv_sec) * 1'000'000'000u + std::uint64_t(t.tv_nsec);
}

inline std::uint64_t counter()
{
#ifdef __x86_64__
    return __rdtsc();
#else
    return 0;
#endif
}
// Not before what this thread has read from others.
inline std::uint64_t counterAfterwards()
{
#ifdef __x86_64__
    _mm_lfence();
#endif
    return counter();
}

} // namespace pipit::link
