// The lines that add and set.
#include "core/catalog/catalog.h"
#include "core/project/naming.h"
#include "core/project/selector.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"

#include <QRegularExpression>

namespace pipit
{

Result<AddRequest> parseAddLine(const QString &whole)
{
    const Problem no{QStringLiteral("'%1' is not a widget to add").arg(whole.trimmed().left(60)),
                     {},
                     "Write the kind, the name and, if you like, the text in quotes"};
    if (whole.size() > 50'000)
        return Problem{"This is too long to be a widget", {}, no.remedy};
    QString line = whole.trimmed();
    AddRequest r;
    static const QRegularExpression into("\\s+in\\s+([A-Za-z]\\w*|\\.)$"),
        own("\\s+from\\s+(\\S+)(?:\\s+like\\s+([^\"=]+?))?(\\s+on\\s+a\\s+thread(?:\\s+of\\s+its\\s+own)?)?"
            "$"),
        property("\\s+([A-Za-z]\\w*)=(\"(?:[^\"\\\\]|\\\\.)*\"|\\S*)$"),
        text("\\s+\"((?:[^\"\\\\]|\\\\.)*)\"$"),
        head("^(.+?)\\s+([A-Za-z][\\w]*(?:\\{[^{}]*\\}\\w*)?|\\{[^{}]*\\}\\w*)$");
    const auto unquoted = [](QString s) {
        if (s.startsWith('"'))
            s = s.mid(1, s.size() - 2);
        return s.replace("\\\"", "\"").replace("\\n", "\n").replace("\\\\", "\\");
    };
    if (const auto m = into.match(line); m.hasMatch()) {
        r.parent = m.captured(1);
        line.truncate(m.capturedStart());
    }
    for (;;) {
        if (const auto m = property.match(line); m.hasMatch()) {
            r.properties.prepend({m.captured(1), unquoted(m.captured(2))});
            line.truncate(m.capturedStart());
        } else if (const auto t = text.match(line); t.hasMatch() && r.text.isNull()) {
            r.text = unquoted(t.captured(1));
            if (r.text.isNull())
                r.text = "";
            line.truncate(t.capturedStart());
        } else {
            break;
        }
    }
    if (const auto m = own.match(line); m.hasMatch()) {
        r.header = m.captured(1);
        r.base = m.captured(2).trimmed();
        r.thread = !m.captured(3).isEmpty();
        line.truncate(m.capturedStart());
        static const QRegularExpression path("^[A-Za-z0-9_]{1,100}\\.(h|hpp)$");
        if (!path.match(r.header).hasMatch())
            return Problem{QStringLiteral("The header '%1' is not allowed").arg(r.header.left(60)),
                           {},
                           "Name a .h file in the project's folder"};
    }
    const auto m = head.match(line);
    if (!m.hasMatch()) {
        const bool kind = !Catalog::get().classFor(line.simplified()).isEmpty();
        return kind ? Problem{QStringLiteral("The %1 has no name yet").arg(line.simplified()),
                              {},
                              "Write a name after it"}
                    : no;
    }
    r.words = m.captured(1).simplified();
    r.name = m.captured(2);
    if (!r.header.isEmpty() && !isIdentifier(r.words))
        return Problem{QStringLiteral("'%1' is not a class of your own").arg(r.words.left(60)),
                       {},
                       "Write the class that " + r.header + " declares"};
    const bool known = r.header.isEmpty() ? !Catalog::get().classFor(r.words).isEmpty()
                                          : r.base.isEmpty() || !ownBaseFor(r.base).isEmpty();
    if (!known)
        return unknownKind(r.header.isEmpty() ? r.words : r.base);
    return r;
}

namespace
{

// Where the property's words end: the longest words that name one.
Result<SetRequest> oneSetting(const Project &p, const QString &subject, const QString &text)
{
    static const QRegularExpression assigned("^([A-Za-z]\\w*)\\s*=\\s*(.*)$",
                                             QRegularExpression::DotMatchesEverythingOption);
    SetRequest r;
    r.subject = subject;
    QString t = text.trimmed();
    const bool reset = t.startsWith("reset ");
    if (reset)
        t = t.mid(6).trimmed();
    const auto unquoted = [](const QString &s) {
        return s.size() >= 2 && s.startsWith('"') && s.endsWith('"') ? s.mid(1, s.size() - 2) : s;
    };
    if (const auto m = assigned.match(t); m.hasMatch()) {
        r.property = m.captured(1);
        r.text = unquoted(m.captured(2));
        if (r.text.isNull())
            r.text = "";
        return r;
    }
    QString cls = p.classOf(subject);
    const QStringList words = t.split(' ', Qt::SkipEmptyParts);
    if (words.isEmpty())
        return Problem{
            "There is nothing to set", {}, "Write a property and its value, as in minimum width 48"};
    for (qsizetype n = std::min<qsizetype>(words.size(), 5); n > 0; --n) {
        const QString name = words.mid(0, n).join(' ');
        const bool fits = cls.isEmpty() ? n == 1 : bool(propertyFor(cls, name));
        if (!fits && name != "layout")
            continue;
        r.property = name;
        if (!reset)
            r.text = unquoted(words.mid(n).join(' '));
        if (!reset && r.text.isNull())
            r.text = "";
        return r;
    }
    if (auto entry = propertyFor(cls.isEmpty() ? "QWidget" : cls, words.first()); !entry)
        return entry.problem();
    return Problem{QStringLiteral("'%1' sets nothing").arg(t.left(60)), {}, "Write a property and its value"};
}

// Semicolons outside quotes divide.
QStringList settingsIn(const QString &text)
{
    QStringList parts{QString()};
    bool quoted = false;
    for (const QChar c : text) {
        quoted = quoted != (c == '"');
        if (c == ';' && !quoted)
            parts << QString();
        else
            parts.last() += c;
    }
    parts.removeIf([](const QString &s) { return s.trimmed().isEmpty(); });
    return parts;
}

} // namespace

Result<QList<SetRequest>> parseSetLine(const Project &p, const QString &whole, const QString &subjectGiven)
{
    static const QRegularExpression named("^([^:=]{1,300}):\\s*(.*)$");
    if (whole.size() > 100'000)
        return Problem{"This is too long", {}, "Write a property and its value"};
    QString text = whole.trimmed(), subject = subjectGiven;
    if (const auto m = named.match(text); m.hasMatch()) {
        const QString who = m.captured(1).trimmed();
        if (!p.classOf(who).isEmpty() || looksLikeSelector(who) || Catalog::get().has(who) ||
            subject.isEmpty()) {
            subject = who;
            text = m.captured(2);
        }
    }
    if (subject.isEmpty())
        return Problem{"The widget to set is missing", {}, "Write it as boardButton: text Depart"};
    QString known = subject;
    if (p.classOf(subject).isEmpty())
        if (const auto full = withNames(subject, p); full)
            if (const auto s = Selector::parse(*full); s)
                if (const auto found = s->matches(p); !found.isEmpty())
                    known = found.first().name;
    QList<SetRequest> all;
    for (const QString &one : settingsIn(text)) {
        auto r = oneSetting(p, known, one);
        if (!r)
            return r.problem();
        r->subject = subject;
        all.append(*r);
    }
    if (all.isEmpty())
        return Problem{
            "There is nothing to set", {}, "Write a property and its value, as in minimum width 48"};
    return all;
}

} // namespace pipit
