// From a project to C++: the base window, the handlers' declarations, the wiring, main(), the list
// of sources and the map from generated lines to connections.
//
// Threads: any; works on copies. Whatever texts a project holds, the code compiles and shows
// exactly those texts. Errors: a project that cannot be built as it stands (a connection to a
// missing widget, an unknown signal) is a Problem that names the connection and its line.
#pragma once

#include "core/codegen/window_code.h"
#include "core/project/place.h"
#include "core/userfiles/user_files.h"

namespace pipit
{

struct GeneratedFile {
    QString name; // relative to the project's folder
    QByteArray bytes;
};

struct Generated {
    QList<GeneratedFile> files;
};

// The toolkit's headers that a project's code needs, for the precompiled one; with those for
// handlers in the background, or as the project needs them.
QStringList toolkitHeaders(const Project &project, bool background);
// The headers of every class that the catalog offers, and what people include most beside them: for a
// compiler that a large precompiled header costs nothing, so that one serves every project.
QStringList everyHeader();
bool hasBackground(const Project &project);
bool needsNetwork(const Project &project);

Result<Generated> generate(const Project &project, const ProjectPlace &place, UserFiles &files);

// Writes what changed, and removes what Pipit made for windows that are no more.
Outcome writeGenerated(const Generated &generated, const ProjectPlace &place);

// The user's own source files and headers, in the project's folder itself. One list for both ways to build.
// Those of a window that was removed stay where they are, but are no part of it any more.
QStringList userSources(const QString &folder, const Project &project);
QStringList userHeaders(const QString &folder, const Project &project);

// The user's own files as they are first made, and the CMakeLists.txt: never written again.
QList<GeneratedFile> userTemplates(const Project &project);

// The .h and .cpp of one window of the user's, as they are first made.
QList<GeneratedFile> windowTemplates(const WindowNode &window);

} // namespace pipit
