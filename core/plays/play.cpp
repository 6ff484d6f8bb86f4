#include "core/plays/play.h"

#include "core/trace/model.h"

#include "core/base/files.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QHash>
#include <QRegularExpression>

#include <optional>
#include <tuple>

namespace pipit
{

namespace
{

constexpr auto shortest = std::chrono::duration_cast<std::chrono::milliseconds>(
    std::chrono::nanoseconds(TraceModel::shortestStretch));

std::optional<std::chrono::milliseconds> duration(const QString &text)
{
    static const QRegularExpression form("^(\\d{1,7}) ?(ms|s)$");
    const auto m = form.match(text);
    if (!m.hasMatch())
        return std::nullopt;
    return std::chrono::milliseconds(m.captured(1).toInt() * (m.captured(2) == "s" ? 1000 : 1));
}

// A text in double quotes; \" and \\ and \n stand for themselves and a new line.
std::optional<QString> quotedText(const QString &text)
{
    if (text.size() < 2 || !text.startsWith('"') || !text.endsWith('"'))
        return std::nullopt;
    QString out;
    for (qsizetype i = 1; i < text.size() - 1; ++i) {
        QChar c = text[i];
        if (c == '"')
            return std::nullopt;
        if (c == '\\') {
            if (++i >= text.size() - 1)
                return std::nullopt;
            c = text[i] == 'n' ? QChar('\n') : text[i];
        }
        out += c;
    }
    return out;
}

// The colon between subject and action, outside quotes; a handler's name may hold some.
qsizetype colonOf(const QString &line)
{
    if (line.startsWith("handler "))
        if (const qsizetype at = line.lastIndexOf(": expect "); at > 0)
            return at;
    bool inText = false;
    for (qsizetype i = 0; i < line.size(); ++i) {
        if (line[i] == '"')
            inText = !inText;
        if (line[i] == ':' && !inText)
            return i;
    }
    return -1;
}

std::optional<QString> after(const QString &text, const QString &words)
{
    return text.startsWith(words + ' ') ? std::optional(text.mid(words.size() + 1).trimmed()) : std::nullopt;
}

// What is waited for or expected: the same words for both. What is wrong, or nothing.
QString readState(const QString &words, PlayStep &s)
{
    static const QHash<QString, std::pair<QString, bool>> switches = {
        {"checked", {"checked", true}},   {"unchecked", {"checked", false}},
        {"enabled", {"enabled", true}},   {"partly checked", {"partly", true}},
        {"disabled", {"enabled", false}}, {"visible", {"visible", true}},
        {"hidden", {"visible", false}}};
    if (const auto it = switches.constFind(words); it != switches.constEnd()) {
        std::tie(s.kind, s.is) = *it;
        return {};
    }
    for (const auto &[start, kind] :
         {std::pair{"text containing", "containing"}, {"text", "text"}, {"item", "item"}})
        if (const auto r = after(words, QLatin1String(start))) {
            s.kind = QLatin1String(kind);
            const auto text = quotedText(*r);
            s.text = text.value_or(QString());
            return text ? QString() : "write the text in double quotes, as in: expect text \"K-204 aboard\"";
        }
    for (const char *kind : {"value", "count"})
        if (const auto r = after(words, QLatin1String(kind))) {
            bool number = false;
            s.kind = QLatin1String(kind);
            s.number = r->toDouble(&number);
            return number ? QString()
                          : QStringLiteral("write a number, as in: expect %1 3").arg(QLatin1String(kind));
        }
    return "expect text \"…\", text containing \"…\", checked, unchecked, partly checked, enabled, disabled, "
           "visible, "
           "hidden, value N, "
           "item \"…\" or count N";
}

// "carList row 2": the name, and the row.
QString takeRow(const QString &subject, int &row)
{
    static const QRegularExpression form("^(.*\\S) row (\\d{1,7})$");
    const auto m = form.match(subject);
    row = m.captured(2).toInt();
    return m.hasMatch() ? m.captured(1) : subject;
}

std::optional<ClickKind> clickKind(const QString &action)
{
    static const QHash<QString, ClickKind> kinds = {{"click", ClickKind::Plain},
                                                    {"double click", ClickKind::Double},
                                                    {"context click", ClickKind::Context},
                                                    {"press and hold", ClickKind::Hold},
                                                    {"release", ClickKind::Release}};
    const auto it = kinds.constFind(action);
    return it == kinds.constEnd() ? std::nullopt : std::optional(*it);
}

// "wait for STATE within TIME", "expect STATE", "expect STATE within TIME".
QString readExpectation(const QString &action, PlayStep &s)
{
    const bool waits = action.startsWith("wait for ");
    QString words = action.mid(waits ? 9 : 7).trimmed();
    s.verb = waits ? PlayVerb::WaitFor : PlayVerb::Expect;
    const qsizetype within = words.lastIndexOf(" within ");
    if (within >= 0 && within > words.lastIndexOf('"')) {
        const auto time = duration(words.mid(within + 8).trimmed());
        if (!time || time->count() == 0)
            return "write a time, as in: within 2s";
        s.time = *time;
        words = words.left(within).trimmed();
    } else if (waits) {
        return "write: wait for text \"…\" within 2s";
    }
    return readState(words, s);
}

QString readPace(const QString &time, PlayStep &s)
{
    s.verb = PlayVerb::ExpectPace;
    const auto over = duration(time);
    s.time = over.value_or(std::chrono::milliseconds(0));
    if (!over)
        return "write a time, as in: expect no stall over 50ms";
    return s.time >= shortest
               ? QString()
               : QStringLiteral("write %1ms or more: shorter stretches are not kept").arg(shortest.count());
}

// "expect wait under 100ms"
QString readWait(const QString &time, PlayStep &s)
{
    s.verb = PlayVerb::ExpectWait;
    const auto under = duration(time);
    s.time = under.value_or(std::chrono::milliseconds(0));
    return s.time.count() > 0 ? QString() : "write a time, as in: expect wait under 100ms";
}

// "expect every 250ms within 20ms"
QString readEvery(const QString &words, PlayStep &s)
{
    s.verb = PlayVerb::ExpectEvery;
    const auto every = duration(words.section(" within ", 0, 0).trimmed());
    const auto within = duration(words.section(" within ", 1).trimmed());
    if (!every || !within || every->count() == 0 || within->count() == 0)
        return "write two times, as in: expect every 250ms within 20ms";
    s.every = *every;
    s.time = *within;
    return {};
}

// Fills the step; what is wrong, or nothing.
QString readAction(const QString &action, PlayStep &s)
{
    if (const auto kind = clickKind(action)) {
        s.verb = PlayVerb::Click;
        s.click = *kind;
        return {};
    }
    if (auto r = after(action, "type")) {
        s.verb = PlayVerb::Type;
        const auto text = quotedText(*r);
        s.text = text.value_or(QString());
        return text ? QString() : "write the text in double quotes, as in: type \"K-204\"";
    }
    if (action == "hover" || action.startsWith("hover ")) {
        s.verb = PlayVerb::Hover;
        static const QRegularExpression point("^(?: (\\d{1,5}),\\s?(\\d{1,5}))?$");
        const auto m = point.match(action.mid(5));
        s.x = m.captured(1).toInt();
        s.y = m.captured(2).toInt();
        return m.hasMatch() ? QString() : "write: hover, or hover 40,60";
    }
    if (auto r = after(action, "drag to")) {
        s.verb = PlayVerb::Drag;
        s.text = takeRow(*r, s.textRow);
        return {};
    }
    static const QRegularExpression wheel("^wheel (up|down)(?: (\\d{1,3}))?$");
    if (const auto m = wheel.match(action); m.hasMatch()) {
        s.verb = PlayVerb::Wheel;
        s.count = (m.captured(1) == "up" ? 1 : -1) * std::max(1, m.captured(2).toInt());
        return {};
    }
    if (auto r = after(action, "press")) {
        s.verb = PlayVerb::Press;
        s.text = *r;
        return {};
    }
    if (s.subject == "loop")
        if (auto r = after(action, "expect no stall over"))
            return readPace(*r, s);
    if (s.subject == "loop")
        if (auto r = after(action, "expect wait under"))
            return readWait(*r, s);
    if (auto r = after(action, "expect every"))
        return readEvery(*r, s);
    static const QRegularExpression calls("^expect (\\d{1,6}) calls?$");
    if (s.subject.startsWith("handler "))
        if (const auto m = calls.match(action); m.hasMatch()) {
            s.verb = PlayVerb::ExpectCalls;
            s.subject = s.subject.mid(8).trimmed();
            s.count = m.captured(1).toInt();
            return {};
        }
    if (action.startsWith("wait for ") || action.startsWith("expect "))
        return readExpectation(action, s);
    return "use click, double click, context click, press and hold, release, wheel, type, press, hover, drag "
           "to, wait for, "
           "expect; 'handler NAME: expect 1 call', 'loop: expect no stall over 50ms', 'loop: expect wait "
           "under 100ms' or "
           "'TIMER: expect every 250ms within 20ms'";
}

} // namespace

QString PlayStep::expected() const
{
    if (kind == "text" || kind == "item")
        return QStringLiteral("%1 \"%2\"").arg(kind, text);
    if (kind == "containing")
        return QStringLiteral("text containing \"%1\"").arg(text);
    if (kind == "value" || kind == "count")
        return QStringLiteral("%1 %2").arg(kind).arg(number, 0, 'g', 12);
    static const QHash<QString, QString> opposite = {
        {"checked", "unchecked"}, {"enabled", "disabled"}, {"visible", "hidden"}};
    return kind == "partly" ? QString("partly checked") : is ? kind : opposite.value(kind);
}

Result<Play> parsePlay(const QString &text, const QString &file)
{
    Play play;
    play.name = QFileInfo(file).fileName();
    QCryptographicHash hash(QCryptographicHash::Sha1);
    int number = 0;
    for (const QString &raw : text.split('\n')) {
        ++number;
        const QString line = raw.trimmed();
        if (line.isEmpty() || line.startsWith('#'))
            continue;
        PlayStep s;
        s.line = number;
        s.source = line;
        if (auto r = after(line, "wait")) {
            const auto time = duration(*r);
            if (!time)
                return Problem{"The time to wait is not understood", file, "Write for example: wait 300ms",
                               number};
            s.time = *time;
        } else {
            const qsizetype colon = colonOf(line);
            if (colon <= 0)
                return Problem{"The step has no subject", file,
                               "Write the widget first, as in: boardButton: click", number};
            s.subject = takeRow(line.left(colon).trimmed(), s.row);
            if (const QString wrong = readAction(line.mid(colon + 1).trimmed(), s); !wrong.isEmpty())
                return Problem{"The step is not understood", file, wrong, number};
        }
        hash.addData(line.toUtf8() + '\n');
        play.steps << s;
    }
    play.fingerprint = hash.result().toHex();
    return play;
}

Result<Play> loadPlay(const QString &file)
{
    auto bytes = readFile(file);
    if (!bytes)
        return bytes.problem();
    return parsePlay(QString::fromUtf8(*bytes), file);
}

} // namespace pipit
