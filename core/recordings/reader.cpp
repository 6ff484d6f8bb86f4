#include "core/recordings/reader.h"

#include "core/recordings/compact.h"
#include "core/recordings/writer.h"
#include "core/records/merge.h"

#include <QMap>
#include <QRegularExpression>

#include <cstring>
#include <memory>

namespace pipit
{

using link::Record;

namespace
{

constexpr std::size_t eventBytesBefore = 16; // time, id, depth, value, in version 0.1

template <class T> T get(const uchar *p)
{
    T v;
    std::memcpy(&v, p, sizeof v);
    return v;
}

// One stream's events, one after the other.
class StreamCursor
{
public:
    StreamCursor(const RecordingFiles &files, QStringList names, int minor)
        : files_(files), pieces_(std::move(names)), asBefore_(minor == 1), decoder_(minor)
    {
    }

    // The next piece of the stream.
    bool open(Problem *error)
    {
        const QString file = pieces_.takeFirst();
        name = files_.where(file);
        decoder_.beginPiece();
        at = contentEnd = packetEnd = 0;
        data = nullptr;
        size = 0;
        auto view = files_.view(file);
        if (!view) {
            *error = view.problem();
            return false;
        }
        view_ = std::move(*view);
        data = view_.bytes().data();
        size = view_.bytes().size();
        return true;
    }

    // Moves to the next event. False at the end.
    bool next()
    {
        for (;;) {
            while (at >= packetEnd)
                if (Problem error; !nextPacket() && (pieces_.isEmpty() || !open(&error)))
                    return false;
            if (asBefore_ ? readEvent() : decode()) {
                if (at >= contentEnd)
                    at = packetEnd;
                return true;
            }
            at = packetEnd; // what is left of the packet is not to be read
        }
    }

    QString name;
    StreamInfo info;
    Record record; // the current one
    bool more = false;
    const char *text = nullptr;
    std::size_t bytes = 0;
    std::uint64_t lost = 0;
    QStringList notes;

private:
    void tellUnknown()
    {
        constexpr qsizetype mostNotes = 20;
        if (notes.size() < mostNotes)
            notes << QStringLiteral("%1: an event of an unknown kind at byte %2; the rest of its packet "
                                    "is left out")
                         .arg(name)
                         .arg(at);
    }

    bool decode()
    {
        const uchar *from = data + at;
        const auto answer = decoder_.next(from, data + contentEnd, record, text, bytes);
        at = std::size_t(from - data);
        if (answer == compact::Decoder::Unknown)
            tellUnknown();
        return answer == compact::Decoder::Read && record.kind != 0;
    }

    // As it was written by version 0.1.
    bool readEvent()
    {
        if (at + eventBytesBefore > contentEnd)
            return false;
        record = Record{};
        record.time = get<std::uint64_t>(data + at);
        record.kind = get<std::uint16_t>(data + at + 8);
        record.depth = get<std::uint16_t>(data + at + 10);
        record.value = get<std::uint32_t>(data + at + 12);
        at += eventBytesBefore;
        const link::KindInfo *kind = link::infoOf(record.kind);
        if (!kind || at + std::size_t(kind->words) * 8 > contentEnd) {
            tellUnknown();
            return false;
        }
        std::memcpy(record.words, data + at, std::size_t(kind->words) * 8);
        at += std::size_t(kind->words) * 8;
        text = nullptr;
        bytes = 0;
        if (!kind->text)
            return true;
        const void *nul = std::memchr(data + at, 0, contentEnd - at);
        if (!nul)
            return false;
        text = reinterpret_cast<const char *>(data + at);
        bytes = std::size_t(static_cast<const uchar *>(nul) - (data + at));
        record.words[3] = bytes;
        at += bytes + 1;
        return true;
    }

