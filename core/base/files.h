// Reading and writing whole files, with problems that name the file.
#pragma once

#include "core/base/result.h"

#include <QByteArray>

namespace pipit
{

Result<QByteArray> readFile(const QString &path);
// Writes to a temporary file beside it and renames, so that a reader sees the old or the new.
Outcome writeFile(const QString &path, const QByteArray &bytes);
// The same, unless the file already holds these bytes: build steps go by time stamps.
// The value says whether it was written.
Result<bool> writeFileIfChanged(const QString &path, const QByteArray &bytes);
Outcome makeFolder(const QString &path);

} // namespace pipit
