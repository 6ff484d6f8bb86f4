// Verbs about what is wired and why something did or did not happen: wiring, why.
#include "cli/of_recording.h"

#include "core/why/why.h"
#include "core/why/wiring.h"

#include <QJsonArray>
#include <QJsonObject>

namespace pipit::cli
{

namespace
{

struct Wiring : OfRecording {
    int run() const;
};

QJsonObject wiringJson(const WiringRow &w)
{
    return {{"source", orNull(w.source)},
            {"signal", orNull(w.signal)},
            {"receiver", orNull(w.receiver)},
            {"handler", orNull(w.handler)},
            {"handler_file", orNull(w.handlerFile)},
            {"handler_line", orNull(w.handlerLine)},
            {"type", orNull(w.type)},
            {"file", orNull(w.file)},
            {"line", orNull(w.line)},
            {"connected_ns", qint64(w.time)},
            {"failed", w.failed},
            {"reason", orNull(w.reason)},
            {"gone", w.gone}};
}

int Wiring::run() const
{
    return with(recording, [&](Recording &r) {
        const Scene scene(r.trace);
        QJsonArray rows;
        bool anyFailed = false;
        for (const WiringRow &w : wiringOf(r.trace, r.handlers, scene)) {
            rows.append(wiringJson(w));
            anyFailed = anyFailed || w.failed;
            if (json)
                continue;
            const QString place = w.file.isEmpty()
                                      ? QString()
                                      : QStringLiteral("  (%1:%2)").arg(w.file.section('/', -1)).arg(w.line);
            const QString to = w.handler.isEmpty() ? w.receiver : w.handler;
            print(QStringLiteral("%1 · %2 calls %3%4%5%6")
                      .arg(w.source.isEmpty() ? "?" : w.source,
                           w.signal.isEmpty() ? "?" : w.signal.left(w.signal.indexOf('(')),
                           to.isEmpty() ? "?" : to,
                           w.type == "auto" || w.type.isEmpty() ? QString() : ", " + w.type,
                           w.failed ? ", but the connect failed" + (w.reason.isEmpty() ? "" : ": " + w.reason)
                           : w.gone ? QStringLiteral(", no more")
                                    : QString(),
                           place));
        }
        if (json)
            printJson(rows);
        else if (rows.isEmpty())
            print(scene.isKnown() ? "The program made no connections."
                                  : "This recording has no connections. Record the program again.");
        return anyFailed ? findings : fine;
    });
}

struct Why : OfRecording {
    QString widget, time;

    void takes(Words &words)
    {
        OfRecording::takes(words);
        words.word(
            "--widget", widget, Words::MayBeLeftOut,
            "The widget's name, or its class and caption; the default is the widget of the last input");
        words.word("--at", time, Words::MayBeLeftOut,
                   "Ask about the last input before this time, in seconds from the start of the recording");
    }
    int run() const;
};

QJsonObject whyJson(const WhyAnswer &a)
{
    QJsonArray stations, changes;
    for (const Station &s : a.stations)
        stations.append(QJsonObject{
            {"name", s.name},
            {"ok", s.state == Station::Unknown ? QJsonValue() : QJsonValue(s.state == Station::Fine)},
            {"detail", s.detail}});
    for (const WhyChange &c : a.changes)
        changes.append(QJsonObject{{"time_ns", qint64(c.time)},
                                   {"what", c.what},
                                   {"value", orNull(c.value)},
                                   {"by", orNull(c.by)},
                                   {"file", orNull(c.file)},
                                   {"line", orNull(c.line)}});
    return {{"widget", a.widget},
            {"interaction", orNull(a.interaction)},
            {"at_ns", a.at ? QJsonValue(qint64(a.at)) : QJsonValue()},
            {"verdict", a.verdict},
            {"station", orNull(a.station)},
            {"sentence", a.sentence},
            {"fix", orNull(a.fix)},
            {"file", orNull(a.file)},
            {"line", orNull(a.line)},
            {"stations", stations},
            {"changes", changes}};
}

// Seconds from the beginning, with or without their unit; a long number is CLOCK_MONOTONIC in ns.
std::optional<std::int64_t> timeOf(QString text, const Recording &r)
{
    bool ok = false;
    if (const qint64 ns = text.toLongLong(&ok); ok && ns > 1'000'000'000)
        return ns;
    if (text.endsWith('s'))
        text.chop(1);
    const double seconds = text.trimmed().toDouble(&ok);
    if (!ok || seconds < 0)
        return std::nullopt;
    return r.trace.firstTime() + std::int64_t(seconds * 1e9);
}

void tell(const Recording &r, const WhyAnswer &a)
{
    for (const Station &s : a.stations)
        print(QStringLiteral("%1 %2  %3")
                  .arg(s.state == Station::Fine     ? "  "
                       : s.state == Station::Broken ? "✗ "
                                                    : "? ",
                       s.name.leftJustified(14), s.detail));
    if (!a.sentence.isEmpty())
        print('\n' + asSentence(a.sentence, a.widget));
    if (!a.fix.isEmpty())
        print(a.fix + '.');
    if (!a.file.isEmpty())
        print(QStringLiteral("%1:%2").arg(a.file).arg(a.line));
    if (!a.changes.empty())
        print(QStringLiteral("\nChanges by the program to %1:").arg(a.widget));
    for (const WhyChange &c : a.changes)
        print(QStringLiteral("%1  %2%3%4%5")
                  .arg(at(r, c.time), c.what, c.value.isEmpty() ? QString() : " to \"" + c.value + '"',
                       c.by.isEmpty() ? QString() : ", while " + c.by,
                       c.file.isEmpty()
                           ? QString()
                           : QStringLiteral("  (%1:%2)").arg(c.file.section('/', -1)).arg(c.line)));
}

int Why::run() const
{
    return with(recording, [&](Recording &r) {
        std::optional<std::int64_t> until;
        if (!time.isEmpty()) {
            until = timeOf(time, r);
            if (!until)
                return fail({QStringLiteral("'%1' is not a time").arg(time), "--at",
                             QStringLiteral("Write seconds from the start, such as 3.2")});
        }
        const auto answer = why(r, widget, until);
        if (!answer)
            return fail(answer.problem());
        if (json)
            printJson(whyJson(*answer));
        else
            tell(r, *answer);
        return answer->station.isEmpty() ? fine : findings;
    });
}

} // namespace

void addWhyVerbs(Registry &r)
{
    r.add<Wiring>("wiring", "List the connections and where they were made", "pipit wiring /tmp/first");
    r.add<Why>("why", "Explain why an input had no effect, or what effect it had",
               "pipit why /tmp/first --widget boardButton");
}

} // namespace pipit::cli
