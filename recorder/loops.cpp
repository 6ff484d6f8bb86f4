// Event loops, passes forced by processEvents(), and the waits between turns.
//
// The wait is seen where it really happens: poll() called by GLib's main loop, or ppoll() called
// by the tool-kit's own dispatcher. Other callers of these functions are no waits of a loop.
#include "recorder/hands.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEventLoop>

#include <poll.h>

namespace pipit::recorder
{

using link::Kind;

namespace
{

// The code of the two libraries whose waits are those of a loop.
struct Waiters {
    pipit_module glib{}, core{};
};

// GLib may be loaded after the recorder, with the platform plugin. A copy for each thread.
const Waiters &waiters()
{
    static thread_local Waiters w;
    if (!w.glib.to)
        pipit_module_named("libglib-2.0.so", &w.glib);
    if (!w.core.to)
        pipit_module_named("libQt6Core.so", &w.core);
    return w;
}

bool isIn(const pipit_module &module, std::uint64_t address)
{
    return address >= module.from && address < module.to;
}

using PollFn = int (*)(pollfd *, nfds_t, int);
using PpollFn = int (*)(pollfd *, nfds_t, const timespec *, const sigset_t *);

template <class Wait> int waiting(ThreadLog *log, std::uint32_t timeout, Wait &&wait)
{
    beforeWait(timeout != 0);
    if (timeout == 0) {
        log->mark(Kind::FullPoll);
        return wait();
    }
    log->mark(Kind::WaitBegin, timeout);
    const int n = wait();
    log->mark(Kind::WaitEnd);
    return n;
}

int hookPoll(pollfd *fds, nfds_t count, int timeout)
{
    static const auto real = reinterpret_cast<PollFn>(realFunction(StubPoll));
    const auto caller = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    ThreadLog *log = ThreadLog::existing();
    if (!log || !isIn(waiters().glib, caller))
        return real(fds, count, timeout);
    return waiting(log, timeout < 0 ? link::NoTimeout : std::uint32_t(timeout),
                   [&] { return real(fds, count, timeout); });
}

int hookPpoll(pollfd *fds, nfds_t count, const timespec *timeout, const sigset_t *mask)
{
    static const auto real = reinterpret_cast<PpollFn>(realFunction(StubPpoll));
    const auto caller = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    ThreadLog *log = ThreadLog::existing();
    if (!log || !isIn(waiters().core, caller))
        return real(fds, count, timeout, mask);
    const std::uint32_t ms =
        timeout ? std::uint32_t(timeout->tv_sec * 1000 + (timeout->tv_nsec + 999'999) / 1'000'000)
                : link::NoTimeout;
    return waiting(log, ms, [&] { return real(fds, count, timeout, mask); });
}

int hookExec(QEventLoop *loop, QEventLoop::ProcessEventsFlags flags)
{
    using Real = int (*)(QEventLoop *, QEventLoop::ProcessEventsFlags);
    static const auto real = reinterpret_cast<Real>(realFunction(StubLoopExec));
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return real(loop, flags);
    const std::uint64_t object = log->object(loop);
    OpenSpan span(log, Kind::LoopEnd, object);
    log->begin(Kind::LoopBegin, 0, object);
    return real(loop, flags);
}

void hookProcessEvents(QEventLoop::ProcessEventsFlags flags)
{
    using Real = void (*)(QEventLoop::ProcessEventsFlags);
    static const auto real = reinterpret_cast<Real>(realFunction(StubProcessEvents));
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return real(flags);
    OpenSpan span(log, Kind::ProcessEventsEnd, 0);
    log->begin(Kind::ProcessEventsBegin, std::uint32_t(int(flags)));
    real(flags);
}

void hookProcessEventsFor(QEventLoop::ProcessEventsFlags flags, int ms)
{
    using Real = void (*)(QEventLoop::ProcessEventsFlags, int);
    static const auto real = reinterpret_cast<Real>(realFunction(StubProcessEventsFor));
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return real(flags, ms);
    OpenSpan span(log, Kind::ProcessEventsEnd, 0);
    log->begin(Kind::ProcessEventsBegin, std::uint32_t(int(flags)));
    real(flags, ms);
}

} // namespace

void installLoops()
{
    waiters();
    setStub(StubLoopExec, reinterpret_cast<void *>(&hookExec));
    setStub(StubProcessEvents, reinterpret_cast<void *>(&hookProcessEvents));
    setStub(StubProcessEventsFor, reinterpret_cast<void *>(&hookProcessEventsFor));
    setStub(StubPoll, reinterpret_cast<void *>(&hookPoll));
    setStub(StubPpoll, reinterpret_cast<void *>(&hookPpoll));
}

} // namespace pipit::recorder
