#include "app/session/remembered.h"

#include "core/base/files.h"
#include "core/base/json.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QStandardPaths>

namespace pipit::app
{

Remembered::Remembered()
{
    if (QFileInfo::exists(file()))
        if (auto read = readJsonObject(file()))
            all_ = *read;
}

Remembered::~Remembered()
{
    write();
}

QString Remembered::file()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation) + "/pipit/window.json";
}

void Remembered::setValue(const QString &key, const QJsonValue &value)
{
    if (all_[key] == value)
        return;
    all_[key] = value;
    changed_ = true;
    soon_.start();
}

QStringList Remembered::recent(const QString &kind) const
{
    QStringList paths;
    for (const auto &v : all_["recent_" + kind].toArray())
        if (const QString path = v.toString(); kind == "programs" || QFileInfo::exists(path))
            paths << path;
    return paths;
}

void Remembered::use(const QString &kind, const QString &path)
{
    if (path.isEmpty())
        return;
    QStringList paths = recent(kind);
    paths.removeAll(path);
    paths.prepend(path);
    setValue("recent_" + kind, QJsonArray::fromStringList(paths.mid(0, most)));
}

void Remembered::write()
{
    if (!changed_)
        return;
    changed_ = false;
    if (makeFolder(QFileInfo(file()).path()))
        (void)bool(writeFile(file(), QJsonDocument(all_).toJson()));
}

} // namespace pipit::app
