#include "core/base/files.h"

#include <QDir>
#include <QFile>
#include <QJsonDocument>
#include <QSaveFile>

#include <cerrno>
#include <csignal>
#include <cstdio>

namespace pipit
{

Result<QByteArray> readFile(const QString &path)
{
    QFile f(path);
    if (!f.open(QIODevice::ReadOnly))
        return Problem{"The file cannot be read: " + f.errorString(), path, "Check its name and permissions"};
    return f.readAll();
}

Result<QJsonObject> readJsonObject(const QString &path)
{
    auto bytes = readFile(path);
    return bytes ? jsonObjectOf(*bytes, path) : Result<QJsonObject>(bytes.problem());
}

Result<QJsonObject> jsonObjectOf(const QByteArray &bytes, const QString &path)
{
    QJsonParseError error;
    const QJsonDocument document = QJsonDocument::fromJson(bytes, &error);
    if (!document.isObject())
        return Problem{"The file is damaged: " +
                           (error.error ? error.errorString() : QStringLiteral("it contains no JSON object")),
                       path,
                       {}};
    return document.object();
}

Outcome writeFile(const QString &path, const QByteArray &bytes)
{
    QSaveFile f(path);
    errno = 0;
    if (f.open(QIODevice::WriteOnly) && f.write(bytes) == bytes.size() && f.commit())
        return Done{};
    if (errno == EFBIG)
        return Problem{"The file cannot be written: it is larger than the size limit", path,
                       "Raise the limit (ulimit -f); nothing was changed"};
    return Problem{"The file cannot be written: " + f.errorString(), path,
                   "Check the folder's permissions and free space; nothing was changed"};
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

Outcome replaceFile(const QString &made, const QString &path)
{
    if (std::rename(QFile::encodeName(made).constData(), QFile::encodeName(path).constData()) == 0)
        return Done{};
    const int error = errno;
    return Problem{"The new file cannot replace the old one: " + qt_error_string(error), path,
                   "Check the folder's permissions; the old file is unchanged"};
}

Outcome copyFile(const QString &from, const QString &to)
{
    QFile f(from);
    if (f.copy(to))
        return Done{};
    return Problem{"The file cannot be copied: " + f.errorString(), to,
                   "Check the folder's permissions and free space"};
}

Outcome makeFolder(const QString &path)
{
    if (!QDir().mkpath(path))
        return Problem{"The folder cannot be created", path, "Check the permissions of the folder above it"};
    return Done{};
}

Outcome copyTree(const QString &from, const QString &to)
{
    if (auto ok = makeFolder(to); !ok)
        return ok;
    for (const QFileInfo &f : QDir(from).entryInfoList(QDir::Files | QDir::Dirs | QDir::NoDotAndDotDot)) {
        const QString into = to + '/' + f.fileName();
        if (auto ok = f.isDir() ? copyTree(f.filePath(), into) : copyFile(f.filePath(), into); !ok)
            return ok;
        if (!f.isDir())
            QFile::setPermissions(into, f.permissions() | QFile::WriteOwner);
    }
    return Done{};
}

void tellFilesTooLarge()
{
    std::signal(SIGXFSZ, SIG_IGN);
}

} // namespace pipit
