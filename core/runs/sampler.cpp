#include "core/runs/sampler.h"

#include "core/runner/program.h"
#include "core/runner/python_frames.h"
#include "core/runner/stack_taker.h"
#include "core/runs/python_stack.h"
#include "core/trace/unwinder.h"

#include <QFile>

#include <algorithm>
#include <condition_variable>
#include <cstring>
#include <deque>
#include <map>
#include <mutex>
#include <pthread.h>
#include <sys/uio.h>

namespace pipit
{

using namespace std::chrono_literals;

namespace
{

// How long a stretch lasts when its stacks are taken. The first are early, for a stretch that is to become a
// stall must have been looked at before it ends; then they are as far apart as what they shall tell apart may
// be.
constexpr std::int64_t ms = 1'000'000;
constexpr std::int64_t moments[] = {24, 34, 46, 60, 80};
std::int64_t nextMoment(std::int64_t lasted)
{
    for (const std::int64_t m : moments)
        if (lasted < m * ms)
            return m * ms;
    const std::int64_t pause = lasted < 1000 * ms ? 30 : lasted < 10'000 * ms ? 100 : 1000;
    return lasted + pause * ms;
}
constexpr std::int64_t allThreadsAfter = 500; // those of the others too, in case it waits for one of them
constexpr std::size_t mostPerSecond = 40, mostOfOthers = 20; // others: than main threads and holders of locks
constexpr std::int64_t shortest = 8 * ms;                    // under it nothing is read of a thread

} // namespace

struct Sampler::Private {
    const TraceModel &trace;
    StackLog &log;
    Keep keep;
    std::mutex mutex; // guards stop
    std::condition_variable wake;
    bool stop = false;
    std::thread thread;

    // Its own thread only.
    struct Stretch {
        std::int64_t since = 0, next = 0;
        bool others = false;
        std::int64_t readAt = 0; // when the processor's counts were read; 0: never
        Processor read;
    };
    std::map<std::uint16_t, Stretch> stretches;
    struct Process {
        explicit Process(pid_t pid) : unwinder(pid), python(std::make_unique<PythonFrames>(pid)) {}
        Unwinder unwinder;
        std::unique_ptr<PythonFrames> python;
    };
    std::map<pid_t, std::unique_ptr<Process>> processes;
    std::deque<std::int64_t> lately; // when the last ones were taken

