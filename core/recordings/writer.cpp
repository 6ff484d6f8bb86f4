#include "core/recordings/writer.h"

#include "core/base/files.h"
#include "core/recordings/compact.h"
#include "link/facts.h"

#include <QDir>
#include <QFile>
#include <QHash>
#include <QRegularExpression>
#include <QUuid>

#include <cstring>
#include <ctime>
#include <map>
#include <string>

namespace pipit
{

using link::Kind;
using link::Record;

struct RecordingWriter::Stream {
    StreamInfo info;
    QString name, file; // of the stream, and of its present piece
    std::vector<char> buffer;
    compact::Encoder encoder;
    std::uint64_t firstTime = 0, lastTime = 0, lost = 0;
    // Of the piece that is written now, where only the last ones are kept.
    int piece = 0;
    std::uint64_t pieceBegin = 0, pieceBytes = 0;
    struct Name {
        Record record;
        std::string text;
    };
    std::map<std::pair<std::uint16_t, std::uint64_t>, Name> names; // as they were told last
};

namespace
{

void putBytes(std::vector<char> &b, const void *p, std::size_t n)
{
    const auto *c = static_cast<const char *>(p);
    b.insert(b.end(), c, c + n);
}

template <class T> void put(std::vector<char> &b, T v)
{
    putBytes(b, &v, sizeof v);
}

template <class T> void putAt(std::vector<char> &b, std::size_t at, T v)
{
    std::memcpy(b.data() + at, &v, sizeof v);
}

std::int64_t realtimeMinusMonotonic()
{
    timespec r{}, m{};
    clock_gettime(CLOCK_REALTIME, &r);
    clock_gettime(CLOCK_MONOTONIC, &m);
    return (std::int64_t(r.tv_sec) - m.tv_sec) * 1'000'000'000 + (r.tv_nsec - m.tv_nsec);
}

} // namespace

QByteArray recordingMetadata(const std::array<unsigned char, 16> &uuid, std::int64_t clockOffset)
{
    QByteArray hex;
    for (std::size_t i = 0; i < uuid.size(); ++i) {
        if (i == 4 || i == 6 || i == 8 || i == 10)
            hex += '-';
        hex += QByteArray::number(uuid[i], 16).rightJustified(2, '0');
    }
    const auto integer = [](int bits) {
        return QByteArray("integer { size = ") + QByteArray::number(bits) + "; align = 8; signed = false; }";
    };
    const QByteArray time = "integer { size = 64; align = 8; signed = false; map = clock.monotonic.value; }";
    QByteArray m = "/* CTF 1.8 */\n\n";
    m += "trace {\n    major = 1;\n    minor = 8;\n    uuid = \"" + hex + "\";\n    byte_order = le;\n" +
         "    packet.header := struct {\n        " + integer(32) + " magic;\n        " + integer(8) +
         " uuid[16];\n        " + integer(32) + " stream_id;\n    };\n};\n\n";
    m += "env {\n    domain = \"pipit\";\n    tracer_name = \"pipit-recorder\";\n    tracer_major = 0;\n"
         "    tracer_minor = " +
         QByteArray::number(compact::minorVersion) + ";\n};\n\n";
    m +=
        "clock {\n    name = \"monotonic\";\n    description = \"CLOCK_MONOTONIC\";\n    freq = 1000000000;\n"
        "    offset = " +
        QByteArray::number(qint64(clockOffset)) + ";\n};\n\n";
    m +=
        "stream {\n    id = 0;\n    packet.context := struct {\n        " + time +
        " timestamp_begin;\n        " + time + " timestamp_end;\n        " + integer(64) +
        " content_size;\n        " + integer(64) + " packet_size;\n        " + integer(64) +
        " events_discarded;\n        " + integer(32) + " pid;\n        " + integer(32) + " tid;\n    };\n" +
        "    event.header := struct {\n"
        "        enum : integer { size = 5; align = 1; signed = false; } { compact = 0 ... 30, extended = 31 "
        "} id;\n"
        "        variant <id> {\n"
        "            struct { integer { size = 27; align = 1; signed = false; map = clock.monotonic.value; } "
        "timestamp; } compact;\n            struct { " +
        integer(32) + " id; " + time + " timestamp; } extended;\n        } v;\n    } align(8);\n};\n\n";
    m += compact::eventDescriptions();
    return m;
}

RecordingWriter::~RecordingWriter() = default;

// Kept free for what is written at the end, when the disk may be full.
static QString roomFile(const QString &folder)
{
    return folder + "/.room";
}

Result<std::unique_ptr<RecordingWriter>> RecordingWriter::create(const QString &folder, PacketDisk::Say say,
                                                                 KeepLast keep)
{
    if (QFileInfo::exists(folder) && (!QFileInfo(folder).isDir() || !QDir(folder).isEmpty()))
        return Problem{"A recording cannot be written here: it is not an empty folder", folder,
                       "Name a new folder"};
    if (auto made = makeFolder(folder); !made)
        return made.problem();
    std::unique_ptr<RecordingWriter> w(new RecordingWriter);
    w->folder_ = folder;
    w->keep_ = keep;
    const QByteArray id = QUuid::createUuid().toRfc4122();
    std::memcpy(w->uuid_.data(), id.constData(), w->uuid_.size());
    if (auto ok = writeFile(folder + "/metadata", recordingMetadata(w->uuid_, realtimeMinusMonotonic())); !ok)
        return ok.problem();
    constexpr qsizetype room = 512 << 10;
    if (auto ok = writeFile(roomFile(folder), QByteArray(room, ' ')); !ok)
        return ok.problem();
    w->disk_ = std::make_unique<PacketDisk>(folder, std::move(say));
    return w;
}

void RecordingWriter::streamOpened(int stream, const StreamInfo &info)
{
    if (std::size_t(stream) >= streams_.size())
        streams_.resize(std::size_t(stream) + 1);
    auto s = std::make_unique<Stream>();
    s->info = info;
    s->name = s->file = QStringLiteral("stream_%1_%2").arg(stream).arg(info.tid);
    streams_[std::size_t(stream)] = std::move(s);
}

void RecordingWriter::flush(Stream &s)
{
    if (s.buffer.empty())
        return;
    const std::uint64_t bits = s.buffer.size() * 8;
    std::size_t at = packet::headerBytes;
    for (const std::uint64_t v : {s.firstTime, s.lastTime, bits, bits, s.lost}) {
        putAt(s.buffer, at, v);
        at += 8;
    }
    s.pieceBytes += s.buffer.size();
    disk_->put(s.file, std::exchange(s.buffer, {}));
}

// Names come first again, so that the piece can be read alone.
void RecordingWriter::beginPiece(Stream &s, std::uint64_t time)
{
    s.file = QStringLiteral("%1.%2").arg(s.name).arg(s.piece++, 6, 10, QChar('0'));
    s.pieceBegin = time;
    s.pieceBytes = 0;
    s.encoder.beginPiece();
    for (auto &[key, name] : s.names) {
        name.record.time = time;
        add(s, name.record, name.text.data(), name.text.size());
    }
}

void RecordingWriter::endPiece(Stream &s)
{
    flush(s);
    pieces_.push_back({s.file, s.lastTime, s.pieceBytes});
    kept_ += s.pieceBytes;
}

void RecordingWriter::forget(std::uint64_t now)
{
    const auto old = [&](const Piece &p) {
        return keep_.bytes ? kept_ > keep_.bytes
                           : p.end + std::uint64_t(std::chrono::nanoseconds(keep_.time).count()) < now;
    };
    while (!pieces_.empty() && old(pieces_.front())) {
        kept_ -= pieces_.front().bytes;
        disk_->remove(pieces_.front().file);
        pieces_.pop_front();
    }
}

Result<KeepLast> KeepLast::parse(const QString &text)
{
    static const QRegularExpression form("^(\\d+(?:\\.\\d+)?) *(ms|s|min|h|kB|KB|MB|GB)$");
    const auto m = form.match(text.trimmed());
    const double n = m.captured(1).toDouble();
    const QString unit = m.captured(2);
    if (!m.hasMatch() || n <= 0)
        return Problem{
            "'" + text + "' is neither a time nor a size", {}, "Write it like 30s, 10min, 200MB or 2GB"};
    KeepLast keep;
    static const QHash<QString, double> times{{"ms", 1}, {"s", 1e3}, {"min", 60e3}, {"h", 3600e3}},
        sizes{{"kB", 1e3}, {"KB", 1e3}, {"MB", 1e6}, {"GB", 1e9}};
    if (times.contains(unit))
        keep.time = std::chrono::milliseconds(std::max<std::int64_t>(1000, std::int64_t(n * times[unit])));
    else
        keep.bytes = std::max<std::uint64_t>(1'000'000, std::uint64_t(n * sizes[unit]));
    return keep;
}

void RecordingWriter::record(int stream, const Record &record, const char *text, std::size_t bytes)
{
    const link::KindInfo *info = link::infoOf(record.kind);
    if (!info || std::size_t(stream) >= streams_.size() || !streams_[std::size_t(stream)])
        return;
    Stream &s = *streams_[std::size_t(stream)];
    if (!keep_.all()) {
        // Pieces of a quarter of the time, or of a sixteenth of the size, so that what is kept is about that.
        const auto span = std::uint64_t(std::chrono::nanoseconds(keep_.time).count() / 4);
        const bool full = keep_.bytes ? s.pieceBytes + s.buffer.size() > keep_.bytes / 16
                                      : record.time > s.pieceBegin + span;
        if (s.piece == 0 || full) {
            if (s.piece > 0)
                endPiece(s);
            beginPiece(s, record.time);
            forget(record.time);
        }
        // A state and what is connected hold until they are told anew, as names do.
        const bool lasts =
            Kind(record.kind) == Kind::Fact && record.value <= std::uint32_t(link::Fact::Wires);
        if (lasts || record.kind < std::uint16_t(Kind::DispatchBegin))
            s.names[{std::uint16_t(record.kind | (lasts ? record.value << 8 : 0)), record.words[0]}] = {
                record, text ? std::string(text, bytes) : std::string()};
    }
    add(s, record, text, bytes);
    ++records_;
}

void RecordingWriter::add(Stream &s, const Record &record, const char *text, std::size_t bytes)
{
    if (s.buffer.size() + compact::mostBytes + bytes > packet::bytes)
        flush(s);
    s.lastTime = std::max(s.lastTime, record.time); // never backwards within a stream
    if (s.buffer.empty()) {
        s.buffer.reserve(packet::bytes);
        put(s.buffer, packet::magic);
        putBytes(s.buffer, uuid_.data(), uuid_.size());
        put(s.buffer, std::uint32_t(0));
        s.buffer.resize(packet::headerBytes + packet::contextBytes - 8);
        put(s.buffer, s.info.pid);
        put(s.buffer, s.info.tid);
        s.firstTime = s.lastTime;
        s.encoder.beginPacket(s.firstTime);
    }
    s.encoder.put(s.buffer, record, s.lastTime, text, bytes);
    if (Kind(record.kind) == Kind::Lost)
        s.lost = record.words[0];
}

void RecordingWriter::streamEnded(int stream)
{
    if (std::size_t(stream) >= streams_.size() || !streams_[std::size_t(stream)])
        return;
    if (keep_.all())
        flush(*streams_[std::size_t(stream)]);
    else if (streams_[std::size_t(stream)]->piece > 0)
        endPiece(*streams_[std::size_t(stream)]);
    streams_[std::size_t(stream)].reset();
}

void RecordingWriter::caughtUp(std::int64_t time)
{
    constexpr std::int64_t halfSecond = 500'000'000;
    if (time - flushedAt_ < halfSecond)
        return;
    flushedAt_ = time;
    for (auto &s : streams_)
        if (s)
            flush(*s);
}

Outcome RecordingWriter::finish()
{
    for (auto &s : streams_)
        if (s)
            flush(*s);
    Outcome done = disk_->finish();
    QFile::remove(roomFile(folder_));
    return done;
}

} // namespace pipit
