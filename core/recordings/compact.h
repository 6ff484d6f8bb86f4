// How records stand in a stream: an event of a few bytes each (docs/formats/recording.md).
//
// An event begins with five bits that say what it is and the lower 27 bits of its time; one that comes later
// than those can tell has a longer beginning. Addresses are written once on a stream and referred to by
// number from then on, and so are called connections. How many begin records are open is told where it does
// not follow from the events before. What a record's end repeats of its beginning is left out.
//
// Threads: one for each encoder and decoder. No byte that a decoder is given is trusted.
#pragma once

#include "core/records/near_map.h"
#include "link/record.h"

#include <QByteArray>

#include <map>
#include <vector>

namespace pipit::compact
{

// Ids of events are the kinds of their records, but for these. What is rare has one that is not below
// `longer`.
enum Id : std::uint8_t {
    Address = 0,         // index, value: what a number stands for
    InputOf = 8,         // an input; the role of a thread, in version 0.2
    Depth = 9,           // of the next record
    FilterHop = 26,      // a hop of a filter; a note, in version 0.2
    Called = 27,         // index, serial, code, value: what a number of a call stands for
    ReceiverHop = 28,    // a hop of a receiver; a mark, in version 0.2
    DispatchPosted = 29, // one that was posted
    DispatchInput = 30,  // one with the time at which an input happened
    longer = 31,         // the id and the time follow in full
    LateMark = 32,
    LateNote = 33,
    LateRole = 34,
    LateFact = 35,
    LateBegan = 36,
    LateCameOf = 37,
};
std::uint8_t idOf(link::Kind kind); // of the records that have one id

// The minor version of what is written. Version 0.2 had neither hops nor inputs, 0.3 no facts, 0.4 no ties.
inline constexpr int minorVersion = 5;
inline constexpr int timeBits = 27;
// No event of a record without a text takes more, with all that has to be written before it.
inline constexpr std::size_t mostBytes = 160;

// The events' part of the trace's description.
QByteArray eventDescriptions();

class Encoder
{
public:
    // All begins anew: numbers, times, depth.
    void beginPiece();
    // Before the first event of a packet, which begins at that time.
    void beginPacket(std::uint64_t time);
    // Appends one record, and what has to be written before it; `time` is not before the one before.
    void put(std::vector<char> &to, const link::Record &record, std::uint64_t time, const char *text,
             std::size_t bytes);

private:
    struct Call {
        std::uint64_t serial, code;
        std::uint32_t value;
        auto operator<=>(const Call &) const = default;
    };
    std::uint32_t address(std::vector<char> &to, std::uint64_t value);
    std::uint32_t call(std::vector<char> &to, const link::Record &record);
    void begin(std::vector<char> &to, std::uint8_t id, std::uint64_t time);
    void body(std::vector<char> &to, const link::Record &record, std::uint64_t time, const char *text,
              std::size_t bytes);

    NearMap addresses_, calls_; // numbers; calls by serial, or code where that is none
    std::vector<Call> called_;  // what the last number of a key stands for
    std::uint32_t addressCount_ = 0;
    std::uint64_t last_ = 0;
    int depth_ = 0;
    bool first_ = false; // of a packet
};

class Decoder
{
public:
    explicit Decoder(int minor = minorVersion) : minor_(minor) {}
    void beginPiece();
    void beginPacket(std::uint64_t time);
    enum Answer { Read, Torn, Unknown };
    // The next record between `at` and `end`; `at` is behind it then. Read also if only the end was reached,
    // and `record.kind` is None then.
    Answer next(const unsigned char *&at, const unsigned char *end, link::Record &record, const char *&text,
                std::size_t &bytes);

private:
    struct Call {
        std::uint64_t serial = 0, code = 0;
        std::uint32_t value = 0;
    };
    std::uint16_t kindOf(std::uint32_t event) const;

    int minor_;
    std::vector<std::uint64_t> addresses_;
    std::vector<Call> calls_;
    std::uint64_t last_ = 0;
    int depth_ = 0;
};

} // namespace pipit::compact
