#include "core/recordings/packet_disk.h"

#include <QFile>

#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace pipit
{

PacketDisk::PacketDisk(const QString &folder, Say say)
    : folder_(folder), say_(std::move(say)), thread_([this] { run(); })
{
}

PacketDisk::~PacketDisk()
{
    {
        std::lock_guard lock(mutex_);
        stop_ = true;
    }
    changed_.notify_all();
    thread_.join();
}

void PacketDisk::put(const QString &file, std::vector<char> packet)
{
    {
        std::lock_guard lock(mutex_);
        if (!error_.isEmpty())
            return;
        if (waitingBytes_ + packet.size() > mostWaiting) {
            ++leftOut_;
            return;
        }
        waitingBytes_ += packet.size();
        waiting_.push_back({file, std::move(packet)});
    }
    changed_.notify_all();
}

void PacketDisk::remove(const QString &file)
{
    {
        std::lock_guard lock(mutex_);
        waiting_.push_back({file, {}});
    }
    changed_.notify_all();
}

void PacketDisk::run()
{
    sigset_t limits; // a limit on file size is an error here, not the end of Pipit
    sigemptyset(&limits);
    sigaddset(&limits, SIGXFSZ);
    pthread_sigmask(SIG_BLOCK, &limits, nullptr);
    for (;;) {
        Packet packet;
        {
            std::unique_lock lock(mutex_);
            writing_ = false;
            changed_.notify_all();
            changed_.wait(lock, [this] { return stop_ || !waiting_.empty(); });
            if (waiting_.empty())
                return;
            packet = std::move(waiting_.front());
            waiting_.pop_front();
            waitingBytes_ -= packet.bytes.size();
            writing_ = true;
            if (!error_.isEmpty())
                continue;
        }
        write(packet);
    }
}

void PacketDisk::write(const Packet &packet)
{
    const QByteArray path = QFile::encodeName(folder_ + '/' + packet.file);
    if (packet.bytes.empty()) {
        unlink(path.constData());
        return;
    }
    const int fd = open(path.constData(), O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
    struct stat before {
    };
    if (fd < 0 || fstat(fd, &before) != 0)
        return fail(errno);
    std::size_t at = 0;
    int error = 0;
    while (at < packet.bytes.size() && !error) {
        const ssize_t n = ::write(fd, packet.bytes.data() + at, packet.bytes.size() - at);
        if (n > 0)
            at += std::size_t(n);
        else if (n == 0 || errno != EINTR)
            error = n == 0 ? ENOSPC : errno;
    }
    if (error && ftruncate(fd, before.st_size) != 0)
        error = errno;
    if (error && before.st_size == 0)
        unlink(path.constData());
    if (close(fd) != 0 && !error)
        error = errno;
    if (error)
        return fail(error);
    std::lock_guard lock(mutex_);
    written_ += packet.bytes.size();
}

void PacketDisk::fail(int error)
{
    QString text;
    {
        std::lock_guard lock(mutex_);
        error_ = error == ENOSPC || error == EDQUOT ? QStringLiteral("the disk is full")
                 : error == EFBIG ? QStringLiteral("a file reached the size limit (ulimit -f)")
                                  : QString::fromLocal8Bit(std::strerror(error));
        text = QStringLiteral("The recording ends after %2 MB: %1. The part until then is complete")
                   .arg(error_)
                   .arg(double(written_) / 1e6, 0, 'f', 1);
        waiting_.clear();
        waitingBytes_ = 0;
    }
    if (say_)
        say_(text);
}

Outcome PacketDisk::finish()
{
    std::unique_lock lock(mutex_);
    changed_.wait(lock, [this] { return waiting_.empty() && !writing_; });
    if (!error_.isEmpty())
        return Problem{"The recording is incomplete: " + error_, folder_, "Free some space and record again"};
    if (leftOut_)
        return Problem{
            QStringLiteral("The recording is incomplete: the disk was too slow for %1 packets").arg(leftOut_),
            folder_, "Record to a faster disk"};
    return Done{};
}

std::uint64_t PacketDisk::written() const
{
    std::lock_guard lock(mutex_);
    return written_;
}

bool PacketDisk::full() const
{
    std::lock_guard lock(mutex_);
    return !error_.isEmpty();
}

} // namespace pipit
