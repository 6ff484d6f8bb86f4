#include "core/runs/excerpts.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

constexpr int before = 3, ofHandler = 40, ofPlace = 3; // lines around what is named

using Wanted = QMap<QString, std::vector<std::pair<int, int>>>; // first and last line

Wanted wantedLines(const TraceModel &trace, Handlers &handlers)
{
    Wanted wanted;
    const auto want = [&](const QString &file, int line, int after) {
        if (!file.isEmpty() && line > 0)
            wanted[file].push_back({std::max(1, line - before), line + after});
    };
    for (std::uint32_t i = 0; i < trace.linkCount(); ++i)
        if (const HandlerName &h = handlers.of(i); !h.helper)
            want(h.file, h.line, ofHandler);
    for (const std::uint64_t place : factPlaces(trace))
        if (const StackFrame f = handlers.placeAt(place); f.own)
            want(f.file, f.line, ofPlace);
    for (StackSample s : trace.stacks().all()) {
        handlers.nameFrames(s);
        for (const StackFrame &f : s.frames)
            if (f.own)
                want(f.file, f.line, ofPlace);
    }
    return wanted;
}

} // namespace

Excerpts Excerpts::gather(const TraceModel &trace, Handlers &handlers, std::int64_t began,
                          QStringList *leftOut)
{
    Excerpts all;
    Wanted wanted = wantedLines(trace, handlers);
    for (auto it = wanted.begin(); it != wanted.end(); ++it) {
        QFile file(it.key());
        if (!file.open(QIODevice::ReadOnly))
            continue;
        if (began > 0 && QFileInfo(file).lastModified().toMSecsSinceEpoch() > began / 1'000'000) {
            if (leftOut)
                leftOut->append(it.key());
            continue;
        }
        const QStringList lines = QString::fromUtf8(file.readAll()).split('\n');
        std::sort(it->begin(), it->end());
        std::vector<Piece> &pieces = all.pieces_[it.key()];
        int told = 0; // up to this line
        for (const auto &[first, last] : *it) {
            const int from = std::max(first, told + 1), to = std::min(last, int(lines.size()));
            if (from > to)
                continue;
            if (pieces.empty() || from > told + 1)
                pieces.push_back({from, {}});
            pieces.back().lines += lines.mid(from - 1, to - from + 1);
            told = to;
        }
        if (pieces.empty())
            all.pieces_.remove(it.key());
    }
    return all;
}

Excerpts Excerpts::of(const QJsonObject &file)
{
    Excerpts all;
    for (const auto &v : file["sources"].toArray()) {
        const QJsonObject o = v.toObject();
        Piece piece{std::max(1, o["first"].toInt(1)), {}};
        for (const auto &l : o["lines"].toArray())
            piece.lines << l.toString();
        if (const QString name = o["file"].toString(); !name.isEmpty() && !piece.lines.isEmpty())
            all.pieces_[name].push_back(std::move(piece));
    }
    return all;
}

QJsonObject Excerpts::toJson() const
{
    QJsonArray sources;
    for (auto it = pieces_.constBegin(); it != pieces_.constEnd(); ++it)
        for (const Piece &p : *it)
            sources.append(QJsonObject{
                {"file", it.key()}, {"first", p.first}, {"lines", QJsonArray::fromStringList(p.lines)}});
    return {{"version", 1}, {"sources", sources}};
}

int Excerpts::lineCount() const
{
    int count = 0;
    for (const auto &pieces : pieces_)
        for (const Piece &p : pieces)
            count += int(p.lines.size());
    return count;
}

std::optional<Excerpts::Piece> Excerpts::around(const QString &file, int line) const
{
    const auto it = pieces_.constFind(file);
    if (it != pieces_.constEnd())
        for (const Piece &p : *it)
            if (line >= p.first && line < p.first + int(p.lines.size()))
                return p;
    return std::nullopt;
}

} // namespace pipit
