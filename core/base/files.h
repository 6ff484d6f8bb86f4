// Reading and writing whole files, with problems that name the file.
//
// Threads: any; blocking, so on a worker where the disk may be slow.
#pragma once

#include "core/base/result.h"

#include <QByteArray>
#include <QJsonObject>

namespace pipit
{

Result<QByteArray> readFile(const QString &path);
// A file that holds one JSON object, as Pipit stores beside recordings; else a Problem.
Result<QJsonObject> readJsonObject(const QString &path);
Result<QJsonObject> jsonObjectOf(const QByteArray &bytes, const QString &path); // the same, once it is read
// Writes to a temporary file beside it and renames, so that a reader sees the old or the new.
Outcome writeFile(const QString &path, const QByteArray &bytes);
// The same, unless the file already holds these bytes: build steps go by time stamps.
// The value says whether it was written.
Result<bool> writeFileIfChanged(const QString &path, const QByteArray &bytes);
// Puts a finished file in another's place in one step: whoever runs or reads the old one keeps it.
Outcome replaceFile(const QString &made, const QString &path);
Outcome copyFile(const QString &from, const QString &to); // into a place where nothing stands yet
// With what is in it, into a place where nothing stands yet; made and built things (.pipit) stay behind.
Outcome copyTree(const QString &from, const QString &to);
Outcome makeFolder(const QString &path);
// From now on a write over the size limit (ulimit -f) fails with an error, as on a full disk, and does not
// end the process. Once, at the start of a program of Pipit's.
void tellFilesTooLarge();

} // namespace pipit
