// Merges the streams of one drain by time.
//
// Threads: the drain thread only. A record may be published a little after its clock was read, so
// records younger than a lag are held back until the next drain; `flush` gives all of them.
#pragma once

#include "core/records/moments.h"
#include "core/records/sink.h"

namespace pipit
{

class RecordMerger
{
public:
    // Records come with the time from `moments`; it is to outlive the merger.
    RecordMerger(RecordSink &sink, const Moments &moments) : sink_(sink), moments_(moments) {}

    void add(int stream, const link::Record &record, const char *text, std::size_t bytes);
    // Nothing more is added to it: passed on once all of it is there.
    void finish(int stream);
    // Hands on what is not younger than `watermark`, by the records' own clock, in order of time.
    void release(std::uint64_t watermark);
    void flush() { release(UINT64_MAX); }
    std::uint64_t added() const { return added_; } // in all

private:
    struct Held {
        link::Record record;
        std::uint32_t textAt = 0, bytes = 0; // in the stream's texts
    };
    struct Stream {
        int number = 0;
        std::vector<Held> held; // in order of time
        std::vector<char> texts;
        std::size_t at = 0; // the first that is not handed on
        std::uint64_t latest = 0;
        bool finished = false;

        void dropHandedOn();
    };
    Stream &streamOf(int number);

    RecordSink &sink_;
    const Moments &moments_;
    std::vector<Stream> streams_; // those that may still give something
    std::size_t last_ = 0;        // where the last one was added
    std::uint64_t added_ = 0;
};

} // namespace pipit
