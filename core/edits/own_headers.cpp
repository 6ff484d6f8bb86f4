#include "core/edits/own_headers.h"

#include "core/base/files.h"

#include <QLibraryInfo>
#include <QProcess>
#include <QTemporaryDir>

#include <mutex>

namespace pipit
{

namespace
{

// By the header's contents: asked once for each.
OwnClasses classesIn(const QString &header)
{
    static std::mutex mutex;
    static QHash<QByteArray, OwnClasses> known;
    auto bytes = readFile(header);
    if (!bytes)
        return {};
    {
        std::lock_guard lock(mutex);
        if (const auto it = known.constFind(*bytes); it != known.constEnd())
            return *it;
    }
    const QTemporaryDir dir;
    QProcess moc;
    moc.start(QLibraryInfo::path(QLibraryInfo::LibraryExecutablesPath) + "/moc",
              {"--output-json", header, "-o", dir.path() + "/out.cpp"});
    moc.waitForFinished(5000);
    auto json = readFile(dir.path() + "/out.cpp.json");
    const OwnClasses found = json ? ownClassesFrom(*json, QString::fromUtf8(*bytes)) : OwnClasses();
    std::lock_guard lock(mutex);
    return *known.insert(*bytes, found);
}

} // namespace

OwnClasses readOwnClasses(const ProjectPlace &place, const Project &project, const QString &another)
{
    OwnClasses all;
    QStringList headers = project.ownHeaders();
    if (!another.isEmpty() && !headers.contains(another))
        headers << another;
    for (const QString &h : std::as_const(headers))
        all.insert(classesIn(place.folder + '/' + h));
    inheritAmong(all);
    return all;
}

} // namespace pipit
