#include "recorder/callers.h"

#include "recorder/hooks.h"
#include "recorder/shim/modules.h"
#include "recorder/thread_log.h"

#include <algorithm>
#include <cstring>
#include <iterator>
#include <pthread.h>
#include <sys/resource.h>
#include <unistd.h>

extern "C" void *__libc_stack_end; // the loader's: above what main() calls

namespace pipit::recorder
{

namespace
{

template <class T> T read(const unsigned char *at)
{
    T value;
    std::memcpy(&value, at, sizeof value);
    return value;
}

// Whether so many bytes of a loaded module are there. The bytes before a return address need not be an
// instruction, nor what they name an address.
bool isLoaded(const void *at, std::size_t size)
{
    const auto from = reinterpret_cast<std::uint64_t>(at);
    pipit_module first, last;
    return pipit_module_at(from, &first) && pipit_module_at(from + size - 1, &last) &&
           first.base == last.base;
}

// What the slot of a linked function holds that is called or jumped to through it: "… *rel32(%rip)".
const void *throughSlot(const unsigned char *rel)
{
    const unsigned char *slot = rel + 4 + read<std::int32_t>(rel);
    return isLoaded(slot, sizeof(void *)) ? read<const void *>(slot) : nullptr;
}

struct Stack {
    std::uintptr_t low = 0, high = 0;
};

Stack stackOfThisThread()
{
    Stack is;
    if (getpid() == gettid()) { // of the first thread, the system's list of all areas would have to be read
        constexpr rlim_t usual = 8u << 20;
        rlimit most{};
        const bool limited = getrlimit(RLIMIT_STACK, &most) == 0 && most.rlim_cur < 8 * usual;
        is.high = reinterpret_cast<std::uintptr_t>(__libc_stack_end);
        is.low = is.high - (limited ? most.rlim_cur : usual);
        return is;
    }
    pthread_attr_t attributes;
    void *base = nullptr;
    std::size_t size = 0;
    if (pthread_getattr_np(pthread_self(), &attributes) == 0) {
        pthread_attr_getstack(&attributes, &base, &size);
        pthread_attr_destroy(&attributes);
    }
    is.low = reinterpret_cast<std::uintptr_t>(base);
    is.high = is.low + size;
    return is;
}

// Whether it lies in what is in use of this thread's stack. A function may run on another, as a signal
// handler or a fiber does: of that nothing is known.
bool onThisStack(const void *p)
{
    static thread_local Stack stack;
    if (!stack.high)
        stack = stackOfThisThread();
    const auto here = reinterpret_cast<std::uintptr_t>(__builtin_frame_address(0));
    const auto a = reinterpret_cast<std::uintptr_t>(p);
    return here > stack.low && a >= here && a + 16 <= stack.high && a % 8 == 0;
}

// Where the function begins that the address lies in, by the table that the loader has for unwinding stacks;
// 0 where that has another form. Source: Linux Standard Base, "The .eh_frame_hdr section".
std::uint64_t beginOf(std::uint64_t address)
{
    struct Header {
        unsigned char version, pointer, count, table; // how each is encoded
        std::int32_t frames;
        std::uint32_t entries;
    };
    struct Entry {
        std::int32_t code, frame; // from the header's beginning
    };
    dl_find_object object;
    if (_dl_find_object(reinterpret_cast<void *>(address), &object) != 0 || !object.dlfo_eh_frame)
        return 0;
    const auto *header = static_cast<const Header *>(object.dlfo_eh_frame);
    if (header->version != 1 || header->pointer != 0x1b || header->count != 0x03 || header->table != 0x3b)
        return 0;
    const auto base = reinterpret_cast<std::uint64_t>(header);
    const auto *first = reinterpret_cast<const Entry *>(header + 1), *last = first + header->entries;
    const auto *after = std::upper_bound(first, last, address, [base](std::uint64_t at, const Entry &e) {
        return at < base + std::uint64_t(std::int64_t(e.code));
    });
    return after == first ? 0 : base + std::uint64_t(std::int64_t(std::prev(after)->code));
}

} // namespace

const void *calledBefore(std::uint64_t place)
{
    constexpr std::uint64_t longest = 6;
    if (!isCode(place - 1) || !isCode(place - longest))
        return nullptr;
    const auto *after = reinterpret_cast<const unsigned char *>(place);
    if (after[-6] == 0xff && after[-5] == 0x15)
        return throughSlot(after - 4);
    if (after[-5] != 0xe8)
        return nullptr;
    const unsigned char *function = after + read<std::int32_t>(after - 4), *entry = function;
    constexpr std::size_t most = 18;
    if (!isCode(reinterpret_cast<std::uint64_t>(entry)) || !isLoaded(entry, most))
        return nullptr;
    if (read<std::uint32_t>(entry) == 0xfa1e0ff3) // endbr64
        entry += 4;
    if (entry[0] == 0x41 && entry[1] == 0xbb) // mov $n,%r11d, as mold has it
        entry += 6;
    if (*entry == 0xf2) // bnd
        ++entry;
    return entry[0] == 0xff && entry[1] == 0x25 ? throughSlot(entry + 2) : function;
}

Frames framesFrom(const void *frame)
{
    Frames outer{};
    const void *at = frame;
    for (std::uint64_t &place : outer) {
        if (!onThisStack(at))
            break;
        const auto *words = static_cast<const void *const *>(at);
        place = reinterpret_cast<std::uint64_t>(words[1]);
        if (words[0] <= at)
            break;
        at = words[0];
    }
    return outer;
}

Frames callersOf(std::uint64_t place, const void *frame)
{
    Frames outer = framesFrom(frame);
    std::uint64_t inner = place;
    for (std::uint64_t &caller : outer) {
        const auto function = caller && inner ? reinterpret_cast<std::uint64_t>(calledBefore(caller)) : 0;
        if (!function || function != beginOf(inner - 1))
            caller = 0;
        inner = caller;
    }
    return outer;
}

Whose whoCalled(ThreadLog *log, std::uint64_t &place, const void *stub)
{
    KnownCall &k = log->knownCalls[(place >> 2 ^ place >> 9) % std::size(log->knownCalls)];
    if (k.place != place)
        k = {place, calledBefore(place)};
    const std::uint64_t by =
        k.called == stub ? place : reinterpret_cast<std::uint64_t>(k.called); // that one jumped
    if (k.called != stub)
        place = 0;
    return !by ? Whose::Unknown : inToolkit(by) ? Whose::Toolkits : Whose::Own;
}

} // namespace pipit::recorder
