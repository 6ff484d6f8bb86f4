#include "core/runner/peer.h"

#include "core/runner/program.h"
#include "link/control.h"

#include <QFile>
#include <QHash>
#include <QJsonArray>
#include <QJsonDocument>

#include <atomic>
#include <condition_variable>
#include <csignal>
#include <fcntl.h>
#include <linux/futex.h>
#include <mutex>
#include <optional>
#include <poll.h>
#include <sys/eventfd.h>
#include <sys/mman.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <thread>
#include <unistd.h>

namespace pipit
{

namespace
{

QString executableOf(pid_t pid)
{
    return QFile::symLinkTarget(QStringLiteral("/proc/%1/exe").arg(pid));
}

// The arena is no file to the person who limits their size: while it is made, the limit is as high as it may
// be. False where that is too low.
bool grow(int fd)
{
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    if (before.rlim_max < link::arenaBytes)
        return false;
    const rlimit raised{before.rlim_max, before.rlim_max};
    setrlimit(RLIMIT_FSIZE, &raised);
    const bool grown = ftruncate(fd, off_t(link::arenaBytes)) == 0;
    // What the program writes first is made here and not in its time; without it, it only takes longer.
    if (grown)
        (void)fallocate(fd, 0, off_t(link::offsetOfPlace(0)), off_t(link::aheadBytes));
    setrlimit(RLIMIT_FSIZE, &before);
    return grown;
}

void wakeFutex(std::atomic<std::uint32_t> &word)
{
    syscall(SYS_futex, reinterpret_cast<std::uint32_t *>(&word), FUTEX_WAKE, 1, nullptr, nullptr, 0);
}

} // namespace

struct Peer::Private {
    pid_t pid = -1;
    int pidFd = -1;
    link::ArenaHeader *arena = nullptr;
    QString executable;
    std::uint32_t changesSeen = 0;
    std::thread waker;
    std::atomic<bool> wakerEnds{false};

    struct Open {
        link::RingReader reader;
        int stream = -1;
    };
    std::vector<Open> rings{link::arenaPlaces}; // by place; drain thread only
    std::vector<std::size_t> open;              // places in use
    QByteArray pending;                         // drain thread only

    std::mutex mutex; // guards what follows, and writing to the recorder
    std::condition_variable answered;
    QHash<int, std::optional<QJsonObject>> answers;
    int nextId = 1;
    bool closed = false;
    std::int64_t posting = 0; // when input of the last request began to be posted; 0: it did not yet

