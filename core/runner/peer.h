// Pipit's end of one recorded process: its arena, with the rings of its threads and the conversation with
// its recorder.
//
// Threads: `drain` and `receive` on the drain thread; `request` and `send` on any. Requests are answered in
// turn by the recorder. Nothing that is read is trusted: sizes come from the layout.
#pragma once

#include "core/base/result.h"
#include "link/arena.h"

#include <QJsonObject>

#include <chrono>
#include <functional>
#include <memory>
#include <sys/types.h>
#include <vector>

namespace pipit
{

class Peer
{
public:
    // With a fresh arena; `arenaFd` is for the recorder and the caller closes it. Null when there is no room.
    static std::unique_ptr<Peer> make(pid_t pid, link::Clock clock, int *arenaFd);
    ~Peer();

    // From now on that descriptor becomes readable when a ring's segment is full, or a line was written,
    // while Pipit sleeps.
    void wakeBy(int eventFd);
    // False: there is something to be read already.
    bool sleep();
    void wake();

    pid_t pid() const;
    int descriptor() const; // readable once the process has ended
    bool alive() const;

    struct Events {
        std::function<int(std::uint32_t tid)> opened; // a thread's ring; the stream's number
        std::function<void(int stream, const link::Record &, const char *text, std::size_t bytes)> record;
        std::function<void(int stream, std::uint64_t lost)> ended; // the thread, with what it lost in all
    };
    // Hands over all that is published now; returns how many records that was. `last`: the process has ended,
    // and all its threads with it.
    std::uint64_t drain(const Events &events, bool last);

    // What the recorder sent, without waiting. Answers wake their requests.
    std::vector<QJsonObject> receive();
    bool send(const QString &method, const QJsonObject &params);
    Result<QJsonObject> request(const QString &method, const QJsonObject &params,
                                std::chrono::milliseconds timeout);
    // Nobody answers any more.
    void close();

    std::uint32_t unrecordedThreads() const;
    // A process that was forked off and lives, or -1.
    pid_t forkedChild() const;
    // The program that took this one's place in the process, if another did; empty otherwise.
    QString replacedBy();

private:
    Peer();
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
