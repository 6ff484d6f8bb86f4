#include "recorder/control.h"

#include "link/control.h"
#include "recorder/hands.h"
#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QJsonArray>
#include <QtCore/QJsonDocument>
#include <QtCore/QJsonObject>

#include <cstring>
#include <mutex>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <sys/un.h>
#include <thread>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

std::mutex sending; // one message at a time
int channel = -1;

bool sendLine(const QByteArray &line, int fd = -1)
{
    std::unique_lock lock(sending);
    if (channel < 0)
        return false;
    iovec io{const_cast<char *>(line.constData()), std::size_t(line.size())};
    msghdr message{};
    message.msg_iov = &io;
    message.msg_iovlen = 1;
    alignas(cmsghdr) char control[CMSG_SPACE(sizeof(int))] = {};
    if (fd >= 0) {
        message.msg_control = control;
        message.msg_controllen = sizeof control;
        cmsghdr *c = CMSG_FIRSTHDR(&message);
        c->cmsg_level = SOL_SOCKET;
        c->cmsg_type = SCM_RIGHTS;
        c->cmsg_len = CMSG_LEN(sizeof(int));
        std::memcpy(CMSG_DATA(c), &fd, sizeof fd);
    }
    const ssize_t sent = sendmsg(channel, &message, MSG_NOSIGNAL);
    if (sent == ssize_t(line.size()))
        return true;
    ssize_t at = sent < 0 ? 0 : sent;
    while (sent > 0 && at < line.size()) {
        const ssize_t n = send(channel, line.constData() + at, std::size_t(line.size() - at), MSG_NOSIGNAL);
        if (n <= 0)
            return false;
        at += n;
    }
    return sent > 0;
}

QByteArray toLine(const QJsonObject &o)
{
    return QJsonDocument(o).toJson(QJsonDocument::Compact) + '\n';
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
    const QString target = p[QLatin1String("target")].toString();
    const int row = p[QLatin1String("row")].toInt();
    const int timeout = p[QLatin1String("timeout_ms")].toInt(10'000);
    if (method == QLatin1String(link::asks::window))
        return waitForWindow(timeout);
    if (method == QLatin1String(link::asks::click))
        return clickOn(target, row, Click(p[QLatin1String("how")].toInt()));
    if (method == QLatin1String(link::asks::hover))
        return hoverOver(target, row, {p[QLatin1String("x")].toDouble(), p[QLatin1String("y")].toDouble()});
    if (method == QLatin1String(link::asks::drag))
        return dragTo(target, row, p[QLatin1String("to")].toString(), p[QLatin1String("to_row")].toInt());
    if (method == QLatin1String(link::asks::type))
        return typeInto(target, p[QLatin1String("text")].toString());
    if (method == QLatin1String(link::asks::press))
        return pressKey(target, p[QLatin1String("key")].toString());
    if (method == QLatin1String(link::asks::wheel))
        return turnWheel(target, row, p[QLatin1String("steps")].toInt());
    if (method == QLatin1String(link::asks::state))
        return expectState(target, p, p[QLatin1String("within_ms")].toInt(), timeout);
    if (method == QLatin1String(link::asks::idle))
        return waitIdle(timeout);
    if (method == QLatin1String(link::asks::targets))
        return listTargets();
    if (method == QLatin1String(link::asks::switchOff))
        return switchLines(p[QLatin1String("off")].toArray());
    if (method == QLatin1String(link::asks::quit)) {
        QMetaObject::invokeMethod(QCoreApplication::instance(), "quit", Qt::QueuedConnection);
        return {};
    }
    return {{QStringLiteral("error"), QStringLiteral("unknown method %1").arg(method)}};
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
    sendLine(toLine(reply));
}

void controlLoop()
{
    muteThisThread();
    QByteArray pending;
    char buffer[8192];
    for (;;) {
        const ssize_t n = recv(channel, buffer, sizeof buffer, 0);
        if (n <= 0)
            return;
        pending.append(buffer, n);
        for (qsizetype end; (end = pending.indexOf('\n')) >= 0; pending.remove(0, end + 1))
            serve(pending.left(end));
    }
}

} // namespace

bool openControl(const char *socketPath)
{
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    if (std::strlen(socketPath) >= sizeof address.sun_path)
        return false;
    std::strcpy(address.sun_path, socketPath);
    const int fd = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    if (fd < 0)
        return false;
    if (connect(fd, reinterpret_cast<sockaddr *>(&address), sizeof address) != 0) {
        close(fd);
        return false;
    }
    channel = fd;
    notifyPipit(link::tells::hello, {{QStringLiteral("version"), link::controlVersion},
                                     {QStringLiteral("pid"), int(getpid())},
                                     {QStringLiteral("qt"), QLatin1String(qVersion())}});
    return true;
}

bool sendRing(int fd, std::uint32_t tid)
{
    QJsonObject p{{QStringLiteral("tid"), int(tid)}, {QStringLiteral("main"), getpid() == pid_t(tid)}};
    return sendLine(toLine({{QStringLiteral("jsonrpc"), QStringLiteral("2.0")},
                            {QStringLiteral("method"), QLatin1String(link::tells::ring)},
                            {QStringLiteral("params"), p}}),
                    fd);
}

void notifyPipit(const char *method, const QJsonObject &params)
{
    sendLine(toLine({{QStringLiteral("jsonrpc"), QStringLiteral("2.0")},
                     {QStringLiteral("method"), QLatin1String(method)},
                     {QStringLiteral("params"), params}}));
}

void startControlThread()
{
    std::thread(controlLoop).detach();
}

void forgetControl()
{
    channel = -1;
}

} // namespace pipit::recorder
