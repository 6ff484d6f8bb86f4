#include "core/project/naming.h"

namespace pipit
{

Outcome checkNewName(const Project &p, const QString &name)
{
    if (!isIdentifier(name))
        return Problem{QStringLiteral("'%1' is no C++ name").arg(name.left(60)),
                       {},
                       "Use letters, digits and _, beginning with a letter"};
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

Problem unknownObject(const Project &p, const QString &name)
{
    const QString near = nearestName(name, p.objectNames());
    return {QStringLiteral("There is no widget or timer '%1'").arg(name.left(60)),
            {},
            near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
}

} // namespace pipit
