// A sequence that only grows, and whose elements never move.
//
// Threads: one writer; any number of readers, without locks. An element that `size()` counts is
// complete, and stays as it was.
#pragma once

#include <array>
#include <atomic>
#include <bit>
#include <cstdint>
#include <utility>

namespace pipit
{

// Block k holds twice as many elements as block k - 1.
template <class T, unsigned firstBits = 4> class AppendOnly
{
public:
    AppendOnly() = default;
    AppendOnly(const AppendOnly &) = delete;
    AppendOnly &operator=(const AppendOnly &) = delete;
    ~AppendOnly()
    {
        for (auto &b : blocks_)
            delete[] b.load(std::memory_order_relaxed);
    }

    std::uint32_t size() const { return size_.load(std::memory_order_acquire); }
    const T &operator[](std::uint32_t i) const { return at(i); }
    // The writer's, for elements that readers read by atomics.
    T &mutableAt(std::uint32_t i) { return at(i); }

    // Its index.
    std::uint32_t add(T value)
    {
        const std::uint32_t i = size_.load(std::memory_order_relaxed);
        const unsigned k = blockOf(i);
        if (!blocks_[k].load(std::memory_order_relaxed))
            blocks_[k].store(new T[std::size_t(1) << (firstBits + k)](), std::memory_order_release);
        at(i) = std::move(value);
        size_.store(i + 1, std::memory_order_release);
        return i;
    }

private:
    static unsigned blockOf(std::uint32_t i) { return unsigned(std::bit_width((i >> firstBits) + 1u)) - 1; }
    T &at(std::uint32_t i) const
    {
        const unsigned k = blockOf(i);
        return blocks_[k].load(std::memory_order_acquire)[i - (((1u << k) - 1) << firstBits)];
    }
    std::array<std::atomic<T *>, 32 - firstBits> blocks_{};
    std::atomic<std::uint32_t> size_{0};
};

} // namespace pipit
