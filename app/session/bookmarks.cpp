#include "app/session/bookmarks.h"

#include "app/session/background.h"
#include "core/base/files.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>

namespace pipit::app
{

namespace
{
const QString fileName = QStringLiteral("pipit/bookmarks.json");
} // namespace

Bookmarks::Bookmarks(Messages *messages, ShownTrace *shown, QObject *parent)
    : QObject(parent), messages_(messages), shown_(shown)
{
    connect(shown, &ShownTrace::reset, this, [this] {
        marks_.clear();
        unsaved_ = false;
        Q_EMIT changed();
    });
    connect(shown, &ShownTrace::readToEnd, this, [this] {
        load();
        Q_EMIT changed();
    });
    connect(shown, &ShownTrace::figuresChanged, this, [this] {
        if (unsaved_)
            save();
    });
}

const Bookmarks::Mark *Bookmarks::of(SpanId span) const
{
    const auto it = marks_.find(span);
    return it == marks_.end() ? nullptr : &it->second;
}

void Bookmarks::set(SpanId span, const QString &note)
{
    const TraceModel *trace = shown_->trace();
    if (!trace || !trace->has(span))
        return;
    marks_[span] = {trace->span(span).start, note};
    save();
    Q_EMIT changed();
}

void Bookmarks::remove(SpanId span)
{
    if (marks_.erase(span)) {
        save();
        Q_EMIT changed();
    }
}

// Once all of it is read: threads are found by their numbers in the system, rows by when they began.
void Bookmarks::load()
{
    const auto recording = shown_->recording();
    if (!recording)
        return;
    const auto bytes = recording->files->read(fileName);
    const auto file = bytes ? jsonObjectOf(*bytes, recording->files->where(fileName)) : bytes.problem();
    if (!file)
        return;
    const TraceModel &trace = recording->trace;
    for (const auto &v : (*file)["bookmarks"].toArray()) {
        const QJsonObject o = v.toObject();
        const std::int64_t time = o["time_ns"].toInteger();
        for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
            const ThreadInfo info = trace.thread(t);
            const ThreadRows &rows = trace.rows(t);
            if (double(info.pid) != o["pid"].toDouble() || double(info.tid) != o["tid"].toDouble())
                continue;
            std::uint32_t row = rows.firstFrom(time);
            const double kept = o["row"].toDouble(-1); // of several that began then
            if (kept > row && kept < rows.count() && rows.start(std::uint32_t(kept)) == time)
                row = std::uint32_t(kept);
            if (row < rows.count() && rows.start(row) == time)
                marks_[SpanId(t, row)] = {time, o["note"].toString()};
        }
    }
}

void Bookmarks::save()
{
    const QString path = shown_->recordedAt();
    unsaved_ = path.isEmpty();
    if (unsaved_ || !QFileInfo(path).isDir())
        return;
    QJsonArray rows;
    for (const auto &[span, mark] : marks_) {
        const ThreadInfo thread = shown_->trace()->thread(span.thread());
        rows.append(QJsonObject{{"pid", double(thread.pid)},
                                {"tid", double(thread.tid)},
                                {"row", double(span.row())},
                                {"time_ns", qint64(mark.time)},
                                {"note", mark.note}});
    }
    inQuiet(
        this,
        [path, bytes = QJsonDocument(QJsonObject{{"version", 1}, {"bookmarks", rows}}).toJson()] {
            if (auto ok = makeFolder(path + "/pipit"); !ok)
                return ok;
            return writeFile(path + '/' + fileName, bytes);
        },
        [this](const Outcome &done) {
            if (!done)
                Q_EMIT messages_->problem("The marks could not be saved: " + done.problem().text());
        });
}

} // namespace pipit::app
