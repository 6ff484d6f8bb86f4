#include "core/codegen/cpp_text.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

bool isPlain(char32_t c)
{
    switch (QChar::category(c)) {
    case QChar::Other_Control:
    case QChar::Other_Format: // among them those that turn the direction of writing
    case QChar::Other_Surrogate:
    case QChar::Other_PrivateUse:
    case QChar::Other_NotAssigned:
    case QChar::Separator_Line:
    case QChar::Separator_Paragraph:
        return false;
    case QChar::Separator_Space:
        return c == ' ';
    default:
        return c != '"' && c != '\\';
    }
}

QByteArray utf8Of(char32_t c)
{
    return QStringView(QChar::fromUcs4(c)).toUtf8();
}

// Three octal digits end by themselves, whatever follows.
QByteArray octal(const QByteArray &bytes)
{
    QByteArray out;
    for (const char c : bytes)
        out += '\\' + QByteArray::number(static_cast<unsigned char>(c), 8).rightJustified(3, '0');
    return out;
}

} // namespace

QByteArray literal(const QString &text)
{
    QByteArray out = "\"";
    for (const char32_t c : text.toUcs4()) {
        if (c == '?' && out.endsWith('?')) // no trigraph, and no warning of one
            out += "\\?";
        else if (isPlain(c))
            out += utf8Of(c);
        else if (c == '"' || c == '\\')
            out += QByteArray("\\") + char(c);
        else if (c == '\n')
            out += "\\n";
        else if (c == '\t')
            out += "\\t";
        else if (c < 0xa0)
            out += octal(utf8Of(c));
        else
            out += (c > 0xffff ? "\\U" : "\\u") +
                   QByteArray::number(c, 16).rightJustified(c > 0xffff ? 8 : 4, '0');
    }
    return out + '"';
}

QByteArray stringCode(const QString &text)
{
    if (text.isEmpty())
        return "QString()";
    const QByteArray code = literal(text);
    if (text.contains(QChar(0))) // which would end it
        return "QString::fromUtf8(" + code + ", " + QByteArray::number(text.toUtf8().size()) + ')';
    // In a literal of 16-bit characters an escaped byte would be a character of its own.
    static const QRegularExpression escapedByte("\\\\[23]\\d\\d");
    return (escapedByte.match(QString::fromUtf8(code)).hasMatch() ? "QString::fromUtf8("
                                                                  : "QStringLiteral(") +
           code + ')';
}

QByteArray translatedCode(const QString &text)
{
    // A null would end it, a mark of the byte order at its beginning would be taken for one.
    const bool kept = text.isEmpty() || text.contains(QChar(0)) || text.startsWith(QChar(0xfeff));
    return kept ? stringCode(text) : "tr(" + literal(text) + ')';
}

QByteArray commentText(const QString &text)
{
    QByteArray out;
    for (const char32_t c : text.simplified().toUcs4())
        out += isPlain(c) || c == '"' || c == '\\' ? utf8Of(c) : QByteArray("?");
    return out.endsWith('\\') ? out + " ." : out; // a last backslash would go on in the next line
}

} // namespace pipit
