#include "core/project/convert.h"

namespace pipit
{

const QList<Conversion> &conversions()
{
    static const QList<Conversion> all = {
        {"const QString &", "int", "number", true, "%1.trimmed().toInt(&ok)"},
        {"const QString &", "double", "number", true, "%1.trimmed().toDouble(&ok)"},
        {"int", "const QString &", "text", false, "QString::number(%1)"},
        {"double", "const QString &", "text", false, "QString::number(%1)"},
        {"int", "double", "number", false, "double(%1)"},
        {"double", "int", "whole number", false, "qRound(%1)"},
        {"int", "bool", "yes or no", false, "%1 != 0"},
        {"bool", "int", "number", false, "%1 ? 1 : 0"},
        {"bool", "const QString &", "text", false,
         "%1 ? QStringLiteral(\"true\") : QStringLiteral(\"false\")"},
        {"const QDate &", "const QString &", "text", false, "%1.toString(Qt::ISODate)"},
        {"const QTime &", "const QString &", "text", false, "%1.toString(Qt::ISODate)"},
        {"const QDateTime &", "const QString &", "text", false, "%1.toString(Qt::ISODate)"},
        {"const QString &", "const QDate &", "date", true, "QDate::fromString(%1.trimmed(), Qt::ISODate)"},
    };
    return all;
}

const Conversion *conversionFor(const QString &from, const QString &to)
{
    for (const Conversion &c : conversions())
        if (c.from == from && c.to == to)
            return &c;
    return nullptr;
}

QStringList conversionsFrom(const QString &from, const QString &to)
{
    QStringList words;
    for (const Conversion &c : conversions())
        if (c.from == from && (to.isEmpty() || c.to == to))
            words << "as " + c.words + (c.mayFail ? " else skip" : "");
    words.removeDuplicates();
    return words;
}

Outcome conversionFits(const Conversion &how, const ConvertChoice &choice)
{
    if (choice.otherwise == "skip")
        return Done{};
    if (!how.mayFail)
        return Problem{QStringLiteral("'as %1' never fails, so 'else %2' has no effect")
                           .arg(choice.words, choice.otherwise.left(60)),
                       {},
                       "Leave out 'else'"};
    bool whole = false, number = false;
    choice.otherwise.toInt(&whole);
    choice.otherwise.toDouble(&number);
    if ((how.to == "int" && whole) || (how.to == "double" && number))
        return Done{};
    return Problem{QStringLiteral("'else %1' is not a value for a %2")
                       .arg(choice.otherwise.left(60), how.to == "int" ? QString("whole number") : how.words),
                   {},
                   how.to == "int"      ? "Write else skip, or else and a whole number"
                   : how.to == "double" ? "Write else skip, or else and a number"
                                        : "Write else skip"};
}

ConvertChoice convertChoice(const QString &text)
{
    const qsizetype at = text.indexOf(" else ");
    if (at < 0)
        return {text.trimmed(), "skip"};
    return {text.left(at).trimmed(), text.mid(at + 6).trimmed()};
}

} // namespace pipit
