// The project file: reading, writing, noticing that someone else changed it.
//
// Threads: any, one at a time for a file. Reading checks every value and names file and line of
// the first that is wrong; nothing in a file is executed. Writing is atomic, one item a line.
#pragma once

#include "core/project/model.h"
#include "core/project/place.h"

namespace pipit
{

// From a folder or a file in it.
Result<ProjectPlace> findProject(const QString &path);

Result<Project> parseProject(const QByteArray &bytes, const QString &file);
Result<Project> loadProject(const QString &file);
QByteArray projectBytes(const Project &project);

// Writes unless the file on disk is no longer what was last read or written (`knownBytes`);
// an empty `knownBytes` means a new file. The value is what stands on disk now.
Result<QByteArray> saveProject(const Project &project, const QString &file, const QByteArray &knownBytes);

// Makes the folder with a first window in it, its project file and nothing else yet.
Result<ProjectPlace> newProject(const QString &folder);

} // namespace pipit
