#include "core/runner/program.h"

#include "core/records/merger.h"
#include "core/runner/channel.h"
#include "core/runner/inspect.h"
#include "link/control.h"
#include "link/ring.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QJsonArray>

#include <condition_variable>
#include <csignal>
#include <fcntl.h>
#include <mutex>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

extern char **environ;

namespace pipit
{

using namespace std::chrono_literals;

std::int64_t monotonicNow()
{
    timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return std::int64_t(t.tv_sec) * 1'000'000'000 + t.tv_nsec;
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
    Private(RecordSink &s, Callbacks c) : sink(s), callbacks(std::move(c)), merger(s) {}

    RecordSink &sink;
    Callbacks callbacks;
    RecordMerger merger;
    Channel channel;
    pid_t pid = -1;
    int pidFd = -1, outFd = -1, errFd = -1;
    std::int64_t startedAt = 0;
    std::thread thread;

    struct Ring {
        link::RingReader reader;
        std::size_t bytes = 0;
        std::uint64_t lostTold = 0; // by the thread itself
    };
    std::vector<Ring> rings; // drain thread only

    mutable std::mutex mutex; // guards what follows
    std::condition_variable changed;
    bool over = false;
    Ending ending;
    std::uint64_t drains = 0;

    ~Private()
    {
        for (auto &r : rings)
            munmap(r.reader.header(), r.bytes);
        for (int fd : {pidFd, outFd, errFd})
            if (fd >= 0)
                close(fd);
    }

    void openRing(int fd);
    bool drain(bool final);
    void tellLost(std::uint64_t time);
    void handle(const Channel::Message &m);
    void readOutput(int &fd, bool isError);
    void run();
};

void Program::Private::openRing(int fd)
{
    struct stat st {
    };
    if (fd < 0 || fstat(fd, &st) != 0 || std::size_t(st.st_size) <= link::ringHeaderBytes) {
        if (fd >= 0)
            close(fd);
        return;
    }
    void *memory = mmap(nullptr, std::size_t(st.st_size), PROT_READ | PROT_WRITE, MAP_SHARED, fd, 0);
    close(fd);
    if (memory == MAP_FAILED)
        return;
    auto *header = static_cast<link::RingHeader *>(memory);
    if (header->magic != link::ringMagic || header->version != link::ringVersion ||
        link::ringBytes(header->capacity) != std::size_t(st.st_size)) {
        munmap(memory, std::size_t(st.st_size));
        return;
    }
    sink.streamOpened(int(rings.size()), {header->pid, header->tid, header->pid == header->tid});
    rings.push_back({link::RingReader(header), std::size_t(st.st_size)});
}

// A thread that ended while its ring was full could not tell what it lost.
void Program::Private::tellLost(std::uint64_t time)
{
    for (std::size_t i = 0; i < rings.size(); ++i) {
        link::Record s;
        s.time = time;
        s.kind = std::uint16_t(link::Kind::Lost);
        s.words[0] = rings[i].reader.header()->lost.load(std::memory_order_relaxed);
        if (s.words[0] != rings[i].lostTold)
            merger.add(int(i), s, nullptr, 0);
    }
}

bool Program::Private::drain(bool final)
{
    constexpr std::uint64_t lag = 1'000'000; // a record is published this soon after its clock was read
    const auto before = std::uint64_t(monotonicNow());
    std::uint64_t count = 0;
    for (std::size_t i = 0; i < rings.size(); ++i)
        count += rings[i].reader.drain([&](const link::Record &s, const char *text, std::size_t bytes) {
            merger.add(int(i), s, text, bytes);
            if (link::Kind(s.kind) == link::Kind::Lost)
                rings[i].lostTold = s.words[0];
        });
    if (final) {
        tellLost(before);
        merger.flush();
    } else {
        merger.release(before - lag);
    }
    sink.caughtUp(std::int64_t(final ? before : before - lag));
    return count > 0;
}

void Program::Private::handle(const Channel::Message &m)
{
    const QString method = m.body["method"].toString();
    const QJsonObject params = m.body["params"].toObject();
    if (method == link::tells::ring) {
        openRing(m.fd);
        return;
    }
    if (m.fd >= 0)
        close(m.fd);
    if (method == link::tells::hello) {
        std::lock_guard lock(mutex);
        ending.sawToolkit = true;
        changed.notify_all();
    } else if (method == link::tells::refused) {
        std::lock_guard lock(mutex);
        ending.refused = params["text"].toString();
    } else if (method == link::tells::limit && callbacks.note) {
        callbacks.note(params["text"].toString());
    }
}

void Program::Private::readOutput(int &fd, bool isError)
{
    char buffer[16384];
    for (;;) {
        const ssize_t n = read(fd, buffer, sizeof buffer);
        if (n > 0) {
            if (callbacks.output)
                callbacks.output(QByteArray(buffer, n), isError);
            continue;
        }
        if (n == 0) {
            close(fd);
            fd = -1;
        }
        return;
    }
}

void Program::Private::run()
{
    bool exited = false;
    int quiet = 0; // drains in a row without a record
    while (!exited) {
        pollfd fds[5] = {{pidFd, POLLIN, 0},
                         {outFd, POLLIN, 0},
                         {errFd, POLLIN, 0},
                         {channel.listenFd(), POLLIN, 0},
                         {channel.peerFd(), POLLIN, 0}};
        poll(fds, 5, quiet < 50 ? 1 : 8);
        exited = fds[0].revents != 0;
        if (outFd >= 0 && fds[1].revents)
            readOutput(outFd, false);
        if (errFd >= 0 && fds[2].revents)
            readOutput(errFd, true);
        for (const auto &m : channel.receive(pid))
            handle(m);
        quiet = drain(false) ? 0 : quiet + 1;
        std::lock_guard lock(mutex);
        ++drains;
        changed.notify_all();
    }
    siginfo_t info{};
    waitid(P_PID, id_t(pid), &info, WEXITED);
    for (const auto &m : channel.receive(pid))
        handle(m);
    drain(true);
    if (outFd >= 0)
        readOutput(outFd, false);
    if (errFd >= 0)
        readOutput(errFd, true);
    channel.close();
    Ending e;
    {
        std::lock_guard lock(mutex);
        if (info.si_code == CLD_EXITED)
            ending.exitCode = info.si_status;
        else
            ending.signal = info.si_status;
        e = ending;
    }
    {
        std::lock_guard lock(mutex);
        over = true;
        ++drains;
    }
    changed.notify_all();
    if (callbacks.ended)
        callbacks.ended(e);
}

namespace
{

std::vector<QByteArray> environmentOf(const ProgramSpec &spec, const QString &socket, const QString &shim,
                                      const QString &recorder)
{
    QStringList add = spec.environment;
    if (spec.record) {
        const QString before = qEnvironmentVariable("LD_PRELOAD");
        add << "LD_PRELOAD=" + shim + (before.isEmpty() ? QString() : ':' + before)
            << QString(link::envSocket) + '=' + socket << QString(link::envRecorder) + '=' + recorder
            << QString(link::envTexts) + '=' + (spec.maskTexts ? link::textsMasked : "captions");
    }
    std::vector<QByteArray> all;
    for (char **e = environ; *e; ++e) {
        const QByteArray one(*e);
        const QByteArray name = one.left(one.indexOf('=') + 1);
        const bool replaced = std::any_of(add.begin(), add.end(),
                                          [&](const QString &a) { return a.toUtf8().startsWith(name); });
        if (!replaced)
            all.push_back(one);
    }
    for (const QString &a : add)
        all.push_back(a.toUtf8());
    return all;
}

int spawn(pid_t *pid, const QString &path, const ProgramSpec &spec,
          const std::vector<QByteArray> &environment, int out, int err)
{
    std::vector<QByteArray> words{path.toUtf8()};
    for (const QString &a : spec.arguments)
        words.push_back(a.toUtf8());
    std::vector<char *> argv, envp;
    for (auto &w : words)
        argv.push_back(w.data());
    argv.push_back(nullptr);
    for (const auto &e : environment)
        envp.push_back(const_cast<char *>(e.constData()));
    envp.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDONLY, 0);
    posix_spawn_file_actions_adddup2(&actions, out, 1);
    posix_spawn_file_actions_adddup2(&actions, err, 2);
    if (!spec.workingFolder.isEmpty())
        posix_spawn_file_actions_addchdir_np(&actions, spec.workingFolder.toUtf8().constData());
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t none;
    sigemptyset(&none);
    posix_spawnattr_setsigmask(&attributes, &none);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK);
    const int error = posix_spawn(pid, argv[0], &actions, &attributes, argv.data(), envp.data());
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&actions);
    return error;
}

} // namespace

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
    if (auto ok = p->channel.listen(); !ok)
        return ok.problem();
    int out[2], err[2];
    if (pipe2(out, O_CLOEXEC) != 0 || pipe2(err, O_CLOEXEC) != 0)
        return Problem{
            "No pipe could be made for the program's output", {}, "Close some programs and try again"};
    p->startedAt = monotonicNow();
    const int error =
        spawn(&p->pid, *path, spec, environmentOf(spec, p->channel.path(), *shim, *recorder), out[1], err[1]);
    close(out[1]);
    close(err[1]);
    p->outFd = out[0];
    p->errFd = err[0];
    for (int fd : {out[0], err[0]})
        fcntl(fd, F_SETFL, O_NONBLOCK);
    if (error)
        return Problem{QStringLiteral("The program could not be started: %1").arg(strerror(error)), *path,
                       "Check that it runs by itself"};
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
    {
        std::unique_lock lock(d->mutex);
        d->changed.wait_for(lock, timeout, [&] { return d->over || d->ending.sawToolkit; });
        if (d->over)
            return Problem{"The program has ended", {}, {}};
        if (!d->ending.sawToolkit)
            return Problem{"The program uses no Qt 6 so far", {}, "Record a Qt 6 Widgets program"};
    }
    return d->channel.request(method, params, timeout);
}

void Program::askToQuit()
{
    d->channel.send(link::asks::quit, {});
}
void Program::terminate()
{
    {
        std::lock_guard lock(d->mutex);
        d->ending.asked = d->ending.asked || !d->over;
    }
    ::kill(d->pid, SIGTERM);
}
void Program::kill()
{
    {
        std::lock_guard lock(d->mutex);
        d->ending.asked = d->ending.asked || !d->over;
    }
    ::kill(d->pid, SIGKILL);
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
    const auto target = d->drains + 4; // past the lag of the merge
    d->changed.wait_for(lock, 500ms, [&] { return d->over || d->drains >= target; });
}

Ending Program::ending() const
{
    std::lock_guard lock(d->mutex);
    return d->ending;
}

} // namespace pipit
