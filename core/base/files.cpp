#include "core/base/files.h"

#include <QDir>
#include <QFile>
#include <QSaveFile>

namespace pipit
{

Result<QByteArray> readFile(const QString &path)
{
    QFile f(path);
    if (!f.open(QIODevice::ReadOnly))
        return Problem{"The file cannot be read: " + f.errorString(), path, "Check its name and permissions"};
    return f.readAll();
}

Outcome writeFile(const QString &path, const QByteArray &bytes)
{
    QSaveFile f(path);
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size() || !f.commit())
        return Problem{"The file cannot be written: " + f.errorString(), path,
                       "Check the folder's permissions and free space; nothing was changed"};
    return Done{};
}

Result<bool> writeFileIfChanged(const QString &path, const QByteArray &bytes)
{
    QFile f(path);
    if (f.open(QIODevice::ReadOnly) && f.readAll() == bytes)
        return false;
    f.close();
    if (auto r = writeFile(path, bytes); !r)
        return r.problem();
    return true;
}

Outcome makeFolder(const QString &path)
{
    if (!QDir().mkpath(path))
        return Problem{"The folder cannot be made", path, "Check the permissions of the folder above it"};
    return Done{};
}

} // namespace pipit
