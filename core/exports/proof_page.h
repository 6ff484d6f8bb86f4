// Runs before and after a change: read from recordings, and written as one page.
//
// Threads: any worker's. Nothing is run, nothing is fetched.
#pragma once

#include "core/base/result.h"
#include "core/pace/compare.h"

namespace pipit
{

// The runs in a folder: it is a recording itself, or holds some, as `pipit run --times` leaves them. In the
// order of their names.
[[nodiscard]] Result<std::vector<ComparedRun>> runsIn(const QString &path, std::chrono::milliseconds budget);

// One file to be read in a browser: the verdict, every figure, and how runs and inputs are distributed.
[[nodiscard]] QString proofPage(const Comparison &comparison, const std::vector<ComparedRun> &before,
                                const std::vector<ComparedRun> &after);

} // namespace pipit
