// Verbs that answer from a recording: turns, dispatches, calls.
#include "cli/of_recording.h"

#include "core/base/duration_text.h"
#include "core/base/json_rows.h"
#include "core/exports/spans_out.h"
#include "core/trace/dispatches.h"
#include "core/trace/inputs.h"
#include "core/trace/order.h"

#include <QFileInfo>
#include <QHash>
#include <QJsonDocument>

namespace pipit::cli
{

// Times as seconds since the recording began, for people.
QString at(const Recording &r, std::int64_t ns)
{
    return QStringLiteral("%1 s").arg(double(ns - r.trace.firstTime()) / 1e9, 9, 'f', 4);
}

int with(const QString &folder, const std::function<int(Recording &)> &what)
{
    auto r = Recording::open(folder);
    if (!r)
        return fail(r.problem());
    for (const QString &n : (*r)->report.notes)
        std::fprintf(stderr, "pipit: %s\n", n.toUtf8().constData());
    if (const auto unknown = (*r)->trace.unknownDeliveries())
        std::fprintf(
            stderr, "pipit: %s\n",
            qPrintable(counted(unknown, "delivery to an unknown slot", "deliveries to unknown slots")));
    if ((*r)->report.lost)
        std::fprintf(stderr, "pipit: %llu records were lost while recording\n",
                     static_cast<unsigned long long>((*r)->report.lost));
    return what(**r);
}

QJsonValue orNull(const QString &s)
{
    return s.isEmpty() ? QJsonValue() : QJsonValue(s);
}

QJsonValue orNull(int n)
{
    return n > 0 ? QJsonValue(n) : QJsonValue();
}

QJsonObject handlerJson(const HandlerName &h)
{
    return {{"name", h.name}, {"file", orNull(h.file)}, {"line", orNull(h.line)}};
}

QString column(const QString &text, int width)
{
    return text.rightJustified(width);
}

std::unique_ptr<JsonRows> rowsIf(bool json)
{
    return json ? std::make_unique<JsonRows>(stdout) : nullptr;
}
namespace
{

void putId(JsonRows &out, SpanId id)
{
    id ? out.number(std::int64_t(id.number())) : out.null();
}
void putTime(JsonRows &out, std::int64_t duration, bool judged)
{
    out.key("duration_ns");
    judged ? out.number(duration) : out.null();
}
// The same as text, made once for each.
const QByteArray &handlerOf(QHash<std::uint32_t, QByteArray> &told, std::uint32_t link, const HandlerName &h)
{
    QByteArray &text = told[link];
    if (text.isEmpty())
        text = QJsonDocument(handlerJson(h)).toJson(QJsonDocument::Compact);
    return text;
}

QString known(std::int64_t duration, bool judged)
{
    return judged ? durationText(duration) : QStringLiteral("not known");
}

struct Turns : OfRecording {
    int run() const;
};

int Turns::run() const
{
    return with(recording, [&](Recording &r) {
        const auto threads = r.trace.threads();
        const auto out = rowsIf(json);
        for (const TurnRow &t : turnsOf(r.trace, r.handlers)) {
            const QString &thread = threads[t.thread].name;
            if (!out) {
                print(QStringLiteral("%1  %2  %3%4 dispatches, %5 calls  %6")
                          .arg(at(r, t.start), column(known(t.duration, t.judged), 9),
                               t.depth ? QString(2 * t.depth, ' ') + "inside it: " : QString())
                          .arg(t.dispatches)
                          .arg(t.calls)
                          .arg(thread));
                continue;
            }
            out->beginRow();
            out->key("calls").number(t.calls);
            out->key("depth").number(t.depth);
            out->key("dispatches").number(t.dispatches);
            putTime(*out, t.duration, t.judged);
            out->key("forced").flag(t.forced);
            putId(out->key("id"), t.span);
            putId(out->key("parent"), t.parent);
            out->key("start_ns").number(t.start);
            out->key("thread").text(thread);
            out->endRow();
        }
        return fine;
    });
}

struct Dispatches : OfRecording {
    int run() const;
};

// What is said of millions of dispatches in few words: each is put together once.
class SaidOften
{
public:
    explicit SaidOften(const TraceModel &trace) : trace_(trace)
    {
        for (const ThreadInfo &t : trace.threads())
            threads_.push_back(orNull(t.name));
    }

    const QByteArray &thread(std::uint16_t i) const { return threads_[i]; }
    const QByteArray &type(std::uint32_t type)
    {
        QByteArray &text = types_[type];
        if (text.isEmpty())
            text = orNull(eventName(int(type)));
        return text;
    }
    const QByteArray &object(std::uint32_t i)
    {
        QByteArray &text = objects_[i];
        if (text.isEmpty()) {
            const ObjectInfo o = trace_.object(i);
            text = "{\"class\":" + orNull(o.className) + ",\"name\":" + orNull(o.name) + '}';
        }
        return text;
    }
    const QByteArray &hop(const Hop &h)
    {
        QByteArray &text = hops_[std::uint64_t(h.object) << 16 | std::uint64_t(h.outcome) << 8 | h.role];
        if (text.isEmpty()) {
            const ObjectInfo o = trace_.object(h.object);
            text = "{\"class\":" + orNull(o.className) + ",\"exact\":true,\"object\":" + orNull(o.text()) +
                   ",\"outcome\":" + orNull(outcomeWords(h.outcome)) +
                   ",\"role\":" + orNull(roleWords(h.role)) + '}';
        }
        return text;
    }

private:
    static QByteArray orNull(const QString &text) { return text.isEmpty() ? "null" : jsonText(text); }

