#include "core/project/naming.h"

#include "core/catalog/catalog.h"

#include <QRegularExpression>

namespace pipit
{

Outcome checkNewName(const Project &p, const QString &name)
{
    static const QRegularExpression letters("^[A-Za-z]\\w*$");
    if (!isIdentifier(name))
        return Problem{QStringLiteral("'%1' is not a C++ name").arg(name.left(60)),
                       {},
                       letters.match(name).hasMatch()
                           ? QString("It is reserved in C++. Choose another name")
                           : QString("Use letters, digits and _, beginning with a letter")};
    // What the generated code calls on a window: a member of that name would stand in its way.
    static const QStringList called = {"show",         "connect",
                                       "disconnect",   "tr",
                                       "findChildren", "installEventFilter",
                                       "eventFilter",  "resize",
                                       "winId",        "setObjectName",
                                       "setProperty",  "wire",
                                       "pass"};
    if (called.contains(name))
        return Problem{
            QStringLiteral("'%1' is a function of every window, and the program calls it").arg(name),
            {},
            "Choose another name"};
    if (!p.classOf(name).isEmpty())
        return Problem{QStringLiteral("There is already a '%1'").arg(name), {}, "Choose another name"};
    for (const WindowNode &w : p.windows)
        if (w.className == name || w.className + "Base" == name || w.className + "Wired" == name)
            return Problem{QStringLiteral("'%1' is the window's class").arg(name), {}, "Choose another name"};
    for (const Handler &h : p.handlers)
        if (h.name == name || h.functionNames().contains(name))
            return Problem{QStringLiteral("'%1' is a handler's name").arg(name), {}, "Choose another name"};
    return Done{};
}

Problem unknownKind(const QString &words)
{
    QStringList known = Catalog::get().classes();
    for (const PlainWord &w : plainWords())
        known << w.words;
    const QString near = nearestName(words, known);
    return {QStringLiteral("There is no class or word '%1'").arg(words.left(60)),
            {},
            near.isEmpty() ? "Use a class or a plain word, such as button, label, field, list"
                           : "Nearest: " + near};
}

Problem unknownObject(const Project &p, const QString &name)
{
    const QString near = nearestName(name, p.objectNames());
    return {QStringLiteral("There is no widget or timer '%1'").arg(name.left(60)),
            {},
            near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
}

} // namespace pipit
