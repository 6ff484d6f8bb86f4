#include "core/runner/program.h"

#include "core/records/merger.h"
#include "core/runner/inspect.h"
#include "core/runner/kept_program.h"
#include "core/runner/listener.h"
#include "core/runner/spawn.h"
#include "link/control.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QHash>

#include <atomic>
#include <condition_variable>
#include <csignal>
#include <mutex>
#include <poll.h>
#include <sys/eventfd.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace pipit
{

using namespace std::chrono_literals;

std::int64_t monotonicNow()
{
    return std::int64_t(link::monotonic());
}

Result<QString> recorderLibrary(const QString &name)
{
    const QString beside = QCoreApplication::applicationDirPath();
    for (const QString &folder : {beside, beside + "/../lib/pipit", beside + "/../bin"})
        if (QFileInfo::exists(folder + '/' + name))
            return QDir::cleanPath(folder + '/' + name);
    return Problem{"The recorder's library " + name + " is missing", beside, "Build or install Pipit again"};
}

QString Ending::text(const QString &program) const
{
    if (!refused.isEmpty())
        return refused;
    const QString name = QFileInfo(program).fileName();
    if (signal)
        return QStringLiteral("%1 was ended by signal %2 (%3)").arg(name).arg(signal).arg(strsignal(signal));
    return QStringLiteral("%1 ended with exit code %2").arg(name).arg(exitCode);
}

struct Program::Private {
    Private(RecordSink &s, Callbacks c)
        : sink(s), callbacks(std::move(c)), clock(clockOfThisMachine()), moments(clock), merger(s, moments)
    {
    }

    RecordSink &sink;
    Callbacks callbacks;
    const link::Clock clock; // of all records
    Moments moments;
    RecordMerger merger;
    Listener listener;
    pid_t pid = -1;
    int pidFd = -1;
    std::unique_ptr<KeptProgram> kept; // null: it is our own child, with our own output
    std::int64_t startedAt = 0;
    std::thread thread;

    // Drain thread only.
    int streams = 0;
    QHash<int, std::uint64_t> lostTold; // by stream, by the thread itself
    std::int64_t looked = 0;            // when it was last asked whether a process is still the same program
    std::atomic<bool> rootEnded{false};
    const int wakeFd = eventfd(0, EFD_CLOEXEC | EFD_NONBLOCK); // somebody waits for what comes
    std::atomic<int> hurry{0};                                 // drains that are to come at once

    mutable std::mutex mutex; // guards what follows
    std::condition_variable changed;
    std::vector<std::shared_ptr<Peer>> peers; // those that live; the drain thread changes it
    bool over = false;
    Ending ending;
    std::uint64_t drains = 0;

    ~Private()
    {
        peers.clear(); // they may still wake us
        if (pidFd >= 0)
            close(pidFd);
        close(wakeFd);
    }

    std::uint64_t drainPeer(Peer &peer, bool last, std::uint64_t time);
    void drain(bool final);
    void takeNewcomers();
    void takeMessages(Peer &peer);
    void note(const QString &text);
    void lookAtPeers();
    void letGo(const std::shared_ptr<Peer> &peer);
    void readOutput();
    void waitForSomething(int quiet);
    void run();
    void finish();
    std::vector<std::shared_ptr<Peer>> all() const
    {
        std::lock_guard lock(mutex);
        return peers;
    }
};

void Program::Private::note(const QString &text)
{
    {
        std::lock_guard lock(mutex);
        ending.notes << text;
    }
    if (callbacks.note)
        callbacks.note(text);
}

std::uint64_t Program::Private::drainPeer(Peer &peer, bool last, std::uint64_t time)
{
    const Peer::Events events{
        [&](std::uint32_t tid) {
            sink.streamOpened(streams, {std::uint32_t(peer.pid()), tid, std::uint32_t(peer.pid()) == tid});
            return streams++;
        },
        [&](int stream, const link::Record &s, const char *text, std::size_t bytes) {
            if (link::Kind(s.kind) == link::Kind::Lost)
                lostTold[stream] = s.words[0];
            merger.add(stream, s, text, bytes);
        },
        [&](int stream, std::uint64_t lost) {
            if (lost != lostTold.value(stream)) { // it ended while its ring was full, and could not tell
                link::Record s;
                s.time = time;
                s.kind = std::uint16_t(link::Kind::Lost);
                s.words[0] = lost;
                merger.add(stream, s, nullptr, 0);
            }
            lostTold.remove(stream);
            merger.finish(stream);
        }};
    return peer.drain(events, last);
}

void Program::Private::drain(bool final)
{
    constexpr std::uint64_t lag = 1'000'000; // a record is published this soon after its clock was read
    const std::uint64_t before = moments.now();
    for (const auto &peer : all())
        (void)drainPeer(*peer, false, before);
    moments.read();
    const std::uint64_t until = final ? before : moments.before(before, lag);
    if (final)
        merger.flush();
    else
        merger.release(until);
    sink.caughtUp(std::int64_t(moments.nanoseconds(until)));
}

void Program::Private::takeNewcomers()
{
    for (Newcomer &who : listener.accept(clock)) {
        if (!who.peer) {
            std::unique_lock lock(mutex);
            const bool first = !ending.sawToolkit && ending.refused.isEmpty();
            if (first)
                ending.refused = who.refused;
            lock.unlock();
            if (!first)
                note(who.refused);
            continue;
        }
        who.peer->wakeBy(wakeFd);
        std::lock_guard lock(mutex);
        peers.push_back(std::move(who.peer));
        ending.sawToolkit = true;
        changed.notify_all();
    }
}

void Program::Private::takeMessages(Peer &peer)
{
    for (const QJsonObject &m : peer.receive())
        if (m["method"].toString() == link::tells::limit)
            note(m["params"].toObject()["text"].toString());
}

// What it wrote is read to the end, and then its memory is given back.
void Program::Private::letGo(const std::shared_ptr<Peer> &peer)
{
    takeMessages(*peer);
    peer->close();
    (void)drainPeer(*peer, true, moments.now());
    if (const auto missed = peer->unrecordedThreads())
        note(QStringLiteral("%1 threads were not recorded: the limit is %2 threads at a time")
                 .arg(missed)
                 .arg(link::arenaPlaces - 1));
    if (const pid_t child = peer->forkedChild(); child > 0)
        note(QStringLiteral("It continued in a forked process, %1, which is not recorded").arg(child));
    std::lock_guard lock(mutex);
    peers.erase(std::find(peers.begin(), peers.end(), peer));
}

void Program::Private::lookAtPeers()
{
    constexpr std::int64_t halfSecond = 500'000'000;
    const std::int64_t now = monotonicNow();
    const bool look = now - looked > halfSecond;
    if (look)
        looked = now;
    for (const auto &peer : all()) {
        takeMessages(*peer);
        if (look)
            if (const QString other = peer->replacedBy(); !other.isEmpty())
                note(QStringLiteral("It was replaced by %1 (exec), which is not recorded").arg(other));
        if (!peer->alive())
            letGo(peer);
    }
}

void Program::Private::readOutput()
{
    if (!kept)
        return;
    kept->read(callbacks.output);
    if (kept->end())
        rootEnded = true;
}

// For as long as the next drain may wait.
void Program::Private::waitForSomething(int quiet)
{
    std::vector<pollfd> fds{{rootEnded || kept ? -1 : pidFd, POLLIN, 0},
                            {kept && !rootEnded ? kept->descriptor() : -1, POLLIN, 0},
                            {wakeFd, POLLIN, 0}};
    for (const int fd : listener.descriptors())
        fds.push_back({fd, POLLIN, 0});
    const auto peersNow = all();
    bool quietNow = true;
    for (const auto &peer : peersNow) {
        fds.push_back({peer->descriptor(), POLLIN, 0});
        quietNow = peer->sleep() && quietNow;
    }
    // What fills a segment wakes us, so that the clock is for what is shown, not for what would be lost.
    constexpr int shortly = 1, soon = 8, atLeisure = 16, quietDrains = 4;
    const bool hurries = hurry.load() > 0;
    hurry -= hurries;
    poll(fds.data(), fds.size(), !quietNow ? 0 : hurries ? shortly : quiet < quietDrains ? soon : atLeisure);
    for (const auto &peer : peersNow)
        peer->wake();
    eventfd_t woken;
    (void)eventfd_read(wakeFd, &woken);
    if (fds[0].revents != 0)
        rootEnded = true;
}

// Until the program has ended, and every process of it that is recorded.
void Program::Private::run()
{
    // Ahead of those that write, where we may: there can be many more of them than of us.
    constexpr int ahead = -10;
    (void)setpriority(PRIO_PROCESS, id_t(syscall(SYS_gettid)), ahead);
    int quiet = 0; // drains in a row in which nothing came
    while (!rootEnded || !all().empty()) {
        waitForSomething(quiet);
        readOutput();
        takeNewcomers();
        lookAtPeers();
        const std::uint64_t before = merger.added();
        drain(false);
        quiet = merger.added() != before ? 0 : quiet + 1;
        std::lock_guard lock(mutex);
        ++drains;
        changed.notify_all();
    }
    finish();
}

void Program::Private::finish()
{
    KeptProgram::End end;
    if (kept) {
        end = *kept->end();
        if (kept->leftOut())
            note(QStringLiteral(
                     "%1 bytes of output are missing: the program printed faster than Pipit could read")
                     .arg(kept->leftOut()));
        if (!end.known)
            note("How it ended is unknown: the process that watched it was ended first");
    } else {
        siginfo_t info{};
        waitid(P_PID, id_t(pid), &info, WEXITED);
        end = {true, info.si_code, info.si_status};
    }
    takeNewcomers();
    for (const auto &peer : all())
        letGo(peer);
    drain(true);
    listener.close();
    Ending e;
    {
        std::lock_guard lock(mutex);
        if (end.known && end.code == CLD_EXITED)
            ending.exitCode = end.status;
        else
            ending.signal = end.status;
        over = true;
        ++drains;
        e = ending;
    }
    changed.notify_all();
    if (callbacks.ended)
        callbacks.ended(e);
}

Program::Program(std::unique_ptr<Private> p) : d(std::move(p)) {}

Result<std::unique_ptr<Program>> Program::start(const ProgramSpec &spec, RecordSink &sink,
                                                Callbacks callbacks)
{
    auto path = inspectProgram(spec.program);
    if (!path)
        return path.problem();
    auto shim = recorderLibrary("libpipit-shim.so");
    auto recorder = recorderLibrary("libpipit-recorder.so");
    if (!shim || !recorder)
        return shim ? recorder.problem() : shim.problem();
    auto p = std::make_unique<Private>(sink, std::move(callbacks));
    if (auto ok = p->listener.listen(); !ok)
        return ok.problem();
    const auto environment = environmentOf(spec, p->listener.path(), *shim, *recorder);
    p->startedAt = monotonicNow();
    if (spec.ownOutput) {
        if (const int error = spawnProgram(&p->pid, *path, spec, environment))
            return Problem{QStringLiteral("The program could not be started: %1").arg(strerror(error)), *path,
                           "Check that it runs without Pipit"};
    } else {
        auto kept = KeptProgram::start(*path, spec, environment);
        if (!kept)
            return kept.problem();
        p->kept = std::move(*kept);
        p->pid = p->kept->pid();
    }
    p->pidFd = int(syscall(SYS_pidfd_open, p->pid, 0));
    Private *raw = p.get();
    p->thread = std::thread([raw] { raw->run(); });
    return std::unique_ptr<Program>(new Program(std::move(p)));
}

Program::~Program()
{
    if (running())
        kill();
    d->thread.join();
}

Result<QJsonObject> Program::request(const QString &method, const QJsonObject &params,
                                     std::chrono::milliseconds timeout)
{
    std::shared_ptr<Peer> peer; // of a script's several, the first that lives
    {
        std::unique_lock lock(d->mutex);
        d->changed.wait_for(lock, timeout, [&] { return d->over || !d->peers.empty(); });
        if (d->over)
            return Problem{"The program has ended", {}, {}};
        if (d->peers.empty())
            return d->ending.sawToolkit
                       ? Problem{"The program has ended", {}, {}}
                       : Problem{"The program does not use Qt 6 yet", {}, "Record a Qt 6 Widgets program"};
        peer = d->peers.front();
    }
    return peer->request(method, params, timeout);
}

void Program::askToQuit()
{
    for (const auto &peer : d->all())
        (void)peer->send(link::asks::quit, {});
}

// The process that was started, and those of it that are recorded.
static void signalAll(pid_t root, bool rootEnded, const std::vector<std::shared_ptr<Peer>> &peers, int signal)
{
    if (!rootEnded)
        ::kill(root, signal);
    for (const auto &peer : peers)
        if (peer->pid() != root && peer->alive())
            ::kill(peer->pid(), signal);
}

void Program::terminate()
{
    {
        std::lock_guard lock(d->mutex);
        d->ending.asked = d->ending.asked || !d->over;
    }
    signalAll(d->pid, d->rootEnded, d->all(), SIGTERM);
}

void Program::kill()
{
    {
        std::lock_guard lock(d->mutex);
        d->ending.asked = d->ending.asked || !d->over;
    }
    signalAll(d->pid, d->rootEnded, d->all(), SIGKILL);
}

std::optional<std::chrono::milliseconds> Program::press(int step)
{
    if (step == 0) {
        askToQuit();
        return 2500ms;
    }
    if (step == 1) {
        terminate();
        return 800ms;
    }
    kill();
    return std::nullopt;
}

void Program::end()
{
    for (int step = 0;; ++step) {
        const auto patience = press(step);
        if (!patience || waitForEnd(*patience))
            return;
    }
}

bool Program::running() const
{
    std::lock_guard lock(d->mutex);
    return !d->over;
}

int Program::pid() const
{
    return d->pid;
}
std::int64_t Program::startedAt() const
{
    return d->startedAt;
}

bool Program::waitForEnd(std::chrono::milliseconds timeout)
{
    std::unique_lock lock(d->mutex);
    return d->changed.wait_for(lock, timeout, [&] { return d->over; });
}

void Program::drainNow()
{
    std::unique_lock lock(d->mutex);
    constexpr int enough = 4; // past the lag of the merge
    const auto target = d->drains + enough;
    d->hurry = enough + 1;
    eventfd_write(d->wakeFd, 1);
    d->changed.wait_for(lock, 500ms, [&] { return d->over || d->drains >= target; });
}

Ending Program::ending() const
{
    std::lock_guard lock(d->mutex);
    return d->ending;
}

} // namespace pipit
