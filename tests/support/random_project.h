// Random projects whose programs check themselves: each signal and event is given once, and what
// every handler prints is held against what the project says.
#pragma once

#include "core/edits/workspace.h"

#include <QRandomGenerator>

namespace pipit::tests
{

struct RandomProject {
    Workspace workspace;
    QByteArrayList expected; // lines that the program must print, in order
};

// In a folder that does not exist yet; the same seed makes the same project.
RandomProject makeRandomProject(const QString &folder, quint32 seed);
// Builds and runs it; empty when it did what the project says, else what differs.
QString trial(RandomProject &project);

} // namespace pipit::tests
