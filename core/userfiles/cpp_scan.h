// Finds function definitions in C++ text without compiling it.
//
// Threads: any. Comments, strings, raw strings and preprocessor lines are stepped over. What it
// finds is exact for ordinary code at file or namespace level; what macros produce is not seen.
// Offsets count QChars from the text's beginning, lines from 1.
#pragma once

#include <QList>
#include <QString>
#include <QStringList>

#include <optional>

namespace pipit
{

struct Definition {
    QString className;   // "FerryDesk"; empty for a free function
    QString name;        // "boardPassenger"
    QString head;        // from the return type up to the body, one line
    qsizetype begin = 0; // the first character of the head, or of a comment directly above
    qsizetype headBegin = 0;
    qsizetype bodyOpen = 0;  // the {
    qsizetype bodyClose = 0; // the }
    int line = 0;            // of the head
};

QList<Definition> definitionsIn(const QString &text);
std::optional<Definition> definitionOf(const QString &text, const QString &className, const QString &name);
// The types of a definition's parameters as they stand in its head: "const QString &", "int".
QStringList parameterTypes(const Definition &definition);
// Whether two lists of parameter types are the same to a compiler. Null: a name stands in them that only the
// compiler knows, an alias perhaps.
std::optional<bool> sameParameters(const QStringList &one, const QStringList &other);
// Whether a class in this text declares a function of that name.
bool declaresFunction(const QString &text, const QString &name);
int lineAt(const QString &text, qsizetype offset);
// A copy of the text in which everything that is not code is blank, at the same offsets.
QString codeOnly(const QString &text);

} // namespace pipit
