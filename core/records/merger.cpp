#include "core/records/merger.h"

#include <queue>

namespace pipit
{

void RecordMerger::add(int stream, const link::Slot &slot, const char *text, std::size_t bytes)
{
    const auto i = std::size_t(stream);
    if (i >= streams_.size()) {
        streams_.resize(i + 1);
        at_.resize(i + 1, 0);
    }
    streams_[i].push_back({slot, text ? std::string(text, bytes) : std::string()});
}

void RecordMerger::release(std::uint64_t watermark)
{
    using Head = std::pair<std::uint64_t, std::size_t>; // time, stream
    std::priority_queue<Head, std::vector<Head>, std::greater<>> heads;
    const auto push = [&](std::size_t i) {
        if (at_[i] < streams_[i].size() && streams_[i][at_[i]].slot.time <= watermark)
            heads.emplace(streams_[i][at_[i]].slot.time, i);
    };
    for (std::size_t i = 0; i < streams_.size(); ++i)
        push(i);
    while (!heads.empty()) {
        const std::size_t i = heads.top().second;
        heads.pop();
        // Most often one thread is busy: hand on its run without touching the heap.
        const std::uint64_t limit = heads.empty() ? watermark : std::min(watermark, heads.top().first);
        auto &held = streams_[i];
        do {
            const Held &h = held[at_[i]++];
            sink_.record(int(i), h.slot, h.text.empty() ? nullptr : h.text.data(), h.text.size());
        } while (at_[i] < held.size() && held[at_[i]].slot.time <= limit);
        push(i);
    }
    for (std::size_t i = 0; i < streams_.size(); ++i) {
        streams_[i].erase(streams_[i].begin(), streams_[i].begin() + std::ptrdiff_t(at_[i]));
        at_[i] = 0;
    }
}

} // namespace pipit
