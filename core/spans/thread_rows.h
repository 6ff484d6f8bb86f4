// The spans of one thread, in columns: append-only, in the order in which they began.
//
// A row is twelve bytes: when it began, from the beginning of its chunk; how long it took; how far back its
// parent is; and a number for what it has in common with many rows (kind, flags, object, what). What
// follows a row until its subtree ends is found by time: whatever began before it ended lies in it.
//
// Threads: one writer. Any number of readers, without locks: rows below `count()` are complete, but
// for the end and the flags of those that are still open, which are written later.
#pragma once

#include "core/spans/append_only.h"
#include "core/spans/memory.h"
#include "core/spans/pages.h"
#include "core/spans/span.h"
#include "core/spans/zoom.h"

#include <memory>
#include <optional>
#include <vector>

namespace pipit
{

class ThreadRows
{
public:
    ThreadRows(SpanMemory &memory, std::uint16_t thread);
    ~ThreadRows();

    // The writer's.

    // Begins a span inside the innermost open one. Its row; `full()` reports the end of the memory.
    std::uint32_t open(SpanKind kind, std::int64_t start, std::uint32_t object, std::uint32_t what,
                       std::uint16_t flags = 0);
    // The same of a dispatch that was queued.
    std::uint32_t open(std::int64_t start, std::uint32_t object, std::uint32_t what, std::uint16_t flags,
                       const Posting &posting);
    // Ends the innermost open one.
    void close(std::int64_t end, std::uint16_t flags = 0);
    // The same, with what its way was.
    void close(std::int64_t end, std::uint16_t flags, const std::vector<Hop> &hops);
    // What the row that was opened last came of, besides who posted its event; or, of a loop that ended, an
    // earlier one.
    void addCause(std::uint32_t row, const Cause &cause);
    // What input the row that was opened last delivers.
    void describe(const InputInfo &input);
    const std::vector<std::uint32_t> &openRows() const { return open_; }
    std::uint32_t written() const { return written_; }
    void publish() { count_.store(written_, std::memory_order_release); }
    bool full() const { return full_; }

    // The readers'.

    std::uint32_t count() const { return count_.load(std::memory_order_acquire); }
    std::uint16_t thread() const { return thread_; }
    Span at(std::uint32_t row) const;
    SpanKind kind(std::uint32_t row) const;
    std::int64_t start(std::uint32_t row) const;
    std::int64_t end(std::uint32_t row) const; // -1: still open
    SpanId parent(std::uint32_t row) const;
    Posting posting(std::uint32_t row) const; // of one that `WasPosted`
    // The rows that were, in their order.
    std::uint32_t postedCount() const { return edges_.size(); }
    std::uint32_t postedRow(std::uint32_t n) const { return edges_[n].row; }
    std::uint32_t firstPostedFrom(std::uint32_t row) const;
    // Besides who posted its event.
    std::vector<Cause> causes(std::uint32_t row) const;
    // All of those, in the order of their rows; of loops, which end later, by themselves.
    struct CauseOfRow {
        std::uint32_t row = 0;
        Cause cause;
    };
    std::uint32_t causeCount() const { return causes_.size(); }
    const CauseOfRow &causeAt(std::uint32_t n) const { return causes_[n]; }
    std::uint32_t firstCauseFrom(std::uint32_t row) const;
    std::uint32_t loopEndCount() const { return loopEnds_.size(); }
    const CauseOfRow &loopEndAt(std::uint32_t n) const { return loopEnds_[n]; }
    std::optional<InputInfo> input(std::uint32_t row) const;
    std::uint32_t inputCount() const { return inputs_.size(); } // of all rows
    // Of one that `HasHops`, in their order.
    std::vector<Hop> hops(std::uint32_t row) const;
    std::uint32_t hopCount() const { return hops_.size(); } // of all rows
    // The first row after this one and all that lies in it.
    std::uint32_t after(std::uint32_t row) const;
    // The first one that began then or later.
    std::uint32_t firstFrom(std::int64_t time) const;
    // Of the turns: how many there were in these rows, and the longest.
    ZoomCell turns(std::uint32_t from, std::uint32_t to) const { return zoom_.of(from, to); }

    // Rows that have all in common but their times: a number below `alikes()`, for each chunk anew. What is
    // found out about one of them holds for all.
    struct Alike {
        std::uint32_t object = 0, what = 0;
        SpanKind kind = SpanKind::Turn;
        std::uint16_t flags = 0;
        bool operator==(const Alike &) const = default;
    };
    static constexpr std::uint32_t chunkRows = 4096, firstRows = 16; // small ones first
    struct ChunkRange {
        std::uint32_t first, end; // rows
    };
    static std::uint32_t chunkOf(std::uint32_t row);
    static ChunkRange rowsOf(std::uint32_t chunk);
    std::uint32_t alikes(std::uint32_t chunk) const;
    const Alike &alike(std::uint32_t chunk, std::uint32_t number) const;
    std::uint32_t alikeOf(std::uint32_t row) const;

private:
    struct Chunk;
    struct Numbers; // of what rows of the last chunk have in common
    struct Edge {   // from a dispatch to what posted it
        std::uint32_t row = 0, causeRow = 0, wait = 0;
        std::uint16_t causeThread = 0;
        bool caused = false;
    };
    struct InputOfRow {
        std::uint32_t row = 0;
        InputInfo input;
    };
    struct HopOfRow {
        std::uint32_t row = 0;
        Hop hop;
    };
    static constexpr std::uint32_t openStill = 0xffffffff, elsewhere = 0x80000000;

    Chunk *chunkFor(std::uint32_t row);
    Chunk &chunk(std::uint32_t number) const { return *chunks_[number]; }
    std::uint16_t numberOf(Chunk &c, const Alike &alike);
    std::uint32_t packed(std::int64_t time);
    std::int64_t unpacked(std::uint32_t word) const;

    SpanMemory &memory_;
    const std::uint16_t thread_;
    std::atomic<std::uint32_t> count_{0};
    AppendOnly<Chunk *> chunks_;
    AppendOnly<std::int64_t> times_; // those that do not fit into a row
    Pages<Edge> edges_;              // in order of row
    Pages<CauseOfRow> causes_;       // in order of row
    Pages<CauseOfRow> loopEnds_;     // in the order in which they ended
    Pages<InputOfRow> inputs_;       // in order of row
    Pages<HopOfRow> hops_;           // in the order in which their rows ended
    Zoom zoom_;

    // Writer only.
    std::vector<std::uint32_t> open_; // rows, the innermost last
    std::uint32_t written_ = 0;
    std::int64_t last_ = 0; // no time is earlier than the one before
    bool full_ = false;
    std::unique_ptr<Numbers> numbers_;
};

} // namespace pipit
