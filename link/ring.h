// The ring: one thread's records in shared memory, single producer, single consumer.
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
inline constexpr std::uint32_t ringVersion = 2;
inline constexpr std::size_t ringHeaderBytes = 4096;
inline constexpr std::size_t maxTextBytes = 48 * 64; // a longer text is cut, at a character's border

struct RingHeader {
    std::uint32_t magic;
    std::uint32_t version;
    std::uint32_t pid;
    std::uint32_t tid;
    alignas(64) std::atomic<std::uint64_t> head; // cells ever written
    alignas(64) std::atomic<std::uint64_t> tail; // cells ever read
    alignas(64) std::atomic<std::uint64_t> lost; // records dropped because the ring was full
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
    // `capacity` in cells, a power of two.
    RingWriter(RingHeader *header, std::uint64_t capacity)
        : header_(header), cells_(cellsOf(header)), mask_(capacity - 1), capacity_(capacity)
    {
    }

    bool valid() const { return header_ != nullptr; }

    // Writes one record, with its text if `bytes` > 0. False if it was dropped; it is counted as lost then,
    // unless it only tells of others.
    bool write(const Record &record, const char *text = nullptr, std::size_t bytes = 0, bool counts = true)
    {
        const std::uint64_t extra = (bytes + sizeof(Record) - 1) / sizeof(Record);
        if (head_ + 1 + extra - tail_ > capacity_) {
            tail_ = header_->tail.load(std::memory_order_acquire);
            if (head_ + 1 + extra - tail_ > capacity_) {
                header_->lost.fetch_add(counts ? 1 : 0, std::memory_order_relaxed);
                return false;
            }
        }
        Record &s = cells_[head_ & mask_];
        s = record;
        for (std::uint64_t i = 0; i < extra; ++i) {
            const std::size_t from = i * sizeof(Record);
            const std::size_t n = bytes - from < sizeof(Record) ? bytes - from : sizeof(Record);
            std::memcpy(static_cast<void *>(&cells_[(head_ + 1 + i) & mask_]), text + from, n);
        }
        head_ += 1 + extra;
        header_->head.store(head_, std::memory_order_release);
        return true;
    }

    std::uint64_t lost() const { return header_->lost.load(std::memory_order_relaxed); }

private:
    RingHeader *header_ = nullptr;
    Record *cells_ = nullptr;
    std::uint64_t mask_ = 0, capacity_ = 0;
    std::uint64_t head_ = 0, tail_ = 0; // the writer's own copies
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
    // then frees the room. Returns how many records there were.
    template <class Sink> std::uint64_t drain(Sink &&sink)
    {
        const std::uint64_t head = header_->head.load(std::memory_order_acquire);
        std::uint64_t tail = tail_, count = 0;
        const std::uint64_t mask = capacity_ - 1;
        if (head < tail || head - tail > capacity_) // foreign: give up
            tail = head;
        char text[maxTextBytes + sizeof(Record)];
        while (tail < head) {
            const Record s = cells_[tail & mask]; // a copy: the writer may be anybody
            const std::uint64_t extra = textCells(s);
            if (extra > maxTextBytes / sizeof(Record) ||
                tail + 1 + extra > head) { // torn or foreign: give up
                tail = head;
                break;
            }
            for (std::uint64_t i = 0; i < extra; ++i)
                std::memcpy(text + i * sizeof(Record), &cells_[(tail + 1 + i) & mask], sizeof(Record));
            sink(s, extra ? text : nullptr, extra ? static_cast<std::size_t>(s.words[3]) : 0);
            tail += 1 + extra;
            ++count;
        }
        tail_ = tail;
        header_->tail.store(tail, std::memory_order_release);
        return count;
    }

private:
    RingHeader *header_ = nullptr;
    Record *cells_ = nullptr;
    std::uint64_t capacity_ = 0, tail_ = 0;
};

} // namespace pipit::link
