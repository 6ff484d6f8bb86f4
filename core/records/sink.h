// Where records go: the recording on disk, the trace in memory, or both.
//
// Threads: called on one thread at a time, the drain thread of a run or the thread that reads a
// recording. Within a stream records come in order of time; across streams they come merged by
// time as far as that can be known (see RecordMerger).
#pragma once

#include "link/record.h"

#include <cstddef>
#include <vector>

namespace pipit
{

struct StreamInfo {
    std::uint32_t pid = 0;
    std::uint32_t tid = 0;
    bool main = false;
};

class RecordSink
{
public:
    virtual ~RecordSink() = default;
    virtual void streamOpened(int stream, const StreamInfo &info) = 0;
    virtual void record(int stream, const link::Record &record, const char *text, std::size_t bytes) = 0;
    // Nothing more comes on it: its thread has ended.
    virtual void streamEnded(int stream) { (void)stream; }
    // Everything up to `time` has been handed over, on every stream.
    virtual void caughtUp(std::int64_t time) = 0;
};

// Hands records to several sinks.
class SinkList : public RecordSink
{
public:
    void add(RecordSink *sink) { sinks_.push_back(sink); }
    void streamOpened(int stream, const StreamInfo &info) override
    {
        for (auto *s : sinks_)
            s->streamOpened(stream, info);
    }
    void record(int stream, const link::Record &record, const char *text, std::size_t bytes) override
    {
        for (auto *s : sinks_)
            s->record(stream, record, text, bytes);
    }
    void streamEnded(int stream) override
    {
        for (auto *s : sinks_)
            s->streamEnded(stream);
    }
    void caughtUp(std::int64_t time) override
    {
        for (auto *s : sinks_)
            s->caughtUp(time);
    }

private:
    std::vector<RecordSink *> sinks_;
};

} // namespace pipit
