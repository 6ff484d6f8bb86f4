#include "core/exports/exports.h"

#include "core/exports/spans_out.h"

#include <QSaveFile>

namespace pipit
{

namespace
{

const char *kindWord(SpanKind kind)
{
    switch (kind) {
    case SpanKind::Turn:
        return "turn";
    case SpanKind::Dispatch:
        return "dispatch";
    case SpanKind::Signal:
        return "signal";
    case SpanKind::Call:
        return "call";
    case SpanKind::Loop:
        return "loop";
    case SpanKind::ForcedPass:
        return "forced_pass";
    case SpanKind::Message:
        return "message";
    }
    return "";
}

// Microseconds with three places, from whole nanoseconds: no digit is made up.
QByteArray microseconds(std::int64_t ns)
{
    QByteArray text = QByteArray::number(qint64(ns / 1000)) + '.';
    const QByteArray rest = QByteArray::number(qint64(ns % 1000));
    return text + QByteArray(3 - rest.size(), '0') + rest;
}

QByteArray quotedForCsv(const QString &text)
{
    QByteArray bytes = text.toUtf8();
    return '"' + bytes.replace('"', "\"\"") + '"';
}

Outcome endOf(const SpansOut &out, QIODevice &to)
{
    if (out.ok())
        return Done{};
    return Problem{QStringLiteral("it could not be written: %1").arg(to.errorString()), {}, {}};
}

} // namespace

Outcome exportTraceEvents(Recording &r, QIODevice &to)
{
    SpansOut out(r, to);
    const std::int64_t zero = r.trace.firstTime();
    out.write("{\"displayTimeUnit\":\"ms\",\"traceEvents\":[\n");
    bool first = true;
    const auto begin = [&] { out.write(std::exchange(first, false) ? "" : ",\n"); };
    for (std::uint16_t t = 0; t < r.trace.threadCount(); ++t) {
        const ThreadInfo info = r.trace.thread(t);
        begin();
        out.write("{\"ph\":\"M\",\"name\":\"thread_name\",\"pid\":" + QByteArray::number(info.pid) +
                  ",\"tid\":" + QByteArray::number(info.tid) + ",\"args\":{\"name\":" + jsonText(info.name) +
                  "}}");
    }
    out.each([&](const Span &s, const ThreadInfo &thread, const QString &sentence) {
        const QByteArray where =
            ",\"pid\":" + QByteArray::number(thread.pid) + ",\"tid\":" + QByteArray::number(thread.tid);
        const QByteArray ts = ",\"ts\":" + microseconds(s.start - zero);
        begin();
        if (s.kind == SpanKind::Message) {
            out.write("{\"ph\":\"i\",\"s\":\"t\",\"name\":" + jsonText(sentence) + ",\"cat\":\"message\"" +
                      ts + where + '}');
            return;
        }
        out.write("{\"ph\":\"X\",\"name\":" + jsonText(sentence) + ",\"cat\":\"" + kindWord(s.kind) + '"' +
                  ts + ",\"dur\":" + microseconds(s.duration(r.trace.now())) + where + ",\"args\":{\"id\":" +
                  QByteArray::number(qulonglong(s.id.number())) + (s.open() ? ",\"unfinished\":true" : "") +
                  (s.judged() ? "" : ",\"duration_known\":false") + "}}");
        const Posting p = s.flags & WasPosted ? r.trace.posting(s.id) : Posting{};
        if (!p.cause || !p.time)
            return;
        const ThreadInfo from = r.trace.thread(p.cause.thread());
        const QByteArray id = ",\"id\":" + QByteArray::number(qulonglong(s.id.number())) +
                              ",\"name\":\"post\",\"cat\":\"post\"";
        begin();
        out.write("{\"ph\":\"s\"" + id + ",\"ts\":" + microseconds(p.time - zero) + ",\"pid\":" +
                  QByteArray::number(from.pid) + ",\"tid\":" + QByteArray::number(from.tid) + '}');
        begin();
        out.write("{\"ph\":\"f\",\"bp\":\"e\"" + id + ts + where + '}');
    });
    out.write("\n]}\n");
    return endOf(out, to);
}

Outcome exportCsv(Recording &r, QIODevice &to)
{
    SpansOut out(r, to);
    out.write("id,parent,thread,kind,start_ns,duration_ns,object,class,sentence\n");
    out.each([&](const Span &s, const ThreadInfo &thread, const QString &sentence) {
        const ObjectInfo o =
            s.kind == SpanKind::Turn || s.kind == SpanKind::Message ? ObjectInfo{} : r.trace.object(s.object);
        out.write(QByteArray::number(qulonglong(s.id.number())) + ',' +
                  (s.parent ? QByteArray::number(qulonglong(s.parent.number())) : QByteArray()) + ',' +
                  quotedForCsv(thread.name) + ',' + kindWord(s.kind) + ',' +
                  QByteArray::number(qint64(s.start)) + ',' +
                  (s.judged() && !s.open() ? QByteArray::number(qint64(s.end - s.start)) : QByteArray()) +
                  ',' + quotedForCsv(o.name) + ',' + quotedForCsv(o.className) + ',' +
                  quotedForCsv(sentence) + '\n');
    });
    return endOf(out, to);
}

Outcome exportTo(Recording &r, const QString &format, const QString &path)
{
    using Export = Outcome (*)(Recording &, QIODevice &);
    const Export write = format == "trace-event" ? &exportTraceEvents
                         : format == "csv"       ? &exportCsv
                         : format == "html"      ? &exportReport
                                                 : nullptr;
    if (!write)
        return Problem{QStringLiteral("there is no format %1").arg(format),
                       {},
                       QStringLiteral("Choose trace-event, csv or html")};
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        return Problem{QStringLiteral("it cannot be written: %1").arg(file.errorString()), path, {}};
    if (auto ok = write(r, file); !ok)
        return Problem{ok.problem().what, path, QStringLiteral("The old file is unchanged")};
    if (!file.commit())
        return Problem{QStringLiteral("it could not be written: %1").arg(file.errorString()), path,
                       QStringLiteral("The old file is unchanged")};
    return Done{};
}

} // namespace pipit
