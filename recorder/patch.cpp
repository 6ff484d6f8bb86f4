#include "recorder/patch.h"

#include "recorder/shim/modules.h"

#include <cstring>
#include <dirent.h>
#include <dlfcn.h>
#include <sys/mman.h>
#include <unistd.h>

namespace pipit::recorder
{

namespace
{

constexpr std::size_t jumpBytes = 5, farJumpBytes = 14;

void jumpTo(unsigned char *at, const void *target) // 14 bytes: jmp *0(%rip); address
{
    const unsigned char code[6] = {0xff, 0x25, 0, 0, 0, 0};
    std::memcpy(at, code, sizeof code);
    std::memcpy(at + sizeof code, &target, sizeof target);
}

// A page within reach of a 32-bit jump from `near`, or null.
unsigned char *pageNear(std::uintptr_t near)
{
    const auto page = std::uintptr_t(sysconf(_SC_PAGESIZE));
    for (std::uintptr_t away = 1 << 20; away < (std::uintptr_t(1) << 30); away += 1 << 20) {
        for (const std::uintptr_t hint : {near - away, near + away}) {
            void *p = mmap(reinterpret_cast<void *>(hint & ~(page - 1)), page, PROT_READ | PROT_WRITE,
                           MAP_PRIVATE | MAP_ANONYMOUS | MAP_FIXED_NOREPLACE, -1, 0);
            if (p != MAP_FAILED)
                return static_cast<unsigned char *>(p);
        }
    }
    return nullptr;
}

} // namespace

void *patchEntry(void *function, KnownEntry entry, const void *ours)
{
    auto *at = static_cast<unsigned char *>(function);
    if (entry.count < jumpBytes || std::memcmp(at, entry.bytes, entry.count) != 0)
        return nullptr;
    const auto address = reinterpret_cast<std::uintptr_t>(at);
    unsigned char *landing = pageNear(address);
    if (!landing)
        return nullptr;
    const auto page = std::uintptr_t(sysconf(_SC_PAGESIZE));
    jumpTo(landing, ours);
    unsigned char *copy = landing + 32;
    static_assert(farJumpBytes <= 32);
    std::memcpy(copy, at, entry.count);
    jumpTo(copy + entry.count, at + entry.count);
    if (mprotect(landing, page, PROT_READ | PROT_EXEC) != 0) {
        munmap(landing, page);
        return nullptr;
    }
    // The page that the jump lies in, or the two: the one behind may be none of the function's.
    void *from = reinterpret_cast<void *>(address & ~(page - 1));
    const std::size_t size = ((address + jumpBytes - 1) & ~(page - 1)) + page - (address & ~(page - 1));
    if (mprotect(from, size, PROT_READ | PROT_WRITE | PROT_EXEC) != 0) {
        munmap(landing, page);
        return nullptr;
    }
    const auto distance = std::int32_t(landing - (at + jumpBytes));
    unsigned char jump[jumpBytes] = {0xe9};
    std::memcpy(jump + 1, &distance, sizeof distance);
    std::memcpy(at, jump, jumpBytes);
    mprotect(from, size, PROT_READ | PROT_EXEC);
    return copy;
}

void *patchExported(const char *library, const char *name, KnownEntry entry, const void *ours)
{
    pipit_module module{};
    if (otherThreadsRun() || !pipit_module_named(library, &module))
        return nullptr;
    void *handle = dlopen(module.file, RTLD_LAZY | RTLD_NOLOAD);
    void *function = handle ? dlsym(handle, name) : nullptr;
    if (handle)
        dlclose(handle);
    return function ? patchEntry(function, entry, ours) : nullptr;
}

bool otherThreadsRun()
{
    int threads = 0;
    if (DIR *folder = opendir("/proc/self/task")) {
        while (const dirent *e = readdir(folder))
            threads += e->d_name[0] != '.';
        closedir(folder);
    }
    return threads != 1;
}

} // namespace pipit::recorder
