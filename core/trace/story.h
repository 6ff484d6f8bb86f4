// The rows of a trace, in the order in which they began: turns in which handlers ran, inputs,
// signals that led somewhere, calls, messages; idle time as one row. Or every event; or what a text fits.
//
// A story is counted in pages of a few thousand spans. A page knows how many rows it has, so that any row is
// found at once, and its rows are made when they are looked at: nothing is gathered for all of a trace.
//
// Threads: a StoryTeller on one thread at a time, a StoryPage is a value; `StoryEye` one for each thread.
#pragma once

#include "core/trace/queries.h"

#include <climits>
#include <memory>
#include <set>
#include <unordered_map>

namespace pipit
{

struct StoryChoice {
    QString text; // what a row's sentence must contain; "over 5 ms" in it: how long it took
    bool everything = false;
    bool folds = false; // what repeats is one row (core/trace/folds.h)
    bool operator==(const StoryChoice &) const = default;
};

// What repeats, in a row that stands for all of it.
struct Repeats {
    struct Part {     // what is alike
        SpanId first; // its identity, from the first time
        std::uint32_t times = 0;
        std::int64_t every = 0;                 // ns, mean time from one beginning to the next
        std::int64_t shortest = 0, longest = 0; // ns
        bool operator==(const Part &) const = default;
    };
    std::vector<Part> parts;        // in the order in which they came first
    bool opened = false;            // the rows that it stands for follow it
    std::uint32_t at = 0, rows = 0; // which rows of the page these are, when nothing is folded
    std::int64_t end = 0;           // of the last of them
    bool operator==(const Repeats &) const = default;
};

struct StoryRow {
    SpanId span; // none: idle time; of what repeats, what it begins with
    int depth = 0;
    std::int64_t start = 0, idle = 0;
    std::shared_ptr<const Repeats> repeats{}; // null: it stands for itself
    // The same row, of which more may be known by now.
    bool isSame(const StoryRow &o) const
    {
        return span == o.span && depth == o.depth && start == o.start && idle == o.idle &&
               bool(repeats) == bool(o.repeats) && (!repeats || repeats->opened == o.repeats->opened);
    }
    bool operator==(const StoryRow &o) const { return isSame(o) && (!repeats || *repeats == *o.repeats); }
};

// Decides which spans are shown; remembers the answer for all alike.
class StoryEye
{
public:
    StoryEye(const TraceModel &trace, Handlers &handlers, StoryChoice choice);
    bool shows(const ThreadRows &rows, std::uint32_t row);
    bool isHandlers(const ThreadRows &rows, std::uint32_t row); // the call of a handler
    const TraceModel &trace() const { return trace_; }
    const StoryChoice &choice() const { return choice_; }

private:
    enum class Decision : std::uint8_t { Unknown, No, Yes, Look };
    struct AlikeHash {
        std::size_t operator()(const ThreadRows::Alike &a) const;
    };
    struct Near { // of the chunk of a thread that is looked at
        std::uint32_t chunk = UINT32_MAX;
        std::vector<Decision> decisions;
    };
    Decision decide(const ThreadRows::Alike &alike);
    Decision decisionOf(const ThreadRows &rows, std::uint32_t row);
    bool isLong(const ThreadRows &rows, std::uint32_t row) const;
    bool looks(const ThreadRows &rows, std::uint32_t row);
    bool fits(const QString &sentence) const;

    const TraceModel &trace_;
    Handlers &handlers_;
    const StoryChoice choice_;
    QString text_;           // without how long it took
    std::int64_t least_ = 0; // ns
    bool turnsMayFit_ = true;
    std::unordered_map<ThreadRows::Alike, Decision, AlikeHash> decisions_;
    std::unordered_map<std::uint16_t, Near> near_; // by thread
};

struct StoryPage {
    struct Part { // of a thread's rows
        std::uint16_t thread = 0;
        std::uint32_t from = 0, to = 0;
    };
    std::vector<Part> parts;
    std::int64_t lastEnd = 0;       // the end of what was shown before it; 0: nothing yet
    std::vector<SpanId> openBefore; // what was shown and had not ended
    int count = 0;                  // of its rows
    std::int64_t start = 0;         // of its first span
    std::vector<std::int64_t> some; // when some of them began, evenly spread

    [[nodiscard]] std::vector<StoryRow> rows(StoryEye &eye, const std::set<SpanId> &opened = {}) const;
    [[nodiscard]] std::vector<StoryRow> unfolded(StoryEye &eye) const;
};

// What a row of idle time says: how long nothing is shown, and how long the event loop waits.
QString idleText(const TraceModel &trace, const StoryRow &row, const StoryChoice &choice);

class StoryTeller
{
public:
    StoryTeller(const TraceModel &trace, Handlers &handlers, const StoryChoice &choice);

    struct News {
        std::vector<StoryPage> pages; // complete since the last time
        std::vector<StoryRow> tail;   // what comes after them, as far as it is known
        StoryPage rest;               // what that was made from
        bool more = false;            // there is more to be looked at: ask again
    };
    // What came since, for as long as `slice` says, or until there are so many rows.
    [[nodiscard]] News advance(std::chrono::nanoseconds slice, int rows = INT_MAX,
                               const std::set<SpanId> &opened = {});
    // Something was told before it was sure: of all that has come by now it might be told otherwise.
    bool hurried() const { return hurried_; }

private:
    bool nextPage(StoryPage &page) const;
    StoryPage begun() const;
    void take(StoryPage &page, std::uint16_t thread, std::uint32_t to) const;
    StoryPage rest() const;
    bool decided(const StoryPage &page);

    StoryEye eye_;
    std::vector<std::uint32_t> at_; // by thread: the first row of the next page
    std::int64_t lastEnd_ = 0;
    std::vector<SpanId> open_;
    bool hurried_ = false;
};

} // namespace pipit
