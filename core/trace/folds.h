// Folding of what repeats in a story: "gateTimer · timeout calls readGate, 48 times, every 250 ms, 0.01 to
// 0.05 ms" in place of 48 turns.
//
// What repeats are neighbours of a few kinds, each of which comes at least three times: a row and all that
// lies in it is alike another when it shows the same. What a person must see for itself is never folded: a
// press or a release of the mouse, a drop, an end by an exception, what is still open, whatever took 16 ms or
// longer, and what comes right after any of these and may have come of it.
//
// Threads: any; functions of their arguments.
#pragma once

#include "core/trace/story.h"

namespace pipit
{

// The rows with what repeats folded; those of `opened` folds follow their row, one deeper. A fold is known by
// the span that it begins with.
std::vector<StoryRow> folded(const TraceModel &trace, std::vector<StoryRow> rows,
                             const std::set<SpanId> &opened);

// What identifies a fold.
QString repeatText(const TraceModel &trace, Handlers &handlers, const StoryRow &fold);

} // namespace pipit
