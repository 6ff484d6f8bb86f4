#include "core/runner/channel.h"

#include "link/control.h"

#include <QFile>
#include <QHash>
#include <QJsonArray>
#include <QJsonDocument>
#include <QTemporaryDir>

#include <atomic>
#include <condition_variable>
#include <cstring>
#include <mutex>
#include <optional>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

namespace pipit
{

struct Channel::Private {
    QTemporaryDir folder; // mode 0700
    QString path;
    std::atomic<int> listening{-1}, peer{-1};
    QByteArray pending;          // drain thread only
    std::vector<int> pendingFds; // drain thread only

    std::mutex mutex; // guards what follows
    std::condition_variable answered;
    QHash<int, std::optional<QJsonObject>> answers;
    int nextId = 1;
    bool closed = false;
};

Channel::Channel() : d(std::make_unique<Private>()) {}
Channel::~Channel()
{
    close();
}

Outcome Channel::listen()
{
    d->path = d->folder.path() + "/recorder";
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    const QByteArray name = d->path.toUtf8();
    if (!d->folder.isValid() || name.size() >= qsizetype(sizeof address.sun_path))
        return Problem{"No private folder for the recorder's socket could be made", d->folder.path(),
                       "Set TMPDIR to a writable folder with a short path"};
    std::memcpy(address.sun_path, name.constData(), std::size_t(name.size()));
    const int fd = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0);
    if (fd < 0 || bind(fd, reinterpret_cast<sockaddr *>(&address), sizeof address) != 0 ||
        chmod(name.constData(), 0600) != 0 || ::listen(fd, 1) != 0) {
        if (fd >= 0)
            ::close(fd);
        return Problem{
            QStringLiteral("The recorder's socket could not be made: %1").arg(strerror(errno)), d->path, {}};
    }
    d->listening = fd;
    return Done{};
}

QString Channel::path() const
{
    return d->path;
}
int Channel::listenFd() const
{
    return d->peer < 0 ? d->listening.load() : -1;
}
int Channel::peerFd() const
{
    return d->peer;
}

std::vector<Channel::Message> Channel::receive(pid_t)
{
    std::vector<Message> messages;
    if (d->peer < 0 && d->listening >= 0) {
        const int fd = accept4(d->listening, nullptr, nullptr, SOCK_CLOEXEC);
        if (fd < 0)
            return messages;
        ucred who{};
        socklen_t size = sizeof who;
        if (getsockopt(fd, SOL_SOCKET, SO_PEERCRED, &who, &size) != 0 || who.uid != getuid()) {
            ::close(fd);
            return messages;
        }
        d->peer = fd;
    }
    while (d->peer >= 0) {
        char buffer[65536];
        alignas(cmsghdr) char control[CMSG_SPACE(sizeof(int) * 8)];
        iovec io{buffer, sizeof buffer};
        msghdr m{};
        m.msg_iov = &io;
        m.msg_iovlen = 1;
        m.msg_control = control;
        m.msg_controllen = sizeof control;
        const ssize_t n = recvmsg(d->peer, &m, MSG_DONTWAIT | MSG_CMSG_CLOEXEC);
        if (n <= 0)
            break;
        for (cmsghdr *c = CMSG_FIRSTHDR(&m); c; c = CMSG_NXTHDR(&m, c)) {
            if (c->cmsg_level != SOL_SOCKET || c->cmsg_type != SCM_RIGHTS)
                continue;
            const std::size_t count = (c->cmsg_len - CMSG_LEN(0)) / sizeof(int);
            for (std::size_t i = 0; i < count; ++i) {
                int fd;
                std::memcpy(&fd, CMSG_DATA(c) + i * sizeof(int), sizeof fd);
                d->pendingFds.push_back(fd);
            }
        }
        d->pending.append(buffer, n);
    }
    qsizetype end;
    while ((end = d->pending.indexOf('\n')) >= 0) {
        Message message{QJsonDocument::fromJson(d->pending.left(end)).object()};
        d->pending.remove(0, end + 1);
        if (message.body.value("method").toString() == link::tells::ring && !d->pendingFds.empty()) {
            message.fd = d->pendingFds.front();
            d->pendingFds.erase(d->pendingFds.begin());
        }
        if (message.body.contains("method")) {
            messages.push_back(std::move(message));
            continue;
        }
        std::lock_guard lock(d->mutex);
        if (auto it = d->answers.find(message.body["id"].toInt()); it != d->answers.end()) {
            *it = message.body;
            d->answered.notify_all();
        }
    }
    return messages;
}

void Channel::close()
{
    for (auto *fd : {&d->listening, &d->peer})
        if (const int old = fd->exchange(-1); old >= 0)
            ::close(old);
    std::lock_guard lock(d->mutex);
    d->closed = true;
    d->answered.notify_all();
}

static bool sendObject(int fd, const QJsonObject &o)
{
    const QByteArray line = QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
    return fd >= 0 && ::send(fd, line.constData(), std::size_t(line.size()), MSG_NOSIGNAL) == line.size();
}

bool Channel::send(const QString &method, const QJsonObject &params)
{
    return sendObject(d->peer, {{"jsonrpc", "2.0"}, {"method", method}, {"params", params}});
}

Result<QJsonObject> Channel::request(const QString &method, const QJsonObject &params,
                                     std::chrono::milliseconds timeout)
{
    std::unique_lock lock(d->mutex);
    const int id = d->nextId++;
    d->answers.insert(id, std::nullopt);
    QJsonObject body{{"jsonrpc", "2.0"}, {"id", id}, {"method", method}, {"params", params}};
    if (!sendObject(d->peer, body)) {
        d->answers.remove(id);
        return Problem{"The program cannot be reached; it has probably ended", {}, {}};
    }
    d->answered.wait_for(lock, timeout, [&] { return d->closed || d->answers[id]; });
    const std::optional<QJsonObject> answer = d->answers.take(id);
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

} // namespace pipit
