// The last steps of undo, kept beside the project (.pipit/history.json): the window and the command line
// undo each other's. Never more than a megabyte; what cannot be read is as if nothing had been done.
//
// Threads: any, one at a time.
#pragma once

#include "core/edits/workspace.h"

namespace pipit
{

Outcome keepHistory(const ProjectPlace &place, const QList<Edit> &steps, const Project &now);
// The steps that led to exactly this project; empty when it is another by now.
QList<Edit> loadHistory(const ProjectPlace &place, const Project &now);

} // namespace pipit
