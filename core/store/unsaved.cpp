#include "core/store/unsaved.h"

#include "core/base/files.h"

#include <QCryptographicHash>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>

namespace pipit
{

namespace
{

QString keptAt(const ProjectPlace &place)
{
    const QByteArray key = QCryptographicHash::hash(place.file.toUtf8(), QCryptographicHash::Sha1).toHex();
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/pipit/unsaved/" +
           QString::fromLatin1(key.left(20)) + ".json";
}

} // namespace

UnsavedWork unsavedWork(const Project &project, UserFiles &files)
{
    UnsavedWork work{projectBytes(project), {}};
    for (const QString &f : files.dirtyFiles())
        if (auto text = files.text(f))
            work.files.insert(f, *text);
    return work;
}

Outcome keepUnsaved(const ProjectPlace &place, const UnsavedWork &work)
{
    QJsonObject files;
    for (auto it = work.files.begin(); it != work.files.end(); ++it)
        files.insert(it.key(), it.value());
    const QString path = keptAt(place);
    if (auto ok = makeFolder(path.section('/', 0, -2)); !ok)
        return ok;
    return writeFile(path, QJsonDocument(QJsonObject{{"version", 1},
                                                     {"file", place.file},
                                                     {"project", QString::fromUtf8(work.project)},
                                                     {"files", files}})
                               .toJson(QJsonDocument::Compact));
}

void dropUnsaved(const ProjectPlace &place)
{
    QFile::remove(keptAt(place));
}

std::optional<UnsavedWork> findUnsaved(const ProjectPlace &place, const Project &project,
                                       UserFiles &userFiles)
{
    auto bytes = readFile(keptAt(place));
    if (!bytes)
        return std::nullopt;
    const QJsonObject o = QJsonDocument::fromJson(*bytes).object();
    if (o["file"].toString() != place.file || !parseProject(o["project"].toString().toUtf8(), place.file))
        return std::nullopt; // torn, or another's
    UnsavedWork work{o["project"].toString().toUtf8(), {}};
    const QJsonObject files = o["files"].toObject();
    for (auto it = files.begin(); it != files.end(); ++it) {
        auto text = userFiles.text(it.key());
        if (text && *text != it->toString())
            work.files.insert(it.key(), it->toString());
    }
    if (work.project == projectBytes(project) && work.files.isEmpty())
        return std::nullopt;
    return work;
}

} // namespace pipit
