#include "core/spans/memory.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>

#include <cstdlib>
#include <fcntl.h>
#include <sys/mman.h>
#include <unistd.h>

namespace pipit
{

QString SpanMemory::defaultFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) + "/pipit";
}

SpanMemory::SpanMemory(QString folder, std::size_t plain) : folder_(std::move(folder)), plain_(plain) {}

SpanMemory::~SpanMemory()
{
    for (const Piece &p : pieces_)
        munmap(p.at, p.bytes);
    if (file_ >= 0)
        close(file_);
}

bool SpanMemory::openFile()
{
    if (file_ >= 0)
        return true;
    if (fileFailed_ || folder_.isEmpty())
        return false;
    QDir().mkpath(folder_);
    const QByteArray folder = QFile::encodeName(folder_);
    file_ = open(folder.constData(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    if (file_ < 0) { // a file system without nameless files
        QByteArray name = folder + "/trace-XXXXXX";
        file_ = mkostemp(name.data(), O_CLOEXEC);
        if (file_ >= 0)
            unlink(name.constData());
    }
    fileFailed_ = file_ < 0;
    return file_ >= 0;
}

// The disk's room is taken first: a mapped file that finds none would end the process.
bool SpanMemory::grow()
{
    // Small pieces first, for small traces.
    constexpr std::size_t least = std::size_t(256) << 10;
    const std::size_t bytes = std::clamp(taken_ / least * least, least, pieceBytes); // whole pages
    void *at = MAP_FAILED;
    bool inFile = false;
    if (taken_ >= plain_ && openFile()) {
        const auto offset = off_t(fileBytes_);
        if (posix_fallocate(file_, offset, off_t(bytes)) == 0)
            at = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_SHARED, file_, offset);
        inFile = at != MAP_FAILED;
        if (inFile)
            fileBytes_ += bytes;
        else
            fileFailed_ = true;
    }
    if (at == MAP_FAILED)
        at = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (at == MAP_FAILED)
        return false;
    free_ = static_cast<char *>(at);
    left_ = bytes;
    std::lock_guard lock(mutex_);
    pieces_.push_back({free_, bytes, inFile});
    constexpr std::size_t worked = 4; // pieces that are still written to now and then
    if (pieces_.size() > worked)
        if (const Piece &p = pieces_[pieces_.size() - 1 - worked]; p.inFile)
            madvise(p.at, p.bytes, MADV_DONTNEED);
    return true;
}

void *SpanMemory::take(std::size_t bytes)
{
    bytes = (bytes + 7) / 8 * 8;
    while (bytes > left_)
        if (bytes > pieceBytes || !grow())
            return nullptr;
    taken_ += bytes;
    left_ -= bytes;
    return std::exchange(free_, free_ + bytes);
}

void SpanMemory::rest() const
{
    std::lock_guard lock(mutex_);
    for (const Piece &p : pieces_)
        if (p.inFile)
            madvise(p.at, p.bytes, MADV_DONTNEED);
}

std::size_t SpanMemory::inFile() const
{
    std::size_t bytes = 0;
    std::lock_guard lock(mutex_);
    for (const Piece &p : pieces_)
        bytes += p.inFile ? p.bytes : 0;
    return bytes;
}

} // namespace pipit
