#include "core/plays/play.h"

#include "core/trace/model.h"

#include "core/base/files.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QRegularExpression>

#include <optional>

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

// The colon between subject and action, outside quotes.
qsizetype colonOf(const QString &line)
{
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

bool readText(QString rest, PlayStep &s)
{
    if (auto r = after(rest, "containing")) {
        s.containing = true;
        rest = *r;
    }
    const auto text = quotedText(rest);
    s.text = text.value_or(QString());
    return text.has_value();
}

// "carList row 2": the name, and the row.
QString takeRow(const QString &subject, int &row)
{
    static const QRegularExpression form("^(.*\\S) row (\\d{1,7})$");
    const auto m = form.match(subject);
    row = m.captured(2).toInt();
    return m.hasMatch() ? m.captured(1) : subject;
}

// Fills the step; what is wrong, or nothing.
QString readAction(const QString &action, PlayStep &s)
{
    if (action == "click") {
        s.verb = PlayVerb::Click;
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
    if (auto r = after(action, "press")) {
        s.verb = PlayVerb::Press;
        s.text = *r;
        return {};
    }
    if (auto r = after(action, "wait for text")) {
        s.verb = PlayVerb::WaitForText;
        const qsizetype within = r->lastIndexOf(" within ");
        const auto time = within < 0 ? std::nullopt : duration(r->mid(within + 8).trimmed());
        if (!time || !readText(r->left(within).trimmed(), s))
            return "write: wait for text \"…\" within 2s";
        s.time = *time;
        return {};
    }
    if (auto r = after(action, "expect text")) {
        s.verb = PlayVerb::ExpectText;
        return readText(*r, s) ? QString()
                               : "write the text in double quotes, as in: expect text \"K-204 aboard\"";
    }
    if (s.subject == "loop")
        if (auto r = after(action, "expect no stall over")) {
            s.verb = PlayVerb::ExpectPace;
            const auto time = duration(*r);
            s.time = time.value_or(std::chrono::milliseconds(0));
            if (!time)
                return "write a time, as in: expect no stall over 50ms";
            return s.time >= shortest ? QString()
                                      : QStringLiteral("write %1ms or more: shorter stretches are not kept")
                                            .arg(shortest.count());
        }
    static const QRegularExpression calls("^expect (\\d{1,6}) calls?$");
    if (s.subject.startsWith("handler "))
        if (const auto m = calls.match(action); m.hasMatch()) {
            s.verb = PlayVerb::ExpectCalls;
            s.subject = s.subject.mid(8).trimmed();
            s.count = m.captured(1).toInt();
            return {};
        }
    return "use click, type, press, hover, drag to, wait for text, expect text; 'handler NAME: expect 1 "
           "call' or "
           "'loop: expect no stall over 50ms'";
}

} // namespace

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
                return Problem{"This is no time to wait", file, "Write for example: wait 300ms", number};
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
