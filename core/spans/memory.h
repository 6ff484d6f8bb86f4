// Memory for what a trace holds: handed out, and all given back at once. The first of it is plain
// memory; what comes after lies in a file without a name, so that the system may keep it on the
// disk: how much of it is in memory does not grow with the trace.
//
// Threads: `take` on the writer's; `rest` on any. What was handed out stays where it is, and may be
// read and written at any time; what is not in memory then is read back by the system.
#pragma once

#include <QString>

#include <cstddef>
#include <mutex>
#include <vector>

namespace pipit
{

class SpanMemory
{
public:
    // `folder`: where the file is made; empty: everything stays in memory.
    explicit SpanMemory(QString folder = defaultFolder(), std::size_t plain = plainBytes);
    ~SpanMemory();
    SpanMemory(const SpanMemory &) = delete;
    SpanMemory &operator=(const SpanMemory &) = delete;

    // Zeroed, aligned to 8 bytes, at most `pieceBytes`; null when there is no memory left.
    [[nodiscard]] void *take(std::size_t bytes);
    // Lets go of what lies in the file: it is not in memory any more until it is used again.
    void rest() const;

    std::size_t taken() const { return taken_; } // bytes, the writer's
    std::size_t inFile() const;                  // of them in the file
    static QString defaultFolder();              // in the user's cache
    static constexpr std::size_t plainBytes = std::size_t(64) << 20, pieceBytes = std::size_t(8) << 20;

private:
    struct Piece {
        char *at;
        std::size_t bytes;
        bool inFile;
    };
    bool grow();
    bool openFile();

    const QString folder_;
    const std::size_t plain_;
    int file_ = -1;
    bool fileFailed_ = false;
    std::size_t fileBytes_ = 0, taken_ = 0;
    char *free_ = nullptr;
    std::size_t left_ = 0;
    mutable std::mutex mutex_; // guards what follows
    std::vector<Piece> pieces_;
};

} // namespace pipit
