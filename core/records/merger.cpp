#include "core/records/merger.h"

#include "core/records/merge.h"

namespace pipit
{

void RecordMerger::add(int stream, const link::Record &record, const char *text, std::size_t bytes)
{
    const auto i = std::size_t(stream);
    if (i >= streams_.size()) {
        streams_.resize(i + 1);
        at_.resize(i + 1, 0);
    }
    streams_[i].push_back({record, text ? std::string(text, bytes) : std::string()});
}

void RecordMerger::release(std::uint64_t watermark)
{
    mergeByTime(
        streams_.size(), watermark,
        [this](std::size_t i) {
            return at_[i] < streams_[i].size() ? &streams_[i][at_[i]].record.time : nullptr;
        },
        [this](std::size_t i) {
            const Held &h = streams_[i][at_[i]++];
            sink_.record(int(i), h.record, h.text.empty() ? nullptr : h.text.data(), h.text.size());
            return true;
        });
    for (std::size_t i = 0; i < streams_.size(); ++i) {
        streams_[i].erase(streams_[i].begin(), streams_[i].begin() + std::ptrdiff_t(at_[i]));
        at_[i] = 0;
    }
}

} // namespace pipit
