// Unsaved work, kept beside the project's own files so that a kill loses little.
//
// Threads: `keep` and `drop` on any thread, one at a time for a project; the others with the
// workspace. What is kept lies under the user's data folder, never in the project's.
#pragma once

#include "core/project/workspace.h"

namespace pipit
{

struct UnsavedWork {
    QByteArray project;            // the project file as it would be saved
    QHash<QString, QString> files; // the user's files with unsaved typing
};

UnsavedWork unsavedWork(Workspace &workspace);
Outcome keepUnsaved(const ProjectPlace &place, const UnsavedWork &work);
void dropUnsaved(const ProjectPlace &place);
// What was kept and is not on disk by now; nothing when all was saved.
std::optional<UnsavedWork> findUnsaved(Workspace &workspace);
// Brings it back, as one step of undo.
Outcome recover(Workspace &workspace, const UnsavedWork &work);

} // namespace pipit