    void lookAtPlaces(const Events &events);
    void release(std::size_t place, const Events &events);
    bool write(const QJsonObject &o);
};

Peer::Peer() : d(std::make_unique<Private>()) {}

Peer::~Peer()
{
    if (d->waker.joinable()) {
        d->wakerEnds = true;
        d->arena->wakes.fetch_add(1);
        wakeFutex(d->arena->wakes);
        d->waker.join();
    }
    if (d->arena)
        munmap(d->arena, link::arenaBytes);
    if (d->pidFd >= 0)
        ::close(d->pidFd);
}

std::unique_ptr<Peer> Peer::make(pid_t pid, link::Clock clock, int *arenaFd)
{
    std::unique_ptr<Peer> p(new Peer);
    p->d->pid = pid;
    p->d->pidFd = int(syscall(SYS_pidfd_open, pid, 0));
    p->d->executable = executableOf(pid);
    const int fd = memfd_create("pipit", MFD_CLOEXEC);
    if (fd < 0)
        return nullptr;
    void *memory =
        grow(fd) ? mmap(nullptr, link::arenaBytes, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_NORESERVE, fd, 0)
                 : MAP_FAILED;
    if (memory == MAP_FAILED) {
        ::close(fd);
        return nullptr;
    }
    p->d->arena = static_cast<link::ArenaHeader *>(memory);
    p->d->arena->magic = link::arenaMagic;
    p->d->arena->version = link::arenaVersion;
    p->d->arena->bytes = link::arenaBytes;
    p->d->arena->clock = clock;
    *arenaFd = fd;
    return p;
}

void Peer::wakeBy(int eventFd)
{
    d->waker = std::thread([d = d.get(), eventFd] {
        pthread_setname_np(pthread_self(), "waker");
        std::uint32_t seen = d->arena->wakes.load(std::memory_order_acquire);
        while (!d->wakerEnds) {
            syscall(SYS_futex, reinterpret_cast<std::uint32_t *>(&d->arena->wakes), FUTEX_WAIT, seen, nullptr,
                    nullptr, 0);
            const std::uint32_t now = d->arena->wakes.load(std::memory_order_acquire);
            if (std::exchange(seen, now) != now && !d->wakerEnds)
                eventfd_write(eventFd, 1);
        }
    });
}

bool Peer::sleep()
{
    d->arena->asleep.store(1);
    return d->arena->toPipit.head.load() == d->arena->toPipit.tail.load();
}

void Peer::wake()
{
    d->arena->asleep.store(0, std::memory_order_relaxed);
}

pid_t Peer::pid() const
{
    return d->pid;
}
int Peer::descriptor() const
{
    return d->pidFd;
}

bool Peer::alive() const
{
    pollfd p{d->pidFd, POLLIN, 0};
    return d->pidFd >= 0 ? poll(&p, 1, 0) == 0 : kill(d->pid, 0) == 0;
}

void Peer::Private::lookAtPlaces(const Events &events)
{
    const std::uint32_t changes = arena->changes.load(std::memory_order_acquire);
    if (changes == changesSeen)
        return;
    changesSeen = changes;
    for (std::size_t i = 0; i < link::arenaPlaces; ++i) {
        const link::Place state = arena->places[i].load(std::memory_order_acquire);
        if (rings[i].stream >= 0 || (state != link::Place::Live && state != link::Place::Ended))
            continue;
        link::RingHeader *ring = link::ringAt(arena, i);
        rings[i].reader = link::RingReader(ring, link::cellsOfPlace(i));
        rings[i].stream = events.opened(ring->tid);
        open.push_back(i);
    }
}

// Its memory is given back, and the next thread finds it as new.
void Peer::Private::release(std::size_t place, const Events &events)
{
    link::RingHeader *ring = link::ringAt(arena, place);
    events.ended(rings[place].stream, ring->lost.load(std::memory_order_relaxed));
    rings[place] = {};
    madvise(ring, link::ringBytes(link::cellsOfPlace(place)), MADV_REMOVE);
    arena->places[place].store(link::Place::Free, std::memory_order_release);
}

std::uint64_t Peer::drain(const Events &events, bool last)
{
    std::uint64_t count = 0;
    d->lookAtPlaces(events);
    for (std::size_t k = 0; k < d->open.size();) {
        const std::size_t place = d->open[k];
        Private::Open &ring = d->rings[place];
        // Asked before reading: whatever an ended thread wrote is there by then.
        const bool ended = d->arena->places[place].load(std::memory_order_acquire) == link::Place::Ended;
        count += ring.reader.drain([&](const link::Record &s, const char *text, std::size_t bytes) {
            events.record(ring.stream, s, text, bytes);
        });
        if (!ended && !last) {
            ++k;
            continue;
        }
        d->release(place, events);
        d->open[k] = d->open.back();
        d->open.pop_back();
    }
    return count;
}

std::vector<QJsonObject> Peer::receive()
{
    constexpr qsizetype most = 16 << 20; // a line longer than this is none of the recorder's
    std::vector<QJsonObject> told;
    link::readBytes(d->arena->toPipit,
                    [&](const char *bytes, std::size_t n) { d->pending.append(bytes, qsizetype(n)); });
    qsizetype from = 0, end;
    while ((end = d->pending.indexOf('\n', from)) >= 0) {
        const QJsonObject body = QJsonDocument::fromJson(d->pending.mid(from, end - from)).object();
        from = end + 1;
        if (body["method"].toString() == link::tells::posting) {
            std::lock_guard lock(d->mutex);
            d->posting = monotonicNow();
            continue;
        }
        if (body.contains("method")) {
            told.push_back(body);
            continue;
        }
        std::lock_guard lock(d->mutex);
        if (auto it = d->answers.find(body["id"].toInt()); it != d->answers.end()) {
            *it = body;
            d->answered.notify_all();
        }
    }
    d->pending.remove(0, from);
    if (d->pending.size() > most)
        d->pending.clear();
    return told;
}

void Peer::close()
{
    std::lock_guard lock(d->mutex);
    d->closed = true;
    d->answered.notify_all();
}

// All of it or nothing.
bool Peer::Private::write(const QJsonObject &o)
{
    const QByteArray line = QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
    link::ByteStream &stream = arena->toRecorder;
    const std::uint32_t used = stream.head.load() - stream.tail.load(std::memory_order_acquire);
    if (closed || used > link::ByteStream::bytes || link::ByteStream::bytes - used < std::size_t(line.size()))
        return false;
    link::writeBytes(stream, line.constData(), std::size_t(line.size()));
    wakeFutex(stream.head);
    return true;
}

bool Peer::send(const QString &method, const QJsonObject &params)
{
    std::lock_guard lock(d->mutex);
    return d->write({{"jsonrpc", "2.0"}, {"method", method}, {"params", params}});
}

Result<QJsonObject> Peer::request(const QString &method, const QJsonObject &params,
                                  std::chrono::milliseconds timeout)
{
    std::unique_lock lock(d->mutex);
    const int id = d->nextId++;
    d->answers.insert(id, std::nullopt);
    d->posting = 0;
    if (!d->write({{"jsonrpc", "2.0"}, {"id", id}, {"method", method}, {"params", params}})) {
        d->answers.remove(id);
        return Problem{"The program does not answer; it has probably ended", {}, {}};
    }
    d->answered.wait_for(lock, timeout, [&] { return d->closed || d->answers[id]; });
    const std::optional<QJsonObject> answer = d->answers.take(id);
    if (!answer && d->closed && d->posting) // it ended by this input
        return QJsonObject{{"posted_ns", double(d->posting)}};
    if (!answer)
        return Problem{d->closed
                           ? QStringLiteral("The program ended before it answered")
                           : QStringLiteral("The program did not answer within %1 ms").arg(timeout.count()),
                       {},
                       {}};
    if (answer->contains("error")) {
        const QJsonObject error = (*answer)["error"].toObject();
        QStringList near;
        for (const auto &n : error["data"].toObject()["near"].toArray())
            near << n.toString();
        return Problem{
            error["message"].toString(), {}, near.isEmpty() ? QString() : "Nearest: " + near.join(", ")};
    }
    return (*answer)["result"].toObject();
}

std::uint32_t Peer::unrecordedThreads() const
{
    return d->arena->unrecorded.load(std::memory_order_relaxed);
}

pid_t Peer::forkedChild() const
{
    const pid_t child = d->arena->forked.load(std::memory_order_relaxed);
    return child > 0 && kill(child, 0) == 0 ? child : -1;
}

QString Peer::replacedBy()
{
    const QString now = executableOf(d->pid);
    if (now.isEmpty() || d->executable.isEmpty() || now == d->executable)
        return {};
    d->executable = now;
    return now;
}

} // namespace pipit
