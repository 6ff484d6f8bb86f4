#include "core/runs/sampler.h"

#include "core/runner/program.h"
#include "core/runner/stack_taker.h"
#include "core/trace/unwinder.h"

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

// How long a stretch lasts when its stacks are taken, in ms; every two seconds after that.
constexpr std::int64_t moments[] = {55, 90, 140, 220, 350, 600, 1000};
constexpr std::int64_t then = 2000;
constexpr std::int64_t allThreadsAfter = 500; // those of the others too, in case it waits for one of them
constexpr std::size_t mostPerSecond = 20;
constexpr std::int64_t ms = 1'000'000;

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
    };
    std::map<std::uint16_t, Stretch> stretches;
    std::map<pid_t, std::unique_ptr<Unwinder>> unwinders;
    std::deque<std::int64_t> lately; // when the last ones were taken

    bool mayTake(std::int64_t now);
    void take(pid_t pid, pid_t tid);
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
            if (wake.wait_for(lock, 20ms, [this] { return stop; }))
                return;
        }
        look();
    }
}

bool Sampler::Private::mayTake(std::int64_t now)
{
    while (!lately.empty() && now - lately.front() > 1000 * ms)
        lately.pop_front();
    if (lately.size() >= mostPerSecond)
        return false;
    lately.push_back(now);
    return true;
}

void Sampler::Private::take(pid_t pid, pid_t tid)
{
    const std::int64_t now = monotonicNow();
    if (!mayTake(now))
        return;
    const auto copy = StackTaker::take(pid, tid);
    if (!copy)
        return;
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
    auto &unwinder = unwinders[pid];
    if (!unwinder)
        unwinder = std::make_unique<Unwinder>(pid);
    s.frames = unwinder->frames(copy->registers, read);
    if (s.frames.empty())
        return;
    if (keep)
        keep(s);
    log.add(std::move(s));
}

void Sampler::Private::look()
{
    StackTaker::settle();
    const std::int64_t now = monotonicNow();
    for (std::uint16_t index = 0; index < trace.threadCount(); ++index) {
        const std::int64_t since = trace.unservedSince(index);
        if (!since || now - since < moments[0] * ms)
            continue;
        Stretch &s = stretches[index];
        if (s.since != since)
            s = {since, 0, false};
        if (now < s.next)
            continue;
        const ThreadInfo thread = trace.thread(index);
        take(pid_t(thread.pid), pid_t(thread.tid));
        const auto later = std::find_if(std::begin(moments), std::end(moments),
                                        [&](std::int64_t m) { return since + m * ms > now; });
        s.next = later != std::end(moments) ? since + *later * ms : now + then * ms;
        if (s.others || !thread.main || now - since < allThreadsAfter * ms)
            continue;
        s.others = true;
        for (const pid_t other : StackTaker::threadsOf(pid_t(thread.pid)))
            if (other != pid_t(thread.tid))
                take(pid_t(thread.pid), other);
    }
}

} // namespace pipit
