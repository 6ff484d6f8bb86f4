// What a thread has told lately: a table that does not grow. What it forgets is told again, which costs a few
// records and changes nothing.
//
// Threads: one.
#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>

namespace pipit::recorder
{

class Told
{
public:
    // `room`: a power of two.
    explicit Told(std::size_t room) : mask_(room / ways - 1), keys_(std::make_unique<std::uint64_t[]>(room))
    {
    }

    bool has(std::uint64_t key) const
    {
        const std::uint64_t *bucket = bucketOf(key);
        return bucket[0] == key || bucket[1] == key || bucket[2] == key || bucket[3] == key;
    }
    // True if it was not there; what its bucket holds longest goes.
    bool add(std::uint64_t key)
    {
        if (key == 0 || has(key))
            return false;
        std::uint64_t *bucket = bucketOf(key);
        for (std::size_t i = ways - 1; i > 0; --i)
            bucket[i] = bucket[i - 1];
        bucket[0] = key;
        return true;
    }
    void remove(std::uint64_t key)
    {
        std::uint64_t *bucket = bucketOf(key);
        for (std::size_t i = 0; i < ways; ++i)
            if (bucket[i] == key)
                bucket[i] = 0;
    }

private:
    static constexpr std::size_t ways = 4;
    std::uint64_t *bucketOf(std::uint64_t key) const
    {
        return &keys_[(key * 0x9e3779b97f4a7c15u >> 40 & mask_) * ways];
    }
    std::size_t mask_;
    std::unique_ptr<std::uint64_t[]> keys_;
};

} // namespace pipit::recorder
