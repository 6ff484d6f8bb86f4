// Event loops, passes forced by processEvents(), and the waits between turns.
//
// A wait is a loop's own when the dispatcher of the calling thread makes it, whoever drives it. GLib
// calls a context's poll function for the waits of that context and for no others, so the context of
// each dispatcher gets one of ours; the toolkit's own dispatcher calls ppoll() with the descriptor that
// wakes it. A foreign loop that polls the context's descriptors by hand is known by the same descriptor.
// Every other poll, of a process, a socket or another context, blocks: it is work of its caller.
#include "link/control.h"
#include "recorder/acts.h"
#include "recorder/control.h"
#include "recorder/facts.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"
#include "recorder/ties.h"

#include <QtCore/QAbstractEventDispatcher>
#include <QtCore/QCoreApplication>
#include <QtCore/QEventLoop>
#include <QtCore/QJsonObject>
#include <QtCore/private/qeventdispatcher_glib_p.h>
#include <QtCore/private/qeventdispatcher_unix_p.h>

#include <algorithm>
#include <dlfcn.h>
#include <poll.h>

namespace pipit::recorder
{

using link::Kind;

namespace
{

using PollFn = int (*)(pollfd *, nfds_t, int);
using PpollFn = int (*)(pollfd *, nfds_t, const timespec *, const sigset_t *);
// As glib.h has it; its GPollFD is a pollfd.
using ContextPoll = int (*)(pollfd *, unsigned, int);

struct Glib {
    ContextPoll (*pollFunction)(GMainContext *) = nullptr;
    void (*setPollFunction)(GMainContext *, ContextPoll) = nullptr;
    void (*wakeUp)(GMainContext *) = nullptr;
    pipit_module module{};
    bool known() const { return pollFunction && setPollFunction && wakeUp; }
};

// The toolkit has loaded it by the time the recorder is; it is never looked for inside a poll.
Glib glib;

void findGlib()
{
    if (glib.known() || !pipit_module_named("libglib-2.0.so", &glib.module))
        return;
    if (void *library = dlopen(glib.module.file, RTLD_LAZY | RTLD_NOLOAD)) {
        glib.pollFunction =
            reinterpret_cast<decltype(glib.pollFunction)>(dlsym(library, "g_main_context_get_poll_func"));
        glib.setPollFunction =
            reinterpret_cast<decltype(glib.setPollFunction)>(dlsym(library, "g_main_context_set_poll_func"));
        glib.wakeUp = reinterpret_cast<decltype(glib.wakeUp)>(dlsym(library, "g_main_context_wakeup"));
        dlclose(library);
    }
}

PollFn realPoll = nullptr;
PpollFn realPpoll = nullptr;

bool isIn(const pipit_module &module, std::uint64_t address)
{
    return address >= module.from && address < module.to;
}

// The dispatcher of a thread, as its waits are known by it.
struct OwnWaits {
    const QAbstractEventDispatcher *seen = nullptr;
    GMainContext *context = nullptr;
    ContextPoll before = nullptr; // what the context called before ours
    int wakeUp = -1;              // the descriptor that wakes it, once known
    int tries = 0;
    bool inside = false; // a wait that is recorded already
};
thread_local OwnWaits own;

bool contains(const pollfd *fds, nfds_t count, int fd)
{
    return fd >= 0 && std::any_of(fds, fds + count, [fd](const pollfd &p) { return p.fd == fd; });
}

// Looks at the program's objects where that is due, as the recorder's own work.
void look(ThreadLog *log)
{
    log->mark(Kind::WaitBegin, 0);
    sweep();
    log->mark(Kind::WaitEnd);
}

// Waits in two parts where the objects are to be looked at meanwhile. `wait` takes a time in ms, negative for
// none.
template <class Wait> int waitAndLook(ThreadLog *log, std::uint32_t timeout, Wait &&wait)
{
    const std::uint32_t due = log->isMain() ? sweepDue() : link::NoTimeout;
    if (due == link::NoTimeout || due >= timeout)
        return wait(int(timeout));
    if (const int n = wait(int(due)); n != 0)
        return n;
    log->mark(Kind::WaitEnd);
    look(log);
    log->mark(Kind::WaitBegin, timeout);
    return wait(timeout == link::NoTimeout ? -1 : int(timeout - due));
}

template <class Wait> int waiting(ThreadLog *log, std::uint32_t timeout, Wait &&wait)
{
    own.inside = true;
    if (log->isMain() && sweepDue() == 0)
        look(log);
    if (acts && acts->worksBeforeWait()) {
        log->mark(Kind::WaitBegin, 0);
        acts->beforeWait(timeout != 0);
        log->mark(Kind::WaitEnd);
    } else if (acts) {
        acts->loopServed();
    }
    if (timeout == 0)
        log->mark(Kind::FullPoll);
    else
        log->mark(Kind::WaitBegin, timeout);
    const int n = timeout == 0 ? wait(0) : waitAndLook(log, timeout, wait);
    if (timeout != 0)
        log->mark(Kind::WaitEnd);
    own.inside = false;
    return n;
}

std::uint32_t timeoutOf(int ms)
{
    return ms < 0 ? link::NoTimeout : std::uint32_t(ms);
}

// The one descriptor that becomes readable when the context is woken. Once a thread; the pass that
// follows ends at once, and the loop goes on.
void learnWakeUp(const pollfd *fds, unsigned count)
{
    constexpr unsigned most = 64;
    pollfd first[most], second[most];
    if (own.wakeUp >= 0 || own.tries >= 3 || count > most || !glib.known())
        return;
    ++own.tries;
    std::copy(fds, fds + count, first);
    std::copy(fds, fds + count, second);
    realPoll(first, count, 0);
    glib.wakeUp(own.context);
    realPoll(second, count, 0);
    int found = -1, changed = 0;
    for (unsigned i = 0; i < count; ++i)
        if (!(first[i].revents & POLLIN) && (second[i].revents & POLLIN)) {
            found = fds[i].fd;
            ++changed;
        }
    if (changed == 1)
        own.wakeUp = found;
}

// The context's poll function.
int pollOfContext(pollfd *fds, unsigned count, int timeout)
{
    const auto poll = [&](int ms) {
        return own.before ? own.before(fds, count, ms) : realPoll(fds, count, ms);
    };
    ThreadLog *log = ThreadLog::existing();
    if (!log || !own.context || own.inside)
        return poll(timeout);
    learnWakeUp(fds, count);
    return waiting(log, timeoutOf(timeout), poll);
}

void tellUnseenTurns(const QAbstractEventDispatcher *dispatcher)
{
    notifyPipit(link::tells::limit,
                {{"what", "turns"},
                 {"text", QStringLiteral("Turns of the loop are not seen, so stalls are unknown: the program "
                                         "has an event dispatcher of its own, %1.")
                              .arg(QLatin1String(dispatcher->metaObject()->className()))}});
}

// Called before a loop of this thread can wait. Does nothing when the dispatcher is known already.
void watchDispatcher()
{
    const QAbstractEventDispatcher *dispatcher = QAbstractEventDispatcher::instance();
    if (!dispatcher || dispatcher == own.seen)
        return;
    own = OwnWaits{.seen = dispatcher};
    const auto *d = QObjectPrivate::get(dispatcher);
    const QMetaObject *is = dispatcher->metaObject();
    if (is->inherits(&QEventDispatcherUNIX::staticMetaObject)) {
        own.wakeUp = static_cast<const QEventDispatcherUNIXPrivate *>(d)->threadPipe.fds[0];
    } else if (is->inherits(&QEventDispatcherGlib::staticMetaObject) && glib.known()) {
        own.context = static_cast<const QEventDispatcherGlibPrivate *>(d)->mainContext;
        own.before = glib.pollFunction(own.context);
        if (own.before == pollOfContext)
            own.before = nullptr;
        glib.setPollFunction(own.context, &pollOfContext);
    } else {
        tellUnseenTurns(dispatcher);
    }
}

int hookPoll(pollfd *fds, nfds_t count, int timeout)
{
    const auto caller = reinterpret_cast<std::uint64_t>(__builtin_return_address(0));
    ThreadLog *log = ThreadLog::existing();
    if (!log || own.inside)
        return realPoll(fds, count, timeout);
    if (isIn(glib.module, caller)) // a loop that nobody of ours has begun
        watchDispatcher();
    if (!contains(fds, count, own.wakeUp))
        return realPoll(fds, count, timeout);
    return waiting(log, timeoutOf(timeout), [&](int ms) { return realPoll(fds, count, ms); });
}

int hookPpoll(pollfd *fds, nfds_t count, const timespec *timeout, const sigset_t *mask)
{
    ThreadLog *log = ThreadLog::existing();
    if (!log || own.inside || !contains(fds, count, own.wakeUp))
        return realPpoll(fds, count, timeout, mask);
    const std::uint32_t ms =
        timeout ? std::uint32_t(timeout->tv_sec * 1000 + (timeout->tv_nsec + 999'999) / 1'000'000)
                : link::NoTimeout;
    return waiting(log, ms, [&](int until) {
        const timespec part{until / 1000, until % 1000 * 1'000'000L};
        return realPpoll(fds, count,
                         until < 0                    ? nullptr
                         : std::uint32_t(until) == ms ? timeout
                                                      : &part,
                         mask);
    });
}

int hookExec(QEventLoop *loop, QEventLoop::ProcessEventsFlags flags)
{
    using Real = int (*)(QEventLoop *, QEventLoop::ProcessEventsFlags);
    static const auto real = reinterpret_cast<Real>(realFunction(StubLoopExec));
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return real(loop, flags);
    watchDispatcher();
    const std::uint64_t object = log->object(loop);
    OpenSpan span(log, Kind::LoopEnd, object);
    log->begin(Kind::LoopBegin, 0, object);
    const int result = real(loop, flags);
    cameOf(log, link::Tie::LoopEnd, object);
    return result;
}

// Every way to ask for a pass: records it around `pass`.
template <class Pass> auto forced(QEventLoop::ProcessEventsFlags flags, Pass &&pass)
{
    ThreadLog *log = ThreadLog::current();
    if (!log)
        return pass();
    watchDispatcher();
    OpenSpan span(log, Kind::ProcessEventsEnd, 0);
    log->begin(Kind::ProcessEventsBegin, std::uint32_t(int(flags)));
    return pass();
}

using Flags = QEventLoop::ProcessEventsFlags;

void hookProcessEvents(Flags flags)
{
    static const auto real = reinterpret_cast<void (*)(Flags)>(realFunction(StubProcessEvents));
    forced(flags, [&] { real(flags); });
}

void hookProcessEventsFor(Flags flags, int ms)
{
    static const auto real = reinterpret_cast<void (*)(Flags, int)>(realFunction(StubProcessEventsFor));
    forced(flags, [&] { real(flags, ms); });
}

// exec() and the call below come through here too; they are recorded as what they are.
bool hookLoopPass(QEventLoop *loop, Flags flags)
{
    static const auto real = reinterpret_cast<bool (*)(QEventLoop *, Flags)>(realFunction(StubLoopPass));
    static thread_local pipit_module core{};
    if (!core.to)
        pipit_module_named("libQt6Core.so", &core);
    if ((flags & QEventLoop::EventLoopExec) ||
        isIn(core, reinterpret_cast<std::uint64_t>(__builtin_return_address(0))))
        return real(loop, flags);
    return forced(flags, [&] { return real(loop, flags); });
}

void hookLoopPassFor(QEventLoop *loop, Flags flags, int ms)
{
    static const auto real =
        reinterpret_cast<void (*)(QEventLoop *, Flags, int)>(realFunction(StubLoopPassFor));
    forced(flags, [&] { real(loop, flags, ms); });
}

} // namespace

void installLoops()
{
    findGlib();
    realPoll = reinterpret_cast<PollFn>(realFunction(StubPoll));
    realPpoll = reinterpret_cast<PpollFn>(realFunction(StubPpoll));
    setStub(StubLoopExec, reinterpret_cast<void *>(&hookExec));
    setStub(StubProcessEvents, reinterpret_cast<void *>(&hookProcessEvents));
    setStub(StubProcessEventsFor, reinterpret_cast<void *>(&hookProcessEventsFor));
    setStub(StubLoopPass, reinterpret_cast<void *>(&hookLoopPass));
    setStub(StubLoopPassFor, reinterpret_cast<void *>(&hookLoopPassFor));
    setStub(StubPoll, reinterpret_cast<void *>(&hookPoll));
    setStub(StubPpoll, reinterpret_cast<void *>(&hookPpoll));
}

} // namespace pipit::recorder