    bool mayTake(std::int64_t now, bool matters);
    void readProcessor(Stretch &stretch, StackSample &s);
    std::vector<StackFrame> framesOf(Process &process, pid_t pid, std::vector<StackFrame> native,
                                     const std::vector<PythonFrame> &python);
    std::optional<StackSample> take(pid_t pid, pid_t tid, Stretch *stretch = nullptr, bool matters = false);
    void look(std::uint16_t index, std::int64_t now);
    void look();
    void run();
};

Sampler::Sampler(const TraceModel &trace, StackLog &log, Keep keep)
    : d(new Private{trace, log, std::move(keep), {}, {}, false, {}, {}, {}, {}})
{
    d->thread = std::thread([this] { d->run(); });
}

Sampler::~Sampler()
{
    {
        std::lock_guard lock(d->mutex);
        d->stop = true;
    }
    d->wake.notify_all();
    d->thread.join();
}

void Sampler::Private::run()
{
    pthread_setname_np(pthread_self(), "stacks");
    for (;;) {
        {
            std::unique_lock lock(mutex);
            if (wake.wait_for(lock, 10ms, [this] { return stop; }))
                return;
        }
        look();
    }
}

bool Sampler::Private::mayTake(std::int64_t now, bool matters)
{
    while (!lately.empty() && now - lately.front() > 1000 * ms)
        lately.pop_front();
    if (lately.size() >= (matters ? mostPerSecond : mostOfOthers))
        return false;
    lately.push_back(now);
    return true;
}

// What came of the counts since they were read last in this stretch.
void Sampler::Private::readProcessor(Stretch &stretch, StackSample &s)
{
    const auto now = StackTaker::processor(pid_t(s.pid), pid_t(s.tid));
    if (!now)
        return;
    const std::int64_t at = monotonicNow();
    if (stretch.readAt) {
        s.over = at - stretch.readAt;
        s.ran = now->ran - stretch.read.ran;
        s.delayed = now->waited - stretch.read.waited;
    }
    stretch.readAt = at;
    stretch.read = *now;
}

// With what Python ran, where the process has an interpreter; one that was loaded since is looked for.
std::vector<StackFrame> Sampler::Private::framesOf(Process &process, pid_t pid,
                                                   std::vector<StackFrame> native,
                                                   const std::vector<PythonFrame> &python)
{
    if (!process.python->there() && std::any_of(native.begin(), native.end(), [](const StackFrame &f) {
            return f.module.contains("/libpython3.");
        }))
        process.python = std::make_unique<PythonFrames>(pid);
    if (!process.python->there())
        return native;
    const auto runsCode = [&](const StackFrame &f) { return process.python->runsCode(f.module, f.offset); };
    if (const QString why = process.python->unknown(); !why.isEmpty())
        return withoutPython(std::move(native), runsCode, why);
    return withPython(native, python, runsCode,
                      QFile::symLinkTarget(QStringLiteral("/proc/%1/cwd").arg(pid)));
}

std::optional<StackSample> Sampler::Private::take(pid_t pid, pid_t tid, Stretch *stretch, bool matters)
{
    const std::int64_t now = monotonicNow();
    if (!mayTake(now, matters || pid == tid))
        return std::nullopt;
    auto &process = processes[pid];
    if (!process)
        process = std::make_unique<Process>(pid);
    std::vector<PythonFrame> python;
    const auto copy = StackTaker::take(pid, tid, [&] { python = process->python->of(tid); });
    if (!copy)
        return std::nullopt;
    const auto read = [&](std::uint64_t address, std::uint64_t *word) {
        const std::uint64_t at = address - copy->stackAt;
        if (address >= copy->stackAt && at + sizeof *word <= copy->stack.size()) {
            std::memcpy(word, copy->stack.data() + at, sizeof *word);
            return true;
        }
        return false;
    };
    StackSample s;
    s.time = now;
    s.pid = std::uint32_t(pid);
    s.tid = std::uint32_t(tid);
    s.running = copy->running;
    s.call = copy->call;
    if (s.lock = copy->lock; s.lock) {
        const LockOwners owners = StackTaker::ownersOf(pid, s.lock);
        s.mutexOwner = std::uint32_t(owners.mutex);
        s.recursiveOwner = std::uint32_t(owners.recursive);
        s.interpretersLock = process->python->isInterpretersLock(s.lock);
        if (s.interpretersLock)
            s.interpretersOwner = std::uint32_t(process->python->interpretersLockHolder());
    }
    s.frames = framesOf(*process, pid, process->unwinder.frames(copy->registers, read), python);
    if (stretch)
        readProcessor(*stretch, s);
    if (s.frames.empty())
        return std::nullopt;
    if (keep)
        keep(s);
    log.add(s);
    return s;
}

void Sampler::Private::look(std::uint16_t index, std::int64_t now)
{
    const std::int64_t since = trace.unservedSince(index);
    if (!since)
        return;
    const ThreadInfo thread = trace.thread(index);
    const auto pid = pid_t(thread.pid), tid = pid_t(thread.tid);
    Stretch &s = stretches[index];
    if (s.since != since)
        s = {since, 0, false, 0, {}};
    // Seen early, so that it can be told what came since; of one that is over soon no more is asked.
    if (!s.readAt && now - since >= shortest)
        if (const auto read = StackTaker::processor(pid, tid))
            s.read = *read, s.readAt = monotonicNow();
    if (now - since < moments[0] * ms || now < s.next)
        return;
    const auto taken = take(pid, tid, &s);
    s.next = since + nextMoment(now - since);
    if (s.others)
        return;
    if (thread.main && now - since >= allThreadsAfter * ms) {
        s.others = true;
        for (const pid_t other : StackTaker::threadsOf(pid))
            if (other != tid)
                take(pid, other);
    } else if (taken) { // who holds what it waits for
        for (const std::uint32_t owner : {taken->mutexOwner, taken->recursiveOwner, taken->interpretersOwner})
            if (owner && pid_t(owner) != tid)
                take(pid, pid_t(owner), nullptr, true);
    }
}

void Sampler::Private::look()
{
    StackTaker::settle();
    const std::int64_t now = monotonicNow();
    for (std::uint16_t index = 0; index < trace.threadCount(); ++index)
        look(index, now);
}

} // namespace pipit
