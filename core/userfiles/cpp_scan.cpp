#include "core/userfiles/cpp_scan.h"

#include <QHash>
#include <QRegularExpression>

namespace pipit
{

QString codeOnly(const QString &text)
{
    QString out = text;
    const qsizetype n = text.size();
    const auto blank = [&](qsizetype from, qsizetype to) {
        for (qsizetype i = from; i < std::min(to, n); ++i)
            if (out[i] != '\n')
                out[i] = ' ';
    };
    const auto stringEnd = [&](qsizetype i, QChar quote) {
        for (++i; i < n && text[i] != quote && text[i] != '\n'; ++i)
            if (text[i] == '\\')
                ++i;
        return i + 1;
    };
    bool lineStart = true;
    for (qsizetype i = 0; i < n;) {
        const QChar c = text[i];
        qsizetype end = i;
        if (c == '/' && i + 1 < n && text[i + 1] == '/') {
            end = text.indexOf('\n', i);
            end = end < 0 ? n : end;
        } else if (c == '/' && i + 1 < n && text[i + 1] == '*') {
            end = text.indexOf("*/", i + 2);
            end = end < 0 ? n : end + 2;
        } else if (c == 'R' && i + 1 < n && text[i + 1] == '"' &&
                   (i == 0 || !(text[i - 1].isLetterOrNumber() || text[i - 1] == '_') || text[i - 1] == 'u' ||
                    text[i - 1] == '8' || text[i - 1] == 'U' || text[i - 1] == 'L')) {
            const qsizetype paren = text.indexOf('(', i);
            const QString close = ')' + text.mid(i + 2, paren - i - 2) + '"';
            end = paren < 0 ? n : text.indexOf(close, paren);
            end = end < 0 ? n : end + close.size();
        } else if (c == '"' || (c == '\'' && (i == 0 || !text[i - 1].isLetterOrNumber()))) {
            end = stringEnd(i, c);
        } else if (c == '#' && lineStart) {
            end = i;
            do {
                end = text.indexOf('\n', end + 1);
            } while (end > 0 && text[end - 1] == '\\');
            end = end < 0 ? n : end;
        }
        if (end > i) {
            blank(i, end);
            lineStart = false;
            i = end;
            continue;
        }
        if (c == '\n')
            lineStart = true;
        else if (!c.isSpace())
            lineStart = false;
        ++i;
    }
    return out;
}

namespace
{

qsizetype closing(const QString &code, qsizetype open)
{
    int depth = 0;
    for (qsizetype i = open; i < code.size(); ++i) {
        if (code[i] == '{')
            ++depth;
        else if (code[i] == '}' && --depth == 0)
            return i;
    }
    return -1;
}

// Comment lines directly above belong to the definition.
qsizetype withComment(const QString &text, qsizetype head)
{
    qsizetype begin = head;
    while (begin > 0) {
        const qsizetype lineEnd = begin - 1;
        const qsizetype lineBegin = text.lastIndexOf('\n', lineEnd - 1) + 1;
        if (lineEnd <= 0 || !text.mid(lineBegin, lineEnd - lineBegin).trimmed().startsWith("//"))
            break;
        begin = lineBegin;
    }
    return begin;
}

} // namespace

QStringList parameterTypes(const Definition &d)
{
    const qsizetype open = d.head.indexOf('('), close = d.head.lastIndexOf(')');
    static const QRegularExpression name("^(.*[\\s*&])[A-Za-z_]\\w*$"), space("\\s*([*&]+)\\s*");
    QStringList types;
    QString one;
    int depth = 0;
    const auto take = [&] {
        QString t = one.section('=', 0, 0).simplified();
        if (const auto m = name.match(t); m.hasMatch())
            t = m.captured(1).trimmed();
        t.replace(space, " \\1");
        if (!t.isEmpty() && t != "void")
            types << t;
        one.clear();
    };
    for (const QChar c : d.head.mid(open + 1, close - open - 1)) {
        depth += c == '<' || c == '(' ? 1 : c == '>' || c == ')' ? -1 : 0;
        if (c == ',' && depth == 0)
            take();
        else
            one += c;
    }
    take();
    return types;
}

namespace
{

// As a compiler sees a parameter: what is constant in itself does not count, aliases are what they stand for.
QString plainType(QString type)
{
    static const QHash<QString, QString> aliases = {
        {"qreal", "double"},        {"uint", "unsigned int"},          {"unsigned", "unsigned int"},
        {"qint32", "int"},          {"quint32", "unsigned int"},       {"qint64", "long long"},
        {"qlonglong", "long long"}, {"quint64", "unsigned long long"}, {"qulonglong", "unsigned long long"},
        {"qint16", "short"},        {"quint16", "unsigned short"},     {"ushort", "unsigned short"},
        {"QVector", "QList"},       {"QStringList", "QList<QString>"}};
    static const QRegularExpression word("[A-Za-z_]\\w*"), space("\\s*([<>,*&:])\\s*"),
        east("^([\\w:<>]+) const\\b");
    type = type.simplified().replace(east, "const \\1");
    if (!type.contains('*') && !type.contains('&') && type.startsWith("const "))
        type = type.mid(6);
    QString plain;
    qsizetype end = 0;
    for (auto it = word.globalMatch(type); it.hasNext();) {
        const auto m = it.next();
        plain += type.mid(end, m.capturedStart() - end) + aliases.value(m.captured(), m.captured());
        end = m.capturedEnd();
    }
    plain += type.mid(end);
    return plain.replace(space, "\\1");
}

// A type of the language, or one of the toolkit's classes that is no alias of another.
bool isKnownType(const QString &plain)
{
    static const QRegularExpression known(
        "^(const )?(bool|char|signed char|unsigned char|(unsigned )?(short|int|long long|long)|float|double|"
        "(Q[A-Z]\\w*|Qt)(::\\w+)*(<[\\w:*&<>, ]*>)?)[*&]*$"),
        alias("\\bQ(Object|Widget|Variant|ModelIndex|ByteArray|FileInfo|Window|Action|Graphics\\w+)(List|Map|"
              "Hash)\\b");
    return known.match(plain).hasMatch() && !alias.match(plain).hasMatch();
}

} // namespace

std::optional<bool> sameParameters(const QStringList &one, const QStringList &other)
{
    if (one.size() != other.size())
        return false;
    bool known = true;
    for (qsizetype i = 0; i < one.size(); ++i) {
        const QString a = plainType(one[i]), b = plainType(other[i]);
        if (a == b)
            continue;
        if (isKnownType(a) && isKnownType(b))
            return false;
        known = false;
    }
    return known ? std::optional(true) : std::nullopt;
}

bool declaresFunction(const QString &text, const QString &name)
{
    return codeOnly(text).contains(QRegularExpression("\\b" + name + "\\s*\\("));
}

int lineAt(const QString &text, qsizetype offset)
{
    return int(QStringView(text).left(offset).count(u'\n')) + 1;
}

QList<Definition> definitionsIn(const QString &text)
{
    int line = 1;
    qsizetype counted = 0; // up to where lines were
    static const QRegularExpression function(
        "((?:[A-Za-z_]\\w*(?:<[^;{}()]*>)?\\s*::\\s*)*)(~?[A-Za-z_]\\w*)\\s*\\(");
    static const QRegularExpression scope("^\\s*(?:inline\\s+)?(?:namespace\\b|extern\\b)");
    QList<Definition> found;
    const QString code = codeOnly(text);
    qsizetype from = 0; // where the current declaration begins
    for (qsizetype i = 0; i < code.size(); ++i) {
        if (code[i] == ';' || code[i] == '}') {
            from = i + 1;
            continue;
        }
        if (code[i] != '{')
            continue;
        const QString head = code.mid(from, i - from);
        if (scope.match(head).hasMatch()) {
            from = i + 1; // look inside
            continue;
        }
        const qsizetype close = closing(code, i);
        const auto m = function.match(head);
        if (m.hasMatch() && close > 0) {
            Definition d;
            d.className = m.captured(1).simplified().remove(' ');
            if (d.className.endsWith("::"))
                d.className.chop(2);
            d.name = m.captured(2);
            qsizetype lead = 0;
            while (lead < head.size() && head[lead].isSpace())
                ++lead;
            d.headBegin = from + lead;
            d.begin = withComment(text, d.headBegin);
            d.head = head.simplified();
            d.bodyOpen = i;
            d.bodyClose = close;
            line += int(QStringView(text).mid(counted, d.headBegin - counted).count(u'\n'));
            counted = d.headBegin;
            d.line = line;
            found << d;
        }
        if (close < 0)
            break;
        i = close;
        from = close + 1;
    }
    return found;
}

std::optional<Definition> definitionOf(const QString &text, const QString &className, const QString &name)
{
    for (const Definition &d : definitionsIn(text))
        if (d.name == name && (d.className == className || d.className.endsWith("::" + className)))
            return d;
    return std::nullopt;
}

} // namespace pipit
