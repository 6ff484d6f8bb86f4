#include "recorder/control.h"

#include "link/control.h"
#include "recorder/acts.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QJsonArray>
#include <QtCore/QJsonDocument>
#include <QtCore/QJsonObject>

#include <cstring>
#include <linux/futex.h>
#include <mutex>
#include <sys/mman.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/time.h>
#include <sys/un.h>
#include <thread>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

link::ArenaHeader *arena = nullptr;
std::mutex writing; // one line at a time

// All of the line or nothing: half of one would spoil the next. Waits for room only where told to.
bool sendLine(const QByteArray &line, bool waits)
{
    constexpr std::uint32_t most = link::ByteStream::bytes;
    std::unique_lock lock(writing);
    link::ByteStream &stream = arena->toPipit;
    for (int tries = 0; tries < 2000; ++tries) {
        const std::uint32_t used =
            stream.head.load(std::memory_order_relaxed) - stream.tail.load(std::memory_order_acquire);
        if (used <= most && most - used >= std::size_t(line.size())) {
            link::writeBytes(stream, line.constData(), std::size_t(line.size()));
            wakePipit();
            return true;
        }
        if (!waits)
            return false;
        lock.unlock();
        usleep(1000);
        lock.lock();
    }
    return false;
}

QByteArray toLine(const QJsonObject &o)
{
    return QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
}

QByteArray notification(const char *method, const QJsonObject &params)
{
    return toLine({{QStringLiteral("jsonrpc"), QStringLiteral("2.0")},
                   {QStringLiteral("method"), QLatin1String(method)},
                   {QStringLiteral("params"), params}});
}

// Pairs of offsets in the program's own file, in hexadecimal.
QJsonObject switchLines(const QJsonArray &off)
{
    pipit_module program{};
    pipit_module_named("", &program); // the first one is the program itself
    std::vector<CodeRange> ranges;
    for (const auto &v : off) {
        const QStringList ends = v.toString().split('-');
        bool from = false, to = false;
        ranges.push_back({ends.value(0).toULongLong(&from, 16) + program.base,
                          ends.value(1).toULongLong(&to, 16) + program.base});
        if (!from || !to)
            return {{QStringLiteral("error"), QStringLiteral("'%1' is no piece of code").arg(v.toString())}};
    }
    switchOff(std::move(ranges));
    return {{QStringLiteral("pieces"), int(off.size())}};
}

QJsonObject answer(const QString &method, const QJsonObject &p)
{
    if (method == QLatin1String(link::asks::switchOff))
        return switchLines(p[QLatin1String("off")].toArray());
    if (method == QLatin1String(link::asks::quit)) {
        QMetaObject::invokeMethod(QCoreApplication::instance(), "quit", Qt::QueuedConnection);
        return {};
    }
    if (!acts)
        return {{QStringLiteral("error"), QStringLiteral("the program has no widgets")}};
    return acts->answer(method, p);
}

void serve(const QByteArray &line)
{
    const QJsonObject request = QJsonDocument::fromJson(line).object();
    const QJsonObject result =
        answer(request[QLatin1String("method")].toString(), request[QLatin1String("params")].toObject());
    QJsonObject reply{{QStringLiteral("jsonrpc"), QStringLiteral("2.0")},
                      {QStringLiteral("id"), request[QLatin1String("id")]}};
    if (result.contains(QLatin1String("error")))
        reply[QStringLiteral("error")] =
            QJsonObject{{QStringLiteral("code"), 1},
                        {QStringLiteral("message"), result[QLatin1String("error")]},
                        {QStringLiteral("data"), result}};
    else
        reply[QStringLiteral("result")] = result;
    sendLine(toLine(reply), true);
}

void controlLoop()
{
    pthread_setname_np(pthread_self(), "pipit-recorder");
    muteThisThread();
    link::ByteStream &stream = arena->toRecorder;
    QByteArray pending;
    for (;;) {
        const std::uint32_t seen = stream.head.load(std::memory_order_acquire);
        link::readBytes(stream,
                        [&](const char *bytes, std::size_t n) { pending.append(bytes, qsizetype(n)); });
        for (qsizetype end; (end = pending.indexOf('\n')) >= 0; pending.remove(0, end + 1))
            serve(pending.left(end));
        syscall(SYS_futex, reinterpret_cast<std::uint32_t *>(&stream.head), FUTEX_WAIT, seen, nullptr,
                nullptr, 0);
    }
}

int connectTo(const char *socketPath)
{
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    if (std::strlen(socketPath) >= sizeof address.sun_path)
        return -1;
    std::strcpy(address.sun_path, socketPath);
    const int fd = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    if (fd < 0)
        return -1;
    const timeval patience{5, 0};
    setsockopt(fd, SOL_SOCKET, SO_RCVTIMEO, &patience, sizeof patience);
    if (connect(fd, reinterpret_cast<sockaddr *>(&address), sizeof address) == 0)
        return fd;
    close(fd);
    return -1;
}

