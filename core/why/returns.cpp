#include "core/why/returns.h"

#include <QString>

#include <algorithm>

namespace pipit
{

namespace
{

// The text without comments and without what stands in quotes, line by line.
QStringList bare(const QStringList &lines)
{
    QStringList all;
    bool comment = false;
    for (const QString &line : lines) {
        QString out;
        QChar quote;
        for (qsizetype i = 0; i < line.size(); ++i) {
            const QChar c = line[i], next = i + 1 < line.size() ? line[i + 1] : QChar();
            if (comment) {
                comment = !(c == '*' && next == '/');
                i += comment ? 0 : 1;
            } else if (!quote.isNull()) {
                if (c == '\\')
                    ++i;
                else if (c == quote)
                    quote = QChar();
            } else if (c == '/' && next == '/') {
                break;
            } else if (c == '/' && next == '*') {
                comment = true;
                ++i;
            } else if (c == '"' || (c == '\'' && !(i > 0 && line[i - 1].isDigit()))) {
                quote = c;
            } else {
                out += c;
            }
        }
        all << out;
    }
    return all;
}

// Where the function begins in its first line: of a lambda that stands in other code, behind that.
qsizetype bodyIn(const QString &line)
{
    bool bracket = false;
    for (qsizetype i = 0; i < line.size(); ++i) {
        if (line[i] == '{' && bracket)
            return i;
        bracket = line[i] == ']' || (bracket && line[i] != ';' && line[i] != '[');
    }
    return 0;
}

bool isWordAt(const QString &text, qsizetype i, const QString &word)
{
    const auto inWord = [](QChar c) { return c.isLetterOrNumber() || c == '_'; };
    return QStringView(text).mid(i).startsWith(word) && (i == 0 || !inWord(text[i - 1])) &&
           (i + word.size() >= text.size() || !inWord(text[i + word.size()]));
}

} // namespace

QList<int> earlyReturns(const QStringList &lines, int first, int line)
{
    QStringList text = bare(lines);
    if (const qsizetype at = std::max(0, line - first); at < text.size())
        text[at] = text[at].mid(bodyIn(text[at]));
    QList<int> returns;
    QList<int> lambdas;   // depths at which bodies of lambdas inside it began
    bool bracket = false; // a "]" came, and no statement has ended since
    int depth = 0;
    enum { Elsewhere, InReturn, BehindReturn } at = Elsewhere; // of a return in the body itself
    for (qsizetype row = std::max(0, line - first); row < text.size(); ++row)
        for (qsizetype i = 0; i < text[row].size(); ++i) {
            const QChar c = text[row][i];
            if (c.isSpace())
                continue;
            if (at == BehindReturn && !(c == '}' && depth == 1))
                at = Elsewhere;
            if (c == '{') {
                ++depth;
                if (depth > 1 && bracket)
                    lambdas << depth;
                bracket = false;
            } else if (c == '}') {
                if (!lambdas.isEmpty() && lambdas.last() == depth)
                    lambdas.removeLast();
                if (--depth > 0)
                    continue;
                if (at == BehindReturn)
                    returns.removeLast();
                return returns;
            } else if (c == ']') {
                bracket = depth > 0;
            } else if (c == ';') {
                bracket = false;
                if (at == InReturn && depth == 1)
                    at = BehindReturn;
            } else if (depth > 0 && lambdas.isEmpty() && isWordAt(text[row], i, QStringLiteral("return"))) {
                returns << first + int(row);
                at = depth == 1 ? InReturn : Elsewhere;
                i += 5;
            }
        }
    return {};
}

} // namespace pipit
