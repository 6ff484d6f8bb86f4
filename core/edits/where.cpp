#include "core/edits/where.h"

#include "core/codegen/generate.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

namespace pipit
{

namespace
{

QSet<QString> definedIn(UserFiles &files, const QString &file)
{
    QSet<QString> names;
    const auto text = files.text(file);
    for (const Definition &d : text ? definitionsIn(*text) : QList<Definition>())
        names.insert(d.className.section("::", -1) + "::" + d.name);
    return names;
}

} // namespace

std::optional<QString> fileDefining(UserFiles &files, const QStringList &sources, const QString &first,
                                    const QString &className, const QString &function)
{
    for (const QString &file : QStringList{first} + sources) {
        const auto text = files.text(file);
        if (text && text->contains(function) && definitionOf(*text, className, function))
            return file;
    }
    return {};
}

QHash<QString, QString> movedHandlers(const Project &project, UserFiles &files, const QString &folder)
{
    QHash<QString, QSet<QString>> defined; // by file
    const auto defines = [&](const QString &file, const QString &key) {
        auto it = defined.find(file);
        if (it == defined.end())
            it = defined.insert(file, definedIn(files, file));
        return it->contains(key);
    };
    QHash<QString, QString> moved;
    QStringList sources;
    for (const Handler &h : project.handlers) {
        const HandlerFunction f = h.functions().first();
        const QString key = (f.isFree() ? QString() : project.windowFor(h).className) + "::" + f.name;
        if (defines(h.file, key))
            continue;
        if (sources.isEmpty())
            sources = userSources(folder, project);
        for (const QString &file : std::as_const(sources))
            if (defines(file, key)) {
                moved.insert(h.id, file);
                break;
            }
    }
    return moved;
}

} // namespace pipit