    const TraceModel &trace_;
    std::vector<QByteArray> threads_;
    QHash<std::uint32_t, QByteArray> types_, objects_;
    QHash<std::uint64_t, QByteArray> hops_;
};

void putHops(JsonRows &out, const TraceModel &trace, SaidOften &often, const Span &s)
{
    const auto way = wayOf(trace, s);
    if (!way) {
        out.null();
        return;
    }
    out.beginList();
    for (const Hop &h : *way)
        out.ready(often.hop(h));
    out.endList();
}

void putInput(JsonRows &out, const TraceModel &trace, const Span &s)
{
    const auto input = inputOf(trace, s);
    input ? out.text(inputWords(int(s.what), *input)) : out.null();
}

void putCauses(JsonRows &out, const std::vector<Cause> &causes)
{
    out.beginList();
    for (const Cause &c : causes) {
        out.beginObject();
        putId(out.key("id"), c.span);
        out.key("kind").text(causeWord(c.kind));
        out.endObject();
    }
    out.endList();
}

void putDispatch(JsonRows &out, const TraceModel &trace, SaidOften &often, const Span &s)
{
    const Posting posting = s.flags & WasPosted ? trace.posting(s.id) : Posting{};
    out.beginRow();
    putCauses(out.key("causes"), trace.causes(s.id));
    putTime(out, s.duration(trace.now()), s.judged());
    putHops(out.key("hops"), trace, often, s);
    putId(out.key("id"), s.id);
    putInput(out.key("input"), trace, s);
    out.key("object").ready(often.object(s.object));
    putId(out.key("parent"), s.parent);
    out.key("posted_ns");
    posting.time > 0 ? out.number(posting.time) : out.null();
    out.key("spontaneous").flag(s.flags & FromWindow);
    out.key("start_ns").number(s.start);
    out.key("thread").ready(often.thread(s.thread));
    out.key("type").ready(often.type(s.what));
    out.key("unfinished").flag(s.open());
    out.endRow();
}

int Dispatches::run() const
{
    return with(recording, [&](Recording &r) {
        const auto threads = r.trace.threads();
        SaidOften often(r.trace);
        const auto out = rowsIf(json);
        inOrder(r.trace, INT64_MIN, INT64_MAX, [&](const ThreadRows &rows, std::uint32_t row) {
            if (rows.kind(row) != SpanKind::Dispatch)
                return true;
            const Span s = rows.at(row);
            if (out) {
                putDispatch(*out, r.trace, often, s);
                return true;
            }
            print(at(r, s.start) + "  " + column(known(s.duration(r.trace.now()), s.judged()), 9) + "  " +
                  sentenceOf(r.trace, r.handlers, s) +
                  (threads[s.thread].main ? QString() : ", in " + threads[s.thread].name));
            if (const QString way = wayText(r.trace, s); !way.isEmpty())
                print("                          " + way);
            return true;
        });
        return fine;
    });
}

struct Calls : OfRecording {
    int run() const;
};

void printCall(const Recording &r, const CallRow &c)
{
    QString from = c.source.isEmpty() ? QString() : "  from " + c.source;
    if (!from.isEmpty() && !c.signal.isEmpty())
        from += " · " + c.signal;
    const QString place =
        c.handler.file.isEmpty()
            ? QString()
            : QStringLiteral("  %1:%2").arg(QFileInfo(c.handler.file).fileName()).arg(c.handler.line);
    print(at(r, c.start) + "  " + column(known(c.duration, c.judged), 9) + "  " + QString(2 * c.depth, ' ') +
          c.handler.name + from + place);
}

void putCall(JsonRows &out, const TraceModel &trace, const CallRow &c, const QByteArray &handler,
             const QString &thread)
{
    out.beginRow();
    out.key("cause");
    if (c.cause) {
        out.beginObject();
        putId(out.key("id"), c.cause);
        out.key("kind").text(c.causeKind);
        out.endObject();
    } else {
        out.null();
    }
    putCauses(out.key("causes"), causesAround(trace, c.span));
    out.key("connection").text(c.handler.connection);
    out.key("depth").number(c.depth);
    putTime(out, c.duration, c.judged);
    out.key("handler").ready(handler);
    putId(out.key("id"), c.span);
    putId(out.key("parent"), c.parent);
    out.key("signal").text(c.signal);
    out.key("source").text(c.source);
    out.key("start_ns").number(c.start);
    out.key("thread").text(thread);
    out.key("unfinished").flag(c.open);
    out.endRow();
}

int Calls::run() const
{
    return with(recording, [&](Recording &r) {
        const auto threads = r.trace.threads();
        const auto out = rowsIf(json);
        QHash<std::uint32_t, QByteArray> told; // handlers, by link
        eachCall(r.trace, r.handlers, {}, [&](const CallRow &c) {
            out ? putCall(*out, r.trace, c, handlerOf(told, r.trace.span(c.span).what, c.handler),
                          threads[c.thread].name)
                : printCall(r, c);
            return true;
        });
        return fine;
    });
}

} // namespace

void addRecordingVerbs(Registry &r)
{
    r.add<Turns>("turns", "List the turns of the event loops", "pipit turns /tmp/first");
    r.add<Dispatches>("dispatches", "List every event, with its receivers and filters",
                      "pipit dispatches /tmp/first --json");
    r.add<Calls>("calls", "List every handler call", "pipit calls /tmp/first");
}

} // namespace pipit::cli
