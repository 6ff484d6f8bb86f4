// Pipit's end of the control channel (link/control.h).
//
// Threads: `listen`, `receive` and `close` on the drain thread (listen before it starts);
// `request` and `send` on any thread. Requests are answered in turn by the recorder.
#pragma once

#include "core/base/result.h"

#include <QJsonObject>

#include <chrono>
#include <memory>
#include <sys/types.h>
#include <vector>

namespace pipit
{

class Channel
{
public:
    struct Message {
        QJsonObject body;
        int fd = -1; // the receiver closes it
    };

    Channel();
    ~Channel();

    Outcome listen(); // on a new socket in a private folder
    QString path() const;
    int listenFd() const; // -1 once the program is connected
    int peerFd() const;   // -1 while nobody is connected

    // Takes in what is there without waiting. Answers wake their requests; all else is returned.
    std::vector<Message> receive(pid_t expectedPid);
    void close();

    bool send(const QString &method, const QJsonObject &params);
    Result<QJsonObject> request(const QString &method, const QJsonObject &params,
                                std::chrono::milliseconds timeout);

private:
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
