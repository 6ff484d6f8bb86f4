// Answers from a trace: turns, calls, waits. What `pipit turns|calls|waits` prints and the pages
// show.
//
// Threads: any; they read the model's published part. Each is one pass over the spans asked for.
#pragma once

#include "core/trace/handlers.h"

#include <functional>
#include <optional>

namespace pipit
{

// "posted", "painted", "timer", "timer goes on", "thread", "task", "object", "loop ended", "aside".
QString causeWord(CauseKind kind);

struct TurnRow {
    SpanId span;
    std::int64_t start = 0, duration = 0;
    std::uint16_t thread = 0;
    int dispatches = 0, calls = 0;
    bool forced = false;
    bool judged = true; // how long it took is known: no records were lost in it
    SpanId parent;      // the turn that it ran inside, of a dialog or a call that drove the loop
    int depth = 0;      // how many turns it ran inside
};

struct CallRow {
    SpanId span;
    std::int64_t start = 0, duration = 0;
    std::uint16_t thread = 0;
    HandlerName handler;
    QString source, signal;
    QString causeKind; // "signal", "dispatch", "call", "posted", or empty
    SpanId cause;
    bool open = false;
    bool judged = true; // how long it took is known: no records were lost in it
    SpanId parent;      // the call that it ran inside
    int depth = 0;      // how many calls it ran inside
};

struct WaitRow {
    SpanId span;
    QString what;
    QString kind; // "input", "release", "repaint", "queued call", "posted"
    std::int64_t posted = 0, wait = 0;
    std::uint16_t thread = 0; // in whose queue
};

struct TimeRange {
    std::int64_t from = INT64_MIN, to = INT64_MAX;
};

// Whether a span is the call of a handler: not one of code that only looks whether to call it.
bool isCall(Handlers &handlers, const Span &span);
// What a span stands in, such code left out.
SpanId causeOf(const TraceModel &trace, Handlers &handlers, const Span &span);
// What led to a call: its own causes, and those of what it stands in as far as the nearest event.
std::vector<Cause> causesAround(const TraceModel &trace, SpanId call);

// One after the other, as they began, until `take` says false.
void eachCall(const TraceModel &trace, Handlers &handlers, TimeRange range,
              const std::function<bool(const CallRow &)> &take);
// Dispatches that were queued: from when the input happened or the event was posted.
void eachWait(const TraceModel &trace, TimeRange range, const std::function<bool(const WaitRow &)> &take);

// Gathered whole: a turn is emitted once everything in it was read.
std::vector<TurnRow> turnsOf(const TraceModel &trace, Handlers &handlers, TimeRange range = {});
std::vector<CallRow> callsOf(const TraceModel &trace, Handlers &handlers, TimeRange range = {});
std::vector<WaitRow> waitsOf(const TraceModel &trace, TimeRange range = {});

// One of them: of a call that began in a range, without what it ran inside.
CallRow callRow(const TraceModel &trace, Handlers &handlers, const Span &call);
// Of a dispatch that was queued; nothing if it only passes on what is told of an outer one.
std::optional<WaitRow> waitRow(const TraceModel &trace, const Span &dispatch);

// One span in a plain sentence: "boardButton emits clicked", "boardPassenger runs".
QString sentenceOf(const TraceModel &trace, Handlers &handlers, const Span &span);
// The same by what it has in common with others, of what needs no more: all but turns and inputs.
QString sentenceOf(const TraceModel &trace, Handlers &handlers, const ThreadRows::Alike &span);

// What a File fact says: "report.txt in the home folder was opened to write".
QString fileText(const QString &fact);
// What a Used fact says: "the setting berth was set".
QString usedText(const QString &fact);

} // namespace pipit
