#include "core/runner/stack_taker.h"

#include <algorithm>
#include <cerrno>
#include <cinttypes>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <dirent.h>
#include <memory>
#include <sys/ptrace.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <sys/user.h>
#include <sys/wait.h>
#include <unistd.h>

namespace pipit
{

namespace
{

struct Now {
    bool known = false, running = false;
    int call = -1;
    std::uint64_t sp = 0, pc = 0, first = 0; // first: of the call's arguments
};

// What the thread does, as the system tells it: "running", or the call that it waits in.
Now ask(pid_t pid, pid_t tid)
{
    char path[64], line[256] = {};
    std::snprintf(path, sizeof path, "/proc/%d/task/%d/syscall", pid, tid);
    const std::unique_ptr<std::FILE, int (*)(std::FILE *)> file(std::fopen(path, "re"), std::fclose);
    Now now;
    if (!file || !std::fgets(line, sizeof line, file.get()))
        return now;
    now.known = true;
    now.running = std::strncmp(line, "running", 7) == 0;
    std::uint64_t a[6]{};
    if (!now.running &&
        std::sscanf(line,
                    "%d %" SCNx64 " %" SCNx64 " %" SCNx64 " %" SCNx64 " %" SCNx64 " %" SCNx64 " %" SCNx64
                    " %" SCNx64,
                    &now.call, a, a + 1, a + 2, a + 3, a + 4, a + 5, &now.sp, &now.pc) != 9 &&
        std::sscanf(line, "-1 %" SCNx64 " %" SCNx64, &now.sp, &now.pc) != 2)
        now.known = false;
    else if (now.call >= 0)
        now.first = a[0];
    return now;
}

template <class T> std::optional<T> readFrom(pid_t pid, std::uint64_t address)
{
    T value{};
    iovec to{&value, sizeof value}, from{reinterpret_cast<void *>(address), sizeof value};
    if (process_vm_readv(pid, &to, 1, &from, 1, 0) != ssize_t(sizeof value))
        return std::nullopt;
    return value;
}

// Calls that say EINTR when a thread is held in them, however it is done (signal(7)).
bool wouldNotice(int call)
{
    switch (call) {
    case SYS_epoll_wait:
    case SYS_epoll_pwait:
    case SYS_semop:
    case SYS_semtimedop:
    case SYS_rt_sigtimedwait:
    case SYS_io_getevents:
    case SYS_read:
    case SYS_recvfrom:
    case SYS_recvmsg:
    case SYS_recvmmsg:
    case SYS_sendto:
    case SYS_sendmsg:
    case SYS_accept:
    case SYS_accept4:
    case SYS_connect:
    case SYS_msgrcv:
    case SYS_msgsnd:
        return true;
    default:
        return false;
    }
}

void copyStack(pid_t pid, StackCopy &copy)
{
    copy.stackAt = copy.registers[7];
    copy.stack.resize(StackTaker::mostBytes);
    std::size_t got = 0;
    while (got < copy.stack.size()) { // page by page: the stack may end before
        const std::uint64_t at = copy.stackAt + got;
        const std::size_t n = std::min<std::size_t>(copy.stack.size() - got, 4096 - at % 4096);
        iovec to{copy.stack.data() + got, n}, from{reinterpret_cast<void *>(at), n};
        const ssize_t read = process_vm_readv(pid, &to, 1, &from, 1, 0);
        if (read <= 0)
            break;
        got += std::size_t(read);
    }
    copy.stack.resize(got);
}

// Held: stopped by us, and by nothing else.
bool hold(pid_t tid, int *signal)
{
    *signal = 0;
    if (ptrace(PTRACE_INTERRUPT, tid, nullptr, nullptr) != 0)
        return false;
    for (int tries = 0; tries < 200; ++tries) { // a thread in the depths of the system may take its time
        siginfo_t info{};
        // Stops only: how it ends is for whoever started it.
        if (waitid(P_PID, id_t(tid), &info, WSTOPPED | WNOHANG | __WALL) == 0 && info.si_pid == tid) {
            if (info.si_status >> 8 == 0) // it was about to get a signal, and shall
                *signal = info.si_status;
            return true;
        }
        usleep(100);
    }
    return false;
}

pid_t parentOf(pid_t pid)
{
    char path[64], line[512] = {};
    std::snprintf(path, sizeof path, "/proc/%d/stat", pid);
    const std::unique_ptr<std::FILE, int (*)(std::FILE *)> file(std::fopen(path, "re"), std::fclose);
    const char *name = file && std::fgets(line, sizeof line, file.get()) ? std::strrchr(line, ')') : nullptr;
    int parent = -1;
    return name && std::sscanf(name + 1, " %*c %d", &parent) == 1 ? parent : -1;
}

// What ends while it is held is let go by being waited for; until then whoever started it is not told. How
// our own child ended is for the one who waits for it.
void letGoOfDead(pid_t pid, pid_t tid)
{
    siginfo_t info{};
    if (tid != pid || parentOf(pid) != getpid())
        waitid(P_PID, id_t(tid), &info, WEXITED | WNOHANG | __WALL);
}

struct Held {
    pid_t pid, tid;
    int signal;
};
thread_local std::vector<Held> held; // that are not let go of yet

// False while it is still on its way to the stop that it was asked for.
bool letGo(const Held &h)
{
    if (ptrace(PTRACE_DETACH, h.tid, nullptr, h.signal) == 0)
        return true;
    letGoOfDead(h.pid, h.tid);
    // Only a look: of one that is dying nothing is to be had until its other threads are gone.
    siginfo_t info{};
    if (waitid(P_PID, id_t(h.tid), &info, WSTOPPED | WEXITED | WNOHANG | WNOWAIT | __WALL) != 0)
        return true; // it is no longer ours
    if (info.si_pid != h.tid || (info.si_code != CLD_TRAPPED && info.si_code != CLD_STOPPED))
        return false;
    waitid(P_PID, id_t(h.tid), &info, WSTOPPED | WNOHANG | __WALL);
    const int signal = info.si_status >> 8 == 0 ? info.si_status : h.signal;
    return ptrace(PTRACE_DETACH, h.tid, nullptr, signal) == 0;
}

bool takeHeld(pid_t pid, pid_t tid, StackCopy &copy, const std::function<void()> &meanwhile)
{
    if (ptrace(PTRACE_SEIZE, tid, nullptr, nullptr) != 0)
        return false;
    int signal = 0;
    const bool stopped = hold(tid, &signal);
    user_regs_struct r{};
    const bool read = stopped && ptrace(PTRACE_GETREGS, tid, nullptr, &r) == 0;
    if (read) {
        copy.registers = {r.rax, r.rdx, r.rcx, r.rbx, r.rsi, r.rdi, r.rbp, r.rsp, r.r8,
                          r.r9,  r.r10, r.r11, r.r12, r.r13, r.r14, r.r15, r.rip};
        copy.allRegisters = true;
        copyStack(pid, copy);
        if (meanwhile)
            meanwhile();
    }
    if (!letGo({pid, tid, signal}))
        held.push_back({pid, tid, signal}); // deep in the system: it stops later, and goes on then
    return read;
}

} // namespace

std::optional<StackCopy> StackTaker::take(pid_t pid, pid_t tid, const std::function<void()> &meanwhile)
{
    const Now now = ask(pid, tid);
    if (!now.known)
        return std::nullopt;
    StackCopy copy;
    copy.running = now.running;
    copy.call = now.call;
    if (now.call == SYS_futex)
        copy.lock = now.first;
    if (now.running || !wouldNotice(now.call))
        return takeHeld(pid, tid, copy, meanwhile) ? std::optional(std::move(copy)) : std::nullopt;
    copy.registers[7] = now.sp;
    copy.registers[16] = now.pc;
    copyStack(pid, copy);
    if (meanwhile)
        meanwhile();
    return copy;
}

void StackTaker::settle()
{
    std::erase_if(held, letGo);
}

std::optional<Processor> StackTaker::processor(pid_t pid, pid_t tid)
{
    char path[64];
    std::snprintf(path, sizeof path, "/proc/%d/task/%d/schedstat", pid, tid);
    const std::unique_ptr<std::FILE, int (*)(std::FILE *)> file(std::fopen(path, "re"), std::fclose);
    Processor p;
    if (!file || std::fscanf(file.get(), "%" SCNd64 " %" SCNd64, &p.ran, &p.waited) != 2)
        return std::nullopt;
    return p;
}

LockOwners StackTaker::ownersOf(pid_t pid, std::uint64_t lock)
{
    // nptl/bits/struct_mutex.h: __lock, __count, __owner, …
    constexpr std::uint64_t ownerInMutex = 8;
    // qmutex.h: QRecursiveMutex { QAtomicPointer<void> owner; uint count; QMutex mutex; }
    constexpr std::uint64_t ownerBeforeLock = 16;
    // nptl/descr.h, x86-64: where struct pthread keeps its tid since glibc 2.4
    constexpr std::uint64_t tidInThread = 0x2d0;

    LockOwners owners;
    const std::vector<pid_t> threads = threadsOf(pid);
    const auto known = [&](std::optional<pid_t> tid) {
        return tid && std::find(threads.begin(), threads.end(), *tid) != threads.end() ? *tid : 0;
    };
    owners.mutex = known(readFrom<pid_t>(pid, lock + ownerInMutex));
    if (const auto thread = readFrom<std::uint64_t>(pid, lock - ownerBeforeLock); thread && *thread > 4096)
        owners.recursive = known(readFrom<pid_t>(pid, *thread + tidInThread));
    return owners;
}

std::vector<pid_t> StackTaker::threadsOf(pid_t pid)
{
    std::vector<pid_t> all;
    char path[64];
    std::snprintf(path, sizeof path, "/proc/%d/task", pid);
    const std::unique_ptr<DIR, int (*)(DIR *)> folder(opendir(path), closedir);
    for (const dirent *e; folder && (e = readdir(folder.get()));)
        if (const pid_t tid = pid_t(std::atoi(e->d_name)); tid > 0)
            all.push_back(tid);
    return all;
}

} // namespace pipit
