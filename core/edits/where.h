// In which of the user's files a function is defined. A handler's stub goes to its window's file; where it is
// moved by hand, it is found again.
//
// Threads: one at a time, as the workspace.
#pragma once

#include "core/project/model.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

// The file among those that define a function, `first` looked at before all others; none when no file does.
std::optional<QString> fileDefining(UserFiles &files, const QStringList &sources, const QString &first,
                                    const QString &className, const QString &function);

// Handlers that are defined elsewhere than the project says: by id, the file.
QHash<QString, QString> movedHandlers(const Project &project, UserFiles &files, const QString &folder);

} // namespace pipit
