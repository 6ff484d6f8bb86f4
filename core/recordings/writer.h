// Writes a recording: a CTF 1.8 trace, a stream per thread (docs/formats/recording.md).
//
// Threads: the drain thread of the run; `create` and `finish` on the thread that owns it, before
// and after that. Packets of at most 64 KiB are written whole, at least twice a second, so that a
// recording cut short is still readable. Errors: the first one is told at once by `say`, on a thread of its
// own, and by `finish`; the program that is recorded never notices.
#pragma once

#include "core/base/result.h"
#include "core/recordings/packet_disk.h"
#include "core/records/sink.h"

#include <array>
#include <chrono>
#include <deque>
#include <memory>

namespace pipit
{

// How much of the end of a run is kept: all of it, what was recorded in the last so many seconds, or about
// so many bytes. What is kept can be read alone: names are written again at the beginning of each piece.
struct KeepLast {
    std::chrono::milliseconds time{0};
    std::uint64_t bytes = 0;
    bool all() const { return time.count() == 0 && bytes == 0; }
    // "30s", "10min", "200MB", "2GB".
    static Result<KeepLast> parse(const QString &text);
};

class RecordingWriter : public RecordSink
{
public:
    // Makes the folder, which must be empty or not exist, and the trace's description in it.
    static Result<std::unique_ptr<RecordingWriter>> create(const QString &folder, PacketDisk::Say say = {},
                                                           KeepLast keep = {});
    ~RecordingWriter() override;

    void streamOpened(int stream, const StreamInfo &info) override;
    void record(int stream, const link::Record &record, const char *text, std::size_t bytes) override;
    void streamEnded(int stream) override;
    void caughtUp(std::int64_t time) override;

    // Whatever became of the packets, there is some room then for what stands beside them.
    [[nodiscard]] Outcome finish();
    QString folder() const { return folder_; }
    std::uint64_t records() const { return records_; }

private:
    struct Stream;
    struct Piece { // of a stream, complete
        QString file;
        std::uint64_t end = 0, bytes = 0; // when its last record was made, and its size
    };
    RecordingWriter() = default;
    void add(Stream &s, const link::Record &record, const char *text, std::size_t bytes);
    void flush(Stream &s);
    void beginPiece(Stream &s, std::uint64_t time);
    void endPiece(Stream &s);
    void forget(std::uint64_t now);

    QString folder_;
    std::array<unsigned char, 16> uuid_{};
    std::vector<std::unique_ptr<Stream>> streams_;
    std::int64_t flushedAt_ = 0;
    std::uint64_t records_ = 0;
    KeepLast keep_;
    std::deque<Piece> pieces_; // the oldest first
    std::uint64_t kept_ = 0;   // bytes in them
    std::unique_ptr<PacketDisk> disk_;
};

// The trace's description in the Trace Stream Description Language.
QByteArray recordingMetadata(const std::array<unsigned char, 16> &uuid, std::int64_t clockOffset);

// Sizes shared with the reader.
namespace packet
{
inline constexpr std::size_t bytes = 64 * 1024;
inline constexpr std::uint32_t magic = 0xC1FC1FC1;
inline constexpr std::size_t headerBytes = 24;  // magic, uuid, stream class
inline constexpr std::size_t contextBytes = 48; // times, sizes, discarded, pid, tid
} // namespace packet

} // namespace pipit
