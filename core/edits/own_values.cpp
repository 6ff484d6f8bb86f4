// What is of the user's own classes while something is added or set.
#include "core/edits/own_values.h"

#include "core/base/files.h"
#include "core/edits/workspace.h"
#include "core/project/values.h"

namespace pipit
{

// A property that a class of the user's declares; a null text resets it.
Result<Json> ownValue(const PropertyEntry &p, const QString &text)
{
    bool fits = true;
    if (text.isNull())
        return Json();
    if (p.type == "bool")
        return text == "true" || text == "false"
                   ? Result<Json>(Json::boolean(text == "true"))
                   : Result<Json>(
                         Problem{QStringLiteral("'%1' is not a value for %2").arg(text.left(60), p.name),
                                 {},
                                 "Write true or false"});
    if (!p.keys.isEmpty())
        return enumerationValue(p, text);
    if (p.type != "int" && p.type != "double")
        return Json::string(text);
    const double number = p.type == "int" ? text.toInt(&fits) : text.toDouble(&fits);
    if (!fits)
        return Problem{QStringLiteral("'%1' is not a value for %2").arg(text.left(60), p.name),
                       {},
                       p.type == "int" ? "Write a whole number" : "Write a number"};
    return Json::number(number);
}

// The class as the catalog knows it; of a class of the user's what it derives from, if need be by its header.
Result<QString> Workspace::knownClassFor(const AddRequest &r) const
{
    if (r.header.isEmpty()) {
        const QString cls = Catalog::get().classFor(r.words);
        return cls.isEmpty() ? Result<QString>(unknownKind(r.words)) : Result<QString>(cls);
    }
    if (!r.base.isEmpty()) {
        const QString cls = ownBaseFor(r.base);
        return cls.isEmpty()
                   ? Result<QString>(
                         Problem{QStringLiteral("There is no class '%1' in the catalog").arg(r.base.left(60)),
                                 {},
                                 "Write like object, like frame, or another class"})
                   : Result<QString>(cls);
    }
    auto bytes = readFile(place_.folder + '/' + r.header);
    if (!bytes)
        return Problem{QStringLiteral("There is no %1 in the project's folder").arg(r.header),
                       {},
                       "Write the header first, or name what " + r.words +
                           " derives from: like frame"};
    const QString base = baseInHeader(QString::fromUtf8(*bytes), r.words);
    const bool fits = base == "QObject" || Catalog::get().makes(base);
    if (fits)
        return base;
    return Problem{base.isEmpty()
                       ? QStringLiteral("%1 declares no class %2").arg(r.header, r.words)
                       : QStringLiteral("%1 derives from %2, which is not known").arg(r.words, base),
                   {},
                   base.isEmpty() ? "Write the class's name as in the header"
                                  : "Name the base class: like frame, like object"};
}

} // namespace pipit
