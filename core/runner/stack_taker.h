// Copies a thread's registers and the top of its stack, from outside.
//
// Threads: one, always the same: the system binds who traces to a thread. A running thread is held for some
// 60 µs; one that waits in a system call goes on waiting. What a call cannot be interrupted in without the
// program noticing is read without its registers. Nothing is left behind in the process.
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <sys/types.h>
#include <vector>

namespace pipit
{

struct StackCopy {
    // As DWARF numbers them on this machine: rax rdx rcx rbx rsi rdi rbp rsp r8 … r15 rip.
    std::array<std::uint64_t, 17> registers{};
    bool allRegisters = false; // else only rsp and rip are known
    bool running = false;
    int call = -1;          // the system call it waits in
    std::uint64_t lock = 0; // the word that it waits for, where the call is futex
    std::uint64_t stackAt = 0;
    std::vector<char> stack;
};

// How long a thread ran and how long it could have run but had no processor, since it began; in
// nanoseconds, as the scheduler counts them (/proc/PID/task/TID/schedstat).
struct Processor {
    std::int64_t ran = 0, waited = 0;
};

// Which thread holds a lock, read as what it may be: only who knows what the waiting thread called can say
// which of the two is meant, if any. 0: none of the process's threads.
struct LockOwners {
    pid_t mutex = 0;     // a pthread_mutex_t, so a std::mutex too: glibc keeps the owner's number in it
    pid_t recursive = 0; // a QRecursiveMutex: it keeps the owner's pthread_t
};

class StackTaker
{
public:
    // Null when it cannot be had: the thread is gone, or a debugger holds it.
    // `meanwhile` is called while the thread stands still, and shall be short.
    static std::optional<StackCopy> take(pid_t pid, pid_t tid, const std::function<void()> &meanwhile = {});
    // Lets go of what could not be stopped in time, as soon as it stops; to be called every few milliseconds.
    // What is left is let go of by the system when the calling thread ends.
    static void settle();
    static std::vector<pid_t> threadsOf(pid_t pid);
    static std::optional<Processor> processor(pid_t pid, pid_t tid);
    static LockOwners ownersOf(pid_t pid, std::uint64_t lock);
    static constexpr std::size_t mostBytes = 64 << 10;
};

} // namespace pipit
