// Unsaved work, kept beside the project's own files so that a kill loses little.
//
// Threads: `keep` and `drop` on any thread, one at a time for a project; the others with the user's
// files. What is kept lies under the user's data folder, never in the project's.
#pragma once

#include "core/store/store.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

struct UnsavedWork {
    QByteArray project;            // the project file as it would be saved
    QHash<QString, QString> files; // the user's files with unsaved typing
};

UnsavedWork unsavedWork(const Project &project, UserFiles &files);
Outcome keepUnsaved(const ProjectPlace &place, const UnsavedWork &work);
void dropUnsaved(const ProjectPlace &place);
// What was kept and is not on disk by now; nothing when all was saved.
std::optional<UnsavedWork> findUnsaved(const ProjectPlace &place, const Project &project, UserFiles &files);

} // namespace pipit
