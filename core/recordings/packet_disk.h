// Packets on their way to the disk, written by a thread of their own, so that a slow disk costs no records.
//
// Threads: `put` on one thread at a time; the rest on the owner's; `say` is called on the writing thread.
// A packet is on the disk whole or not at all: when there is no room the file is cut back to its last whole
// one, that is told at once, and nothing more is written. Files are open only while they are written to.
#pragma once

#include "core/base/result.h"

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>
#include <vector>

namespace pipit
{

class PacketDisk
{
public:
    using Say = std::function<void(const QString &)>;
    PacketDisk(const QString &folder, Say say);
    ~PacketDisk(); // what waits is written first

    void put(const QString &file, std::vector<char> packet);
    // In turn with what is written.
    void remove(const QString &file);
    // Until all is written; what went wrong, if anything did.
    [[nodiscard]] Outcome finish();
    std::uint64_t written() const; // bytes
    bool full() const;             // nothing more is written

    static constexpr std::size_t mostWaiting = 512u << 20; // bytes in memory, before packets are left out

private:
    struct Packet {
        QString file;
        std::vector<char> bytes; // none: the file is removed
    };
    void run();
    void write(const Packet &packet);
    void fail(int error);

    const QString folder_;
    const Say say_;
    mutable std::mutex mutex_; // guards what follows
    std::condition_variable changed_;
    std::deque<Packet> waiting_;
    std::size_t waitingBytes_ = 0;
    std::uint64_t written_ = 0, leftOut_ = 0;
    QString error_;
    bool writing_ = false, stop_ = false;
    std::thread thread_; // last: it uses all of the above
};

} // namespace pipit
