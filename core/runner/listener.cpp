#include "core/runner/listener.h"

#include "link/control.h"

#include <QJsonDocument>
#include <QTemporaryDir>

#include <algorithm>
#include <cstring>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

namespace pipit
{

struct Listener::Private {
    QTemporaryDir folder; // mode 0700
    QString path;
    int listening = -1;
    struct Caller {
        int fd;
        pid_t pid;
        QByteArray said;
    };
    std::vector<Caller> callers; // connected, and the first line not yet said
    int peers = 0;

    void takeCallers();
    Newcomer answer(const Caller &caller, const QJsonObject &hello, link::Clock clock);
};

Listener::Listener() : d(std::make_unique<Private>()) {}
Listener::~Listener()
{
    close();
}

Outcome Listener::listen()
{
    d->path = d->folder.path() + "/recorder";
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    const QByteArray name = d->path.toUtf8();
    if (!d->folder.isValid() || name.size() >= qsizetype(sizeof address.sun_path))
        return Problem{"No private folder for the recorder's socket could be created", d->folder.path(),
                       "Set TMPDIR to a writable folder with a short path"};
    std::memcpy(address.sun_path, name.constData(), std::size_t(name.size()));
    const int fd = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0);
    if (fd < 0 || bind(fd, reinterpret_cast<sockaddr *>(&address), sizeof address) != 0 ||
        chmod(name.constData(), 0600) != 0 || ::listen(fd, mostPeers) != 0) {
        if (fd >= 0)
            ::close(fd);
        return Problem{QStringLiteral("The recorder's socket could not be created: %1").arg(strerror(errno)),
                       d->path,
                       {}};
    }
    d->listening = fd;
    return Done{};
}

QString Listener::path() const
{
    return d->path;
}

std::vector<int> Listener::descriptors() const
{
    std::vector<int> all{d->listening};
    for (const auto &c : d->callers)
        all.push_back(c.fd);
    return all;
}

void Listener::Private::takeCallers()
{
    for (;;) {
        const int fd =
            listening < 0 ? -1 : accept4(listening, nullptr, nullptr, SOCK_CLOEXEC | SOCK_NONBLOCK);
        if (fd < 0)
            return;
        ucred who{};
        socklen_t size = sizeof who;
        if (callers.size() < std::size_t(mostPeers) &&
            getsockopt(fd, SOL_SOCKET, SO_PEERCRED, &who, &size) == 0 && who.uid == getuid())
            callers.push_back({fd, who.pid, {}});
        else
            ::close(fd);
    }
}

// A byte, and beside it the arena: the recorder closes the connection then.
static bool hand(int fd, int arena)
{
    char byte = 1;
    iovec io{&byte, 1};
    alignas(cmsghdr) char control[CMSG_SPACE(sizeof(int))] = {};
    msghdr message{};
    message.msg_iov = &io;
    message.msg_iovlen = 1;
    message.msg_control = control;
    message.msg_controllen = sizeof control;
    cmsghdr *c = CMSG_FIRSTHDR(&message);
    c->cmsg_level = SOL_SOCKET;
    c->cmsg_type = SCM_RIGHTS;
    c->cmsg_len = CMSG_LEN(sizeof(int));
    std::memcpy(CMSG_DATA(c), &arena, sizeof arena);
    return sendmsg(fd, &message, MSG_NOSIGNAL) == 1;
}

Newcomer Listener::Private::answer(const Caller &caller, const QJsonObject &hello, link::Clock clock)
{
    if (hello["method"].toString() == link::tells::refused)
        return {nullptr, hello["params"].toObject()["text"].toString().left(1000)};
    if (hello["method"].toString() != link::tells::hello)
        return {};
    if (hello["params"].toObject()["version"].toInt() != link::controlVersion)
        return {nullptr,
                "The recorder has another version than Pipit, so nothing is recorded. Install Pipit again."};
    if (peers >= mostPeers)
        return {nullptr, QStringLiteral("One process is not recorded: the limit is %1 processes in one run.")
                             .arg(mostPeers)};
    int arena = -1;
    std::unique_ptr<Peer> peer =
        Peer::make(caller.pid, clock, &arena); // the system says who it is, not its hello
    if (!peer)
        return {nullptr, "One process is not recorded: there is no memory for its records, or the file size "
                         "limit is too low (ulimit -f)"};
    const bool handed = hand(caller.fd, arena);
    ::close(arena);
    if (!handed)
        return {};
    ++peers;
    return {std::move(peer), {}};
}

std::vector<Newcomer> Listener::accept(link::Clock clock)
{
    constexpr qsizetype longestHello = 4096;
    std::vector<Newcomer> all;
    d->takeCallers();
    for (auto it = d->callers.begin(); it != d->callers.end();) {
        char buffer[longestHello];
        const ssize_t n = recv(it->fd, buffer, sizeof buffer, MSG_DONTWAIT);
        if (n > 0)
            it->said.append(buffer, n);
        const qsizetype end = it->said.indexOf('\n');
        const bool waiting = n > 0 || (n < 0 && (errno == EAGAIN || errno == EINTR));
        if (end < 0 && waiting && it->said.size() < longestHello) {
            ++it;
            continue;
        }
        if (end >= 0)
            if (Newcomer who = d->answer(*it, QJsonDocument::fromJson(it->said.left(end)).object(), clock);
                who.peer || !who.refused.isEmpty())
                all.push_back(std::move(who));
        ::close(it->fd);
        it = d->callers.erase(it);
    }
    return all;
}

void Listener::close()
{
    if (d->listening >= 0)
        ::close(std::exchange(d->listening, -1));
    for (const auto &c : d->callers)
        ::close(c.fd);
    d->callers.clear();
}

} // namespace pipit
