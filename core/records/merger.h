// Merges the streams of one drain by time.
//
// Threads: the drain thread only. A record may be published a little after its clock was read, so
// records younger than a lag are held back until the next drain; `flush` gives all of them.
#pragma once

#include "core/records/sink.h"

#include <string>

namespace pipit
{

class RecordMerger
{
public:
    explicit RecordMerger(RecordSink &sink) : sink_(sink) {}

    void add(int stream, const link::Record &record, const char *text, std::size_t bytes);
    // Hands on what is not younger than `watermark`, in order of time.
    void release(std::uint64_t watermark);
    void flush() { release(UINT64_MAX); }

private:
    struct Held {
        link::Record record;
        std::string text;
    };
    RecordSink &sink_;
    std::vector<std::vector<Held>> streams_; // each in order of time
    std::vector<std::size_t> at_;            // the first that is not handed on
};

} // namespace pipit
