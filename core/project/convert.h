// Conversions between what a signal gives and what a handler takes.
//
// Threads: any. A conversion is offered, never made silently: the connection says it in words.
#pragma once

#include "core/base/result.h"

#include <QList>
#include <QString>

namespace pipit
{

struct Conversion {
    QString from, to;     // types as parameters have them: "const QString &", "int"
    QString words;        // "number": what the connection says
    bool mayFail = false; // then the connection also says what to do: "number else skip"
    QString code;         // C++ expression on %1; one that may fail sets `ok`, or gives what is not valid
    // The same in other words: "whole number" and "decimal" say which number is meant.
    bool says(const QString &said) const
    {
        return said == words || (said == "whole number" && to == "int" && words == "number") ||
               (said == "decimal" && to == "double" && words == "number");
    }
};

const QList<Conversion> &conversions();
// Null when there is none between the two.
const Conversion *conversionFor(const QString &from, const QString &to);

// "number else skip" → the words and the choice ("skip", or a value such as "0").
struct ConvertChoice {
    QString words, otherwise;
};
ConvertChoice convertChoice(const QString &text);
// What may be said for an argument of that type: "as number else skip"; for one type to, or any.
QStringList conversionsFrom(const QString &from, const QString &to = {});
// Whether what is said for the case that it fails is a value.
Outcome conversionFits(const Conversion &how, const ConvertChoice &choice);

} // namespace pipit