// The answer to the hello: a byte, and the arena beside it.
int receiveArena(int fd)
{
    char byte = 0;
    alignas(cmsghdr) char control[CMSG_SPACE(sizeof(int))] = {};
    iovec io{&byte, 1};
    msghdr message{};
    message.msg_iov = &io;
    message.msg_iovlen = 1;
    message.msg_control = control;
    message.msg_controllen = sizeof control;
    ssize_t n;
    do {
        n = recvmsg(fd, &message, MSG_CMSG_CLOEXEC);
    } while (n < 0 && errno == EINTR);
    const cmsghdr *c = n == 1 ? CMSG_FIRSTHDR(&message) : nullptr;
    int arenaFd = -1;
    if (c && c->cmsg_level == SOL_SOCKET && c->cmsg_type == SCM_RIGHTS)
        std::memcpy(&arenaFd, CMSG_DATA(c), sizeof arenaFd);
    return arenaFd;
}

} // namespace

const char *openControl(const char *socketPath, const char *refusal)
{
    const int fd = connectTo(socketPath);
    if (fd < 0)
        return "nobody listens for the recording";
    const QByteArray line =
        refusal && *refusal
            ? notification(link::tells::refused, {{"text", QString::fromUtf8(refusal)}})
            : notification(link::tells::hello, {{QStringLiteral("version"), link::controlVersion},
                                                {QStringLiteral("pid"), int(getpid())},
                                                {QStringLiteral("qt"), QLatin1String(qVersion())}});
    const bool sent = send(fd, line.constData(), std::size_t(line.size()), MSG_NOSIGNAL) == line.size();
    const int arenaFd = sent && !(refusal && *refusal) ? receiveArena(fd) : -1;
    close(fd);
    if (arenaFd < 0)
        return refusal && *refusal ? refusal : "Pipit takes no more processes";
    void *memory =
        mmap(nullptr, link::arenaBytes, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_NORESERVE, arenaFd, 0);
    close(arenaFd);
    if (memory == MAP_FAILED)
        return "there is no room in memory for the recording";
    madvise(memory, link::arenaBytes, MADV_DONTDUMP); // the program's core is its own
    arena = static_cast<link::ArenaHeader *>(memory);
    constexpr int populateWrite = 23; // MADV_POPULATE_WRITE, which older systems do not know
    madvise(link::ringAt(arena, 0), link::aheadBytes, populateWrite);
    if (arena->magic != link::arenaMagic || arena->version != link::arenaVersion ||
        arena->bytes != link::arenaBytes)
        return "Pipit and its recorder are of different versions";
    countsForClock = arena->clock == link::Clock::Counter;
    return nullptr;
}

link::RingHeader *claimRing(bool isMain, std::size_t *place)
{
    static std::atomic<std::size_t> next{1};
    const auto take = [&](std::size_t i) -> link::RingHeader * {
        link::Place free = link::Place::Free;
        if (!arena->places[i].compare_exchange_strong(free, link::Place::Claimed, std::memory_order_acq_rel))
            return nullptr;
        *place = i;
        link::RingHeader *ring = link::ringAt(arena, i);
        ring->magic = link::ringMagic;
        ring->version = link::ringVersion;
        ring->pid = std::uint32_t(getpid());
        ring->tid = std::uint32_t(syscall(SYS_gettid));
        arena->places[i].store(link::Place::Live, std::memory_order_release);
        arena->changes.fetch_add(1, std::memory_order_release);
        return ring;
    };
    if (isMain)
        return take(0);
    for (std::size_t tries = 1; tries < link::arenaPlaces; ++tries)
        if (auto *ring = take(1 + next.fetch_add(1, std::memory_order_relaxed) % (link::arenaPlaces - 1)))
            return ring;
    arena->unrecorded.fetch_add(1, std::memory_order_relaxed);
    return nullptr;
}

void wakePipit()
{
    std::atomic_thread_fence(std::memory_order_seq_cst); // what was written is seen before it falls asleep
    if (arena->asleep.load() == 0)
        return;
    arena->asleep.store(0, std::memory_order_relaxed);
    arena->wakes.fetch_add(1, std::memory_order_release);
    syscall(SYS_futex, reinterpret_cast<std::uint32_t *>(&arena->wakes), FUTEX_WAKE, 1, nullptr, nullptr, 0);
}

void leaveRing(std::size_t place)
{
    arena->places[place].store(link::Place::Ended, std::memory_order_release);
    arena->changes.fetch_add(1, std::memory_order_release);
}

void notifyPipit(const char *method, const QJsonObject &params)
{
    sendLine(notification(method, params), false);
}

void startControlThread()
{
    std::thread(controlLoop).detach();
}

void tellFork()
{
    if (arena)
        arena->forked.store(getpid(), std::memory_order_relaxed);
}

} // namespace pipit::recorder
