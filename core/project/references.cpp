#include "core/project/references.h"

#include "core/catalog/catalog.h"
#include "core/project/values.h"

namespace pipit
{

namespace
{

// The class that a name in this property must be of.
QString wantedBy(const QString &property)
{
    static const QHash<QString, QString> wanted = {{"buddy", "QWidget"},
                                                   {"group", "QButtonGroup"},
                                                   {"menu", "QMenu"},
                                                   {"model", "QAbstractItemModel"},
                                                   {"contextActions", "QAction"},
                                                   {"actions", "QAction"},
                                                   {"tabOrder", "QWidget"}};
    return wanted.value(property);
}

bool isReference(const QString &property)
{
    return !wantedBy(property).isEmpty();
}

void rename(WidgetNode &w, const QString &from, const QString &to)
{
    for (Property &p : w.properties) {
        if (!isReference(p.name))
            continue;
        QStringList names = nameList(valueText(p.value));
        if (!names.contains(from))
            continue;
        if (to.isEmpty())
            names.removeAll(from);
        else
            names.replace(names.indexOf(from), to);
        p.value = Json::string(names.join(", "));
    }
    w.properties.removeIf(
        [](const Property &p) { return isReference(p.name) && valueText(p.value).isEmpty(); });
    for (qsizetype i = 0; i < w.children.size(); ++i)
        rename(w.children[i], from, to);
}

bool mentions(const WidgetNode &w, const QString &name)
{
    for (const Property &p : w.properties)
        if (isReference(p.name) && nameList(valueText(p.value)).contains(name))
            return true;
    return std::any_of(w.children.begin(), w.children.end(),
                       [&](const WidgetNode &c) { return mentions(c, name); });
}

} // namespace

QList<Reference> referencesIn(const Project &project)
{
    QList<Reference> all;
    project.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        for (const Property &p : w.properties) {
            if (!isReference(p.name))
                continue;
            for (const QString &name : nameList(valueText(p.value)))
                if (name != "-")
                    all.append({w.name, p.name, name, wantedBy(p.name), w.kept.line});
        }
    });
    return all;
}

QString complaint(const Reference &r, const QHash<QString, Project::Named> &named, const Project &project)
{
    const auto it = named.constFind(r.name);
    if (it == named.constEnd())
        return QStringLiteral("%1 names '%2' as its %3, which does not exist.")
            .arg(r.owner, r.name, r.property);
    const bool menu = r.property == "actions" && Catalog::get().inherits(it->className, "QMenu");
    if (!menu && !Catalog::get().inherits(it->className, r.wanted))
        return QStringLiteral("%1 names %2 as its %3, but that is a %4.")
            .arg(r.owner, r.name, r.property, plainWordFor(it->className));
    if (it->window != project.windowOf(r.owner))
        return QStringLiteral("%1 names %2 as its %3, but that belongs to another window.")
            .arg(r.owner, r.name, r.property);
    return {};
}

void renameReferences(Project &project, const QString &from, const QString &to)
{
    for (qsizetype i = 0; i < project.windows.size(); ++i)
        if (mentions(std::as_const(project).windows[i].root, from))
            rename(project.windows[i].root, from, to);
}

} // namespace pipit
