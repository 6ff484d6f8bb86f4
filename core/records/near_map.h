// A map of addresses that are mostly asked for again soon: those asked for last are found without hashing.
//
// Threads: one at a time. 0 stands for "not there".
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <unordered_map>

namespace pipit
{

class NearMap
{
public:
    std::uint32_t find(std::uint64_t key) const
    {
        Near &n = near_[nearOf(key)];
        if (n.key == key)
            return n.value;
        const auto it = all_.find(key);
        n = {key, it == all_.end() ? 0 : it->second};
        return n.value;
    }
    void set(std::uint64_t key, std::uint32_t value)
    {
        all_[key] = value;
        near_[nearOf(key)] = {key, value};
    }
    std::size_t size() const { return all_.size(); }
    void clear()
    {
        near_ = {};
        all_.clear();
    }

private:
    struct Near {
        std::uint64_t key = 0;
        std::uint32_t value = 0;
    };
    static constexpr std::size_t nearCount = 64;
    static std::size_t nearOf(std::uint64_t k) { return (k >> 4 ^ k >> 10) % nearCount; }
    mutable std::array<Near, nearCount> near_;
    std::unordered_map<std::uint64_t, std::uint32_t> all_;
};

} // namespace pipit
