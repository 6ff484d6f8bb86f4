#include "core/project/values.h"

#include "core/project/key_names.h"

#include <QDate>
#include <QDateTime>
#include <QRegularExpression>

namespace pipit
{

namespace
{

Problem wrong(const PropertyEntry &p, const QString &text, const QString &remedy)
{
    return {QStringLiteral("%1 cannot be '%2'").arg(p.name, text.left(60)), {}, remedy};
}

// "align left" and "AlignLeft" are the same key.
QString plain(QString s)
{
    static const QRegularExpression between("[\\s_-]");
    return s.remove(between).toLower();
}

QString keyFor(const PropertyEntry &p, const QString &text)
{
    const QString wanted = plain(text.section("::", -1));
    QString byEnd;
    for (const QString &key : p.keys) {
        if (plain(key) == wanted)
            return key;
        if (plain(key).endsWith(wanted) && !wanted.isEmpty() && byEnd.isEmpty())
            byEnd = key; // "right" → AlignRight
    }
    for (const QString &key : p.keys)
        if (plain(key).startsWith(wanted) && !wanted.isEmpty() && byEnd.isEmpty())
            byEnd = key; // "horizontal" is exact; "strong" → StrongFocus
    return byEnd;
}

} // namespace

Result<Json> enumerationValue(const PropertyEntry &p, const QString &text)
{
    static const QRegularExpression between("[|,\\s]+");
    const QStringList parts = p.flags ? text.split(between, Qt::SkipEmptyParts) : QStringList{text.trimmed()};
    QStringList keys;
    for (const QString &part : parts) {
        const QString key = keyFor(p, part);
        if (key.isEmpty()) {
            const QString near = nearestName(part, p.keys);
            return wrong(p, text, near.isEmpty() ? "Use one of " + p.keys.join(", ") : "Nearest: " + near);
        }
        if (!keys.contains(key))
            keys << key;
    }
    return Json::string(keys.join('|'));
}

namespace
{

bool insideFolder(const QString &path)
{
    static const QRegularExpression form("^[A-Za-z0-9_. -]+(/[A-Za-z0-9_. -]+)*$");
    return form.match(path).hasMatch() && !path.split('/').contains("..") && path.size() <= 300;
}

Result<Json> picture(const PropertyEntry &p, const QString &text)
{
    static const QRegularExpression theme("^theme:[A-Za-z0-9-]{1,100}$");
    const bool file = text.startsWith("file:") && insideFolder(text.mid(5));
    if (text.isEmpty() || theme.match(text).hasMatch() || file)
        return Json::string(text);
    return wrong(p, text,
                 "Write theme:document-save, or file:icons/horn.png for a file in the project's folder");
}

Result<Json> colour(const PropertyEntry &p, const QString &text)
{
    static const QRegularExpression form("^(#[0-9A-Fa-f]{6}|#[0-9A-Fa-f]{3}|[a-z]{3,20})$");
    if (form.match(text).hasMatch())
        return Json::string(text);
    return wrong(p, text, "Write a colour as #2B2723 or by name, such as teal");
}

Result<Json> number(const PropertyEntry &p, const QString &text, bool whole)
{
    bool ok = false;
    const double n = text.toDouble(&ok);
    if (!ok || (whole && (n != double(qint64(n)) || n < -2147483648.0 || n > 2147483647.0)))
        return wrong(p, text, whole ? "Write a whole number" : "Write a number");
    return Json::number(n);
}

Result<Json> byForm(const PropertyEntry &p, const QString &text)
{
    static const QRegularExpression size("^(\\d{1,5})\\s*x\\s*(\\d{1,5})$"),
        margins("^\\d{1,4}( \\d{1,4} \\d{1,4} \\d{1,4})?$"), policy("^[A-Za-z]+ [A-Za-z]+$");
    if (p.type == "QSize") {
        const auto m = size.match(text);
        if (!m.hasMatch())
            return wrong(p, text, "Write a size as 640x480");
        return Json::string(m.captured(1) + 'x' + m.captured(2));
    }
    if (p.type == "margins")
        return margins.match(text).hasMatch()
                   ? Result<Json>(Json::string(text))
                   : Result<Json>(wrong(p, text, "Write one number, or left top right bottom as 8 4 8 4"));
    if (p.type == "QFont") {
        auto font = parseFont(text);
        return font ? Result<Json>(Json::string(text)) : Result<Json>(font.problem());
    }
    if (p.type == "QSizePolicy") {
        static const QStringList words = {"Fixed",     "Minimum",          "Maximum", "Preferred",
                                          "Expanding", "MinimumExpanding", "Ignored"};
        QStringList both;
        for (const QString &w : text.split(' ', Qt::SkipEmptyParts))
            for (const QString &known : words)
                if (known.compare(w, Qt::CaseInsensitive) == 0)
                    both << known;
        if (both.size() == 2)
            return Json::string(both.join(' '));
        return wrong(p, text, "Write two of " + words.join(", ") + ": horizontal, then vertical");
    }
    if (p.type == "QDate" && QDate::fromString(text, Qt::ISODate).isValid())
        return Json::string(text);
    if (p.type == "QTime" && QTime::fromString(text, Qt::ISODate).isValid())
        return Json::string(text);
    if (p.type == "QDateTime" && QDateTime::fromString(text, Qt::ISODate).isValid())
        return Json::string(text);
    if (p.type.startsWith("QDate") || p.type == "QTime")
        return wrong(p, text, "Write it as 2031-05-14, 14:20, or 2031-05-14T14:20");
    return Problem{QStringLiteral("%1 is of type %2, which cannot be set here").arg(p.name, p.type),
                   {},
                   "Set it in the window's constructor"};
}

} // namespace

QStringList nameList(const QString &text)
{
    static const QRegularExpression between("[,\\s]+");
    return text.isEmpty() ? QStringList() : text.split(between, Qt::SkipEmptyParts);
}

Result<FontWords> parseFont(const QString &text)
{
    static const QRegularExpression word("\\G\\s*(?:\"([^\"]{1,100})\"|(\\S+))");
    FontWords f;
    qsizetype at = 0;
    while (at < text.trimmed().size()) {
        const auto m = word.match(text.trimmed(), at);
        const QString w = m.captured(2).toLower();
        bool number = false;
        const int points = w.toInt(&number);
        if (!m.captured(1).isEmpty())
            f.family = m.captured(1);
        else if (number && points >= 4 && points <= 200)
            f.points = points;
        else if (w == "bold")
            f.bold = true;
        else if (w == "italic")
            f.italic = true;
        else if (w == "underline")
            f.underline = true;
        else if (w != "font" && w != "pt")
            return Problem{QStringLiteral("The font '%1' is not understood").arg(text.left(60)),
                           {},
                           "Write for example \"Inter\" 14 bold; any part may be left out"};
        at = m.capturedEnd();
    }
    return f;
}

Result<const PropertyEntry *> propertyFor(const QString &cls, const QString &words)
{
    const Catalog &catalog = Catalog::get();
    if (const PropertyEntry *p = catalog.property(cls, words.trimmed()))
        return p;
    const QString joined = propertyNameFromWords(words.simplified());
    QStringList names;
    for (const PropertyEntry &p : catalog.propertiesOf(cls)) {
        if (p.name.compare(joined, Qt::CaseInsensitive) == 0)
            return catalog.property(cls, p.name);
        names << p.name;
    }
    const QString near = nearestName(joined, names);
    return Problem{QStringLiteral("%1 has no property '%2'").arg(cls, words.left(60)),
                   {},
                   near.isEmpty() ? "See 'pipit catalog " + cls + "'" : "Nearest: " + near};
}

bool isSettable(const PropertyEntry &p)
{
    static const QStringList types = {"bool",        "int",          "double", "QIcon",    "QPixmap",
                                      "QColor",      "names",        "items",  "QString",  "QUrl",
                                      "QStringList", "QKeySequence", "QSize",  "margins",  "QFont",
                                      "QSizePolicy", "QDate",        "QTime",  "QDateTime"};
    return !p.keys.isEmpty() || types.contains(p.type);
}

Result<Json> propertyValue(const QString &cls, const QString &property, const QString &text)
{
    auto found = propertyFor(cls, property);
    if (!found)
        return found.problem();
    const PropertyEntry &p = **found;
    if (!p.keys.isEmpty())
        return enumerationValue(p, text);
    if (p.type == "bool") {
        const QString t = text.trimmed().toLower();
        if (t == "true" || t == "yes" || t == "on")
            return Json::boolean(true);
        if (t == "false" || t == "no" || t == "off")
            return Json::boolean(false);
        return wrong(p, text, "Write true or false");
    }
    if (p.type == "int" || p.type == "double")
        return number(p, text, p.type == "int");
    if (p.type == "QIcon" || p.type == "QPixmap")
        return picture(p, text);
    if (p.type == "QColor")
        return colour(p, text);
    if (p.type == "names") {
        for (const QString &n : nameList(text))
            if (n != "-" && !isIdentifier(n))
                return wrong(p, text, "Name widgets or actions, with commas between");
        return Json::string(nameList(text).join(", "));
    }
    if (p.name == "dragType") {
        static const QRegularExpression mime("^[A-Za-z0-9.+-]+/[A-Za-z0-9.+_-]+$");
        if (!text.isEmpty() && !mime.match(text).hasMatch())
            return wrong(p, text, "Write a MIME type, such as text/plain or application/x-car");
        return Json::string(text);
    }
    if (p.type == "items") {
        QString t = text;
        return Json::string(t.replace("\\n", "\n")); // typed on one line
    }
    if (p.type == "QKeySequence" && !text.isEmpty() && !isShortcut(text))
        return wrong(p, text, "Write keys, as in Ctrl+H, F5, or Ctrl+K, Ctrl+B");
    if (QStringList{"QString", "QUrl", "QKeySequence", "QStringList"}.contains(p.type))
        return Json::string(text);
    return byForm(p, text.trimmed());
}

QString valueText(const Json &v)
{
    switch (v.type()) {
    case Json::Bool:
        return v.toBool() ? "true" : "false";
    case Json::Number:
        return QString::number(v.toNumber(), 'g', 12);
    case Json::String:
        return v.toString();
    default:
        return {};
    }
}

} // namespace pipit
