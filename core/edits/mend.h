// What mends a finding in one step.
//
// Threads: as the workspace.
#pragma once

#include "core/edits/workspace.h"
#include "core/findings/findings.h"

namespace pipit
{

// The one step, as one step of undo; a Problem where there is none.
Outcome mend(Workspace &workspace, const Finding &finding);

} // namespace pipit
