// The arena: all that Pipit and one recorded process share, in one piece of memory that Pipit makes and hands
// over when the recorder says hello. After that neither needs a descriptor of the other: records go to the
// rings in it, questions and answers to two streams of bytes, and whoever waits does so on a word in it.
//
// Threads: the header's counters and a place's state are atomic; a stream of bytes has one writer and one
// reader at a time. Pipit trusts nothing that it reads here: sizes follow from the layout, never from the
// memory. A process that is killed leaves the arena as it was.
#pragma once

#include "link/clock.h"
#include "link/ring.h"

#include <atomic>
#include <cstddef>
#include <cstdint>

namespace pipit::link
{

inline constexpr std::uint32_t arenaMagic = 0x41695052; // "RPiA" in memory
inline constexpr std::uint32_t arenaVersion = 3;

// A place for one thread's ring. The first is the application thread's, and larger.
inline constexpr std::size_t arenaPlaces = 512;
inline constexpr std::uint64_t mainCells = std::uint64_t(1) << 19, otherCells = std::uint64_t(1) << 18;

enum class Place : std::uint32_t {
    Free,
    Claimed, // by a thread that makes its ring ready
    Live,
    Ended, // its thread wrote its last record; Pipit frees it once it has read all
};

// One direction of the conversation: lines of JSON.
struct ByteStream {
    static constexpr std::uint32_t bytes = 1u << 20;
    alignas(64) std::atomic<std::uint32_t> head; // bytes ever written, and the word that the reader waits on
    alignas(64) std::atomic<std::uint32_t> tail; // bytes ever read
    alignas(64) char data[bytes];
};

struct ArenaHeader {
    std::uint32_t magic;
    std::uint32_t version;
    std::uint64_t bytes;
    Clock clock;                           // which one the records are to have
    std::atomic<std::uint32_t> changes;    // of places: they need a look when it differs
    std::atomic<std::uint32_t> unrecorded; // threads for which there was no place
    std::atomic<std::int32_t> forked;      // the last process that was forked off and records nothing
    // Pipit sleeps for a while, and wants to be woken when a segment of a ring is full, or a line was
    // written.
    std::atomic<std::uint32_t> asleep;
    std::atomic<std::uint32_t> wakes; // what it waits on
    std::atomic<Place> places[arenaPlaces];
    ByteStream toRecorder, toPipit;
};

constexpr std::size_t arenaPage(std::size_t bytes)
{
    return (bytes + 4095) / 4096 * 4096;
}
constexpr std::uint64_t cellsOfPlace(std::size_t place)
{
    return place == 0 ? mainCells : otherCells;
}
constexpr std::size_t offsetOfPlace(std::size_t place)
{
    const std::size_t first = arenaPage(sizeof(ArenaHeader));
    return place == 0 ? first : first + ringBytes(mainCells) + (place - 1) * ringBytes(otherCells);
}
inline constexpr std::size_t arenaBytes = offsetOfPlace(arenaPlaces);
// Of the first ring: memory that is made before it is needed, for what a program does at its start.
inline constexpr std::size_t aheadBytes = ringHeaderBytes + 2 * segmentCells(mainCells) * sizeof(Record);
static_assert(offsetOfPlace(1) % 4096 == 0 && offsetOfPlace(2) % 4096 == 0);

inline RingHeader *ringAt(ArenaHeader *arena, std::size_t place)
{
    return reinterpret_cast<RingHeader *>(reinterpret_cast<char *>(arena) + offsetOfPlace(place));
}

// Writes as much as there is room for; returns how much that was.
inline std::size_t writeBytes(ByteStream &stream, const char *from, std::size_t size)
{
    const std::uint32_t head = stream.head.load(std::memory_order_relaxed);
    const std::uint32_t used = head - stream.tail.load(std::memory_order_acquire);
    const std::size_t room = used <= ByteStream::bytes ? ByteStream::bytes - used : 0;
    const std::size_t n = size < room ? size : room;
    for (std::size_t i = 0; i < n; ++i)
        stream.data[(head + i) % ByteStream::bytes] = from[i];
    stream.head.store(head + std::uint32_t(n), std::memory_order_release);
    return n;
}

// Hands what is there to `take(const char *, size)`, in one or two pieces.
template <class Take> void readBytes(ByteStream &stream, Take &&take)
{
    const std::uint32_t head = stream.head.load(std::memory_order_acquire);
    std::uint32_t tail = stream.tail.load(std::memory_order_relaxed);
    if (head - tail > ByteStream::bytes) // not written by us
        tail = head - ByteStream::bytes;
    while (tail != head) {
        const std::uint32_t at = tail % ByteStream::bytes;
        const std::uint32_t left = head - tail, run = ByteStream::bytes - at;
        const std::uint32_t n = left < run ? left : run;
        take(stream.data + at, std::size_t(n));
        tail += n;
    }
    stream.tail.store(tail, std::memory_order_release);
}

} // namespace pipit::link
