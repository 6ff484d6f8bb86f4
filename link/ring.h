// The ring: one thread's records in shared memory, single producer, single consumer.
//
// It is a ring of segments, not of cells: the writer fills one and goes on in the one that was emptied last,
// so that a ring that is drained in time uses two of them, which stay in the cache, however large it is. A
// record and its text never lie in two segments.
//
// Threads: the writer belongs to the recorded thread, the reader to Pipit's drain thread; they
// may be different processes. Neither ever blocks: a full ring drops the record and counts it.
// What was published is readable after the writer was killed. The memory is a page for RingHeader and then
// as many cells of a record each as the ring's place in the arena has: who reads takes that number from the
// layout, never from the memory itself.
#pragma once

#include "link/record.h"

#include <atomic>
#include <cstddef>
#include <cstring>

namespace pipit::link
{

inline constexpr std::uint32_t ringMagic = 0x50695052; // "RPiP" in memory
inline constexpr std::uint32_t ringVersion = 3;
inline constexpr std::size_t ringHeaderBytes = 4096;
inline constexpr std::size_t maxTextBytes = 48 * 64; // a longer text is cut, at a character's border

inline constexpr std::uint64_t mostSegments = 256, segmentMost = 4096;

// Cells in one segment of a ring of so many; both are powers of two.
constexpr std::uint64_t segmentCells(std::uint64_t capacity)
{
    return capacity / 4 < segmentMost ? capacity / 4 : segmentMost;
}

struct RingHeader {
    std::uint32_t magic;
    std::uint32_t version;
    std::uint32_t pid;
    std::uint32_t tid;
    alignas(64) std::atomic<std::uint64_t> head; // cells ever written
    alignas(64) std::atomic<std::uint64_t> tail; // cells ever read
    alignas(64) std::atomic<std::uint64_t> lost; // records dropped because the ring was full
    // Which segment the n-th was, modulo how many there are.
    alignas(64) std::atomic<std::uint16_t> order[mostSegments];
};
static_assert(sizeof(RingHeader) <= ringHeaderBytes);

constexpr std::size_t ringBytes(std::size_t capacity)
{
    return ringHeaderBytes + capacity * sizeof(Record);
}

inline Record *cellsOf(RingHeader *h)
{
    return reinterpret_cast<Record *>(reinterpret_cast<char *>(h) + ringHeaderBytes);
}

class RingWriter
{
public:
    RingWriter() = default;
    // `capacity` in cells, a power of two; `turned` is called whenever a segment is full.
    RingWriter(RingHeader *header, std::uint64_t capacity, void (*turned)() = nullptr)
        : header_(header), cells_(cellsOf(header)), segment_(segmentCells(capacity)),
          count_(capacity / segmentCells(capacity)), turned_(turned)
    {
    }

    bool valid() const { return header_ != nullptr; }

    // Writes one record, with its text if `bytes` > 0. False if it was dropped; it is counted as lost then,
    // unless it only counts others.
    bool write(const Record &record, const char *text = nullptr, std::size_t bytes = 0, bool counts = true)
    {
        const std::uint64_t extra = (bytes + sizeof(Record) - 1) / sizeof(Record);
        if (std::uint64_t(end_ - at_) < 1 + extra && !turn()) {
            lost_ += counts;
            header_->lost.store(lost_, std::memory_order_relaxed);
            return false;
        }
        __builtin_prefetch(at_ + 4, 1, 2); // its line was last with the reader
        *at_ = record;
        if (extra)
            std::memcpy(static_cast<void *>(at_ + 1), text, bytes);
        at_ += 1 + extra;
        head_ += 1 + extra;
        header_->head.store(head_, std::memory_order_release);
        return true;
    }

    std::uint64_t lost() const { return lost_; }

private:
    // Goes on in another segment; false if all are full.
    bool turn()
    {
        const std::uint64_t next = (head_ + segment_ - 1) / segment_; // which one it will be, counted from 0
        const std::uint64_t first = header_->tail.load(std::memory_order_acquire) / segment_;
        if (next - first >= count_)
            return false;
        if (at_ != end_)
            *at_ = Record{}; // what is left of it is skipped
        head_ = next * segment_;
        const std::uint64_t id = freeOne(first, next);
        header_->order[next % count_].store(std::uint16_t(id), std::memory_order_relaxed);
        at_ = cells_ + id * segment_;
        end_ = at_ + segment_;
        if (turned_ && next)
            turned_();
        return true;
    }

