// Entries beside a thread's rows, of which there may be few or very many: pages in the trace's memory, small
// ones first. The count is shown after the entry is complete, and entries never move.
//
// Threads: one writer; any number of readers, without locks.
#pragma once

#include "core/spans/append_only.h"
#include "core/spans/memory.h"

#include <atomic>
#include <bit>
#include <cstdint>
#include <type_traits>

namespace pipit
{

template <class T> class Pages
{
public:
    static_assert(std::is_trivially_destructible_v<T> && alignof(T) <= 8);
    explicit Pages(SpanMemory &memory) : memory_(memory) {}

    std::uint32_t size() const { return count_.load(std::memory_order_acquire); }
    const T &operator[](std::uint32_t i) const { return pages_[pageOf(i)][i - firstOf(pageOf(i))]; }
    // Makes sure that there is room for one more; false when there is no memory.
    [[nodiscard]] bool reserve()
    {
        const std::uint32_t page = pageOf(count_.load(std::memory_order_relaxed));
        if (page < pages_.size())
            return true;
        auto *at = static_cast<T *>(memory_.take(std::size_t(firstOf(page + 1) - firstOf(page)) * sizeof(T)));
        if (at)
            pages_.add(at);
        return at != nullptr;
    }
    // After a `reserve`.
    void add(const T &value)
    {
        const std::uint32_t i = count_.load(std::memory_order_relaxed), page = pageOf(i);
        pages_[page][i - firstOf(page)] = value;
        count_.store(i + 1, std::memory_order_release);
    }

private:
    static constexpr std::uint32_t firstPage = 16, laterPage = 4096;
    static constexpr std::uint32_t small = 8; // pages of 16, 32, … 2048
    static constexpr std::uint32_t inSmall = firstPage * ((1u << small) - 1);
    static std::uint32_t pageOf(std::uint32_t i)
    {
        return i < inSmall ? std::uint32_t(std::bit_width(i / firstPage + 1)) - 1
                           : small + (i - inSmall) / laterPage;
    }
    static std::uint32_t firstOf(std::uint32_t page)
    {
        return page < small ? firstPage * ((1u << page) - 1) : inSmall + (page - small) * laterPage;
    }

    SpanMemory &memory_;
    AppendOnly<T *> pages_;
    std::atomic<std::uint32_t> count_{0};
};

} // namespace pipit
