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
    writing()();
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
    ++version_;
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

std::function<void()> Remembered::writing() const
{
    return [disk = disk_, version = version_, all = all_, to = file()] {
        std::lock_guard lock(disk->mutex);
        if (version <= disk->version)
            return;
        disk->version = version;
        if (makeFolder(QFileInfo(to).path()))
            (void)bool(writeFile(to, QJsonDocument(all).toJson()));
    };
}

} // namespace pipit::app