    // One that is not among those from `first` on: the one that was emptied last, if there is one.
    std::uint64_t freeOne(std::uint64_t first, std::uint64_t next) const
    {
        std::uint64_t used[mostSegments / 64] = {};
        const auto id = [&](std::uint64_t n) {
            return header_->order[n % count_].load(std::memory_order_relaxed) % count_;
        };
        for (std::uint64_t n = first; n < next; ++n)
            used[id(n) / 64] |= std::uint64_t(1) << id(n) % 64;
        const auto isFree = [&](std::uint64_t i) { return !(used[i / 64] >> i % 64 & 1); };
        if (first > 0 && next - first < count_ && isFree(id(first - 1)))
            return id(first - 1);
        for (std::uint64_t i = 0; i < count_; ++i)
            if (isFree(i))
                return i;
        return 0;
    }

    RingHeader *header_ = nullptr;
    Record *cells_ = nullptr, *at_ = nullptr, *end_ = nullptr; // of the present segment
    std::uint64_t segment_ = 0, count_ = 0;
    std::uint64_t head_ = 0, lost_ = 0; // the writer's own copies
    void (*turned_)() = nullptr;
};

// How many cells of text follow a record, from the record alone.
inline std::uint64_t textCells(const Record &s)
{
    const KindInfo *info = infoOf(s.kind);
    if (!info || !info->text)
        return 0;
    return (s.words[3] + sizeof(Record) - 1) / sizeof(Record);
}

class RingReader
{
public:
    RingReader() = default;
    RingReader(RingHeader *header, std::uint64_t capacity)
        : header_(header), cells_(cellsOf(header)), capacity_(capacity)
    {
    }

    bool valid() const { return header_ != nullptr; }
    RingHeader *header() const { return header_; }

    // Hands every record that is published now to `sink(const Record &, const char *text, size_t bytes)`,
    // and frees each segment once it is read. Returns how many records there were.
    template <class Sink> std::uint64_t drain(Sink &&sink)
    {
        const std::uint64_t head = header_->head.load(std::memory_order_acquire);
        const std::uint64_t segment = segmentCells(capacity_), segments = capacity_ / segment;
        std::uint64_t count = 0;
        if (head < tail_ || head - tail_ > capacity_) // foreign: give up
            tail_ = head;
        while (tail_ < head) {
            const std::uint64_t n = tail_ / segment, end = n * segment + segment;
            const std::uint64_t id = header_->order[n % segments].load(std::memory_order_relaxed) % segments;
            const std::uint64_t until = head < end ? head : end;
            const Record *at = cells_ + id * segment + tail_ % segment;
            while (tail_ < until) {
                const std::uint64_t used = readOne(at, until - tail_, sink, count);
                if (used == 0) { // skipped by the writer, torn or foreign
                    tail_ = until == end ? end : head;
                    break;
                }
                tail_ += used;
                at += used;
            }
            header_->tail.store(tail_, std::memory_order_release);
        }
        header_->tail.store(tail_, std::memory_order_release);
        return count;
    }

private:
    // How many cells it took; 0: it is no record.
    template <class Sink>
    std::uint64_t readOne(const Record *at, std::uint64_t room, Sink &sink, std::uint64_t &count)
    {
        const Record s = *at; // a copy: the writer may be anybody
        const std::uint64_t extra = textCells(s);
        if (s.kind == 0 || extra > maxTextBytes / sizeof(Record) || extra >= room)
            return 0;
        char text[maxTextBytes + sizeof(Record)];
        if (extra)
            std::memcpy(text, at + 1, extra * sizeof(Record));
        sink(s, extra ? text : nullptr, extra ? static_cast<std::size_t>(s.words[3]) : 0);
        ++count;
        return 1 + extra;
    }

    RingHeader *header_ = nullptr;
    Record *cells_ = nullptr;
    std::uint64_t capacity_ = 0, tail_ = 0;
};

} // namespace pipit::link