    bool nextPacket()
    {
        const std::size_t from = packetEnd, head = packet::headerBytes + packet::contextBytes;
        if (from >= size)
            return false;
        const bool whole = from + head <= size && get<std::uint32_t>(data + from) == packet::magic;
        const uchar *context = data + from + packet::headerBytes;
        const std::uint64_t content = whole ? get<std::uint64_t>(context + 16) / 8 : 0;
        const std::uint64_t all = whole ? get<std::uint64_t>(context + 24) / 8 : 0;
        if (!whole || content < head || content > all || all > size - from) {
            notes << QStringLiteral("%1: torn at byte %2; what follows is left out").arg(name).arg(from);
            packetEnd = at = size;
            return false;
        }
        decoder_.beginPacket(get<std::uint64_t>(context));
        lost = get<std::uint64_t>(context + 32);
        info.pid = get<std::uint32_t>(context + 40);
        info.tid = get<std::uint32_t>(context + 44);
        info.main = info.pid == info.tid;
        at = from + head;
        contentEnd = from + content;
        packetEnd = from + all;
        return true;
    }

    const RecordingFiles &files_;
    QStringList pieces_; // that are not read yet
    const bool asBefore_;
    compact::Decoder decoder_;
    RecordingFiles::View view_;
    const uchar *data = nullptr;
    std::size_t size = 0, at = 0, contentEnd = 0, packetEnd = 0;
};

} // namespace

Result<ReadReport> readRecording(const QString &path, RecordSink &sink, const std::atomic<bool> *stop)
{
    const auto files = RecordingFiles::open(path);
    return files ? readRecording(**files, sink, stop) : Result<ReadReport>(files.problem());
}

Result<ReadReport> readRecording(const RecordingFiles &from, RecordSink &sink, const std::atomic<bool> *stop)
{
    const auto metadata = from.read("metadata");
    if (!metadata)
        return Problem{"This is not a recording: it has no readable file 'metadata'", from.path(),
                       "Name a folder from 'pipit record' or 'pipit run --record'"};
    const QByteArray &description = *metadata;
    if (!description.contains("tracer_name = \"pipit-recorder\""))
        return Problem{"This trace was not written by Pipit", from.path(), "Open a recording made by Pipit"};
    int minor = compact::minorVersion;
    while (minor > 0 && !description.contains("tracer_minor = " + QByteArray::number(minor) + ';'))
        --minor;
    if (minor == 0)
        return Problem{"The recording was written by a later version of Pipit", from.path(),
                       "Open it with that version"};
    std::vector<std::unique_ptr<StreamCursor>> streams;
    // A stream may lie in several pieces, of which the first ones are gone: stream_3_4711.000017
    QMap<QString, QStringList> files;
    for (const QString &file : from.names())
        if (file.startsWith("stream_") && !file.contains('/'))
            files[file.section('.', 0, 0)] << file;
    for (const QStringList &pieces : std::as_const(files)) {
        auto s = std::make_unique<StreamCursor>(from, pieces, minor);
        if (Problem error; !s->open(&error))
            return error;
        streams.push_back(std::move(s));
    }
    ReadReport report{0, 0, from.notes(), 0};
    static const QRegularExpression offset(R"(\boffset = (-?\d+);)");
    if (const auto m = offset.match(QString::fromLatin1(description)); m.hasMatch())
        report.sinceEpoch = m.captured(1).toLongLong();
    for (int i = 0; i < int(streams.size()); ++i) {
        StreamCursor &s = *streams[std::size_t(i)];
        s.more = s.next();
        if (s.more)
            sink.streamOpened(i, s.info);
    }
    std::uint64_t last = 0;
    constexpr std::uint64_t stretch = 1 << 14;
    mergeByTime(
        streams.size(), UINT64_MAX,
        [&](std::size_t i) { return streams[i]->more ? &streams[i]->record.time : nullptr; },
        [&](std::size_t i) {
            StreamCursor &s = *streams[i];
            sink.record(int(i), s.record, s.text, s.bytes);
            last = s.record.time;
            if (++report.records % stretch == 0)
                sink.caughtUp(std::int64_t(last));
            s.more = s.next();
            if (!s.more)
                sink.streamEnded(int(i));
            return !(stop && *stop);
        });
    sink.caughtUp(std::int64_t(last));
    for (const auto &s : streams) {
        report.lost += s->lost;
        report.notes += s->notes;
    }
    return report;
}

} // namespace pipit
