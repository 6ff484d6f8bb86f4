// Answers from a trace: turns, calls, waits. What `pipit turns|calls|waits` prints and the pages
// show.
//
// Threads: any; they read the model's published part. Each is one pass over the spans asked for.
#pragma once

#include "core/trace/handlers.h"

#include <optional>

namespace pipit
{

struct TurnRow {
    std::uint32_t span = 0;
    std::int64_t start = 0, duration = 0;
    std::uint16_t thread = 0;
    int dispatches = 0, calls = 0;
    bool forced = false;
    bool judged = true; // how long it took is known: no records were lost in it
    std::uint32_t parent =
        0;         // span + 1 of the turn that it ran inside, of a dialog or a call that drove the loop
    int depth = 0; // how many turns it ran inside
};

struct CallRow {
    std::uint32_t span = 0;
    std::int64_t start = 0, duration = 0;
    std::uint16_t thread = 0;
    HandlerName handler;
    QString source, signal;
    QString causeKind;       // "signal", "dispatch", "call", "posted", or empty
    std::uint32_t cause = 0; // span + 1
    bool open = false;
    bool judged = true;       // how long it took is known: no records were lost in it
    std::uint32_t parent = 0; // span + 1 of the call that it ran inside
    int depth = 0;            // how many calls it ran inside
};

struct WaitRow {
    std::uint32_t span = 0;
    QString what;
    QString kind; // "input", "release", "repaint", "queued call", "posted"
    std::int64_t posted = 0, wait = 0;
    std::uint16_t thread = 0; // in whose queue
};

struct TimeRange {
    std::int64_t from = INT64_MIN, to = INT64_MAX;
};

// Whether a span is the call of a handler: not one of code that only looks whether to call it.
bool isCall(const TraceModel &trace, Handlers &handlers, std::uint32_t span);
// What a span stands in, such code left out; none: UINT32_MAX.
std::uint32_t causeOf(const TraceModel &trace, Handlers &handlers, std::uint32_t span);

std::vector<TurnRow> turnsOf(const TraceModel &trace, Handlers &handlers, std::uint32_t firstSpan = 0);
std::vector<CallRow> callsOf(const TraceModel &trace, Handlers &handlers, TimeRange range = {});
// Dispatches that were queued: from when the input happened or the event was posted.
std::vector<WaitRow> waitsOf(const TraceModel &trace, TimeRange range = {});

// One span in a plain sentence: "boardButton emits clicked", "boardPassenger runs".
QString sentenceOf(const TraceModel &trace, Handlers &handlers, std::uint32_t span);

} // namespace pipit
