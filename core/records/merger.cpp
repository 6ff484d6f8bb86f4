#include "core/records/merger.h"

#include "core/records/merge.h"

#include <algorithm>
#include <utility>

namespace pipit
{

RecordMerger::Stream &RecordMerger::streamOf(int number)
{
    for (Stream &s : streams_)
        if (s.number == number)
            return s;
    streams_.emplace_back().number = number;
    return streams_.back();
}

void RecordMerger::Stream::dropHandedOn()
{
    held.erase(held.begin(), held.begin() + std::ptrdiff_t(std::exchange(at, 0)));
    const std::size_t from = held.empty() ? texts.size() : held.front().textAt;
    texts.erase(texts.begin(), texts.begin() + std::ptrdiff_t(from));
    for (Held &h : held)
        h.textAt -= std::uint32_t(from);
}

void RecordMerger::add(int stream, const link::Record &record, const char *text, std::size_t bytes)
{
    ++added_;
    // Most often it is the one that was added to before.
    Stream &s =
        last_ < streams_.size() && streams_[last_].number == stream ? streams_[last_] : streamOf(stream);
    last_ = std::size_t(&s - streams_.data());
    s.held.push_back({record, std::uint32_t(s.texts.size()), std::uint32_t(text ? bytes : 0)});
    s.latest = s.held.back().record.time = std::max(record.time, s.latest);
    if (text)
        s.texts.insert(s.texts.end(), text, text + bytes);
}

void RecordMerger::finish(int stream)
{
    streamOf(stream).finished = true;
}

void RecordMerger::release(std::uint64_t watermark)
{
    mergeByTime(
        streams_.size(), watermark,
        [this](std::size_t i) {
            const Stream &s = streams_[i];
            return s.at < s.held.size() ? &s.held[s.at].record.time : nullptr;
        },
        [this](std::size_t i) {
            Stream &s = streams_[i];
            Held &h = s.held[s.at++];
            h.record.time = moments_.nanoseconds(h.record.time);
            sink_.record(s.number, h.record, h.bytes ? s.texts.data() + h.textAt : nullptr, h.bytes);
            return true;
        });
    for (Stream &s : streams_) {
        s.dropHandedOn();
        if (s.finished && s.held.empty())
            sink_.streamEnded(s.number);
    }
    std::erase_if(streams_, [](const Stream &s) { return s.finished && s.held.empty(); });
}

} // namespace pipit
