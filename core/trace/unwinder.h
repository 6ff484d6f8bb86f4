// From a copy of registers and stack to frames, by the unwind tables of the modules on disk.
//
// Threads: one at a time, never an event loop: the first question reads the tables. One for each process;
// its modules are looked at while it lives.
#pragma once

#include "core/trace/stacks.h"

#include <array>
#include <functional>
#include <memory>
#include <sys/types.h>

namespace pipit
{

class Unwinder
{
public:
    explicit Unwinder(pid_t pid);
    ~Unwinder();

    // `registers` as DWARF numbers them, rip last; `read` gives the word at an address of the stack.
    using Read = std::function<bool(std::uint64_t address, std::uint64_t *word)>;
    std::vector<StackFrame> frames(const std::array<std::uint64_t, 17> &registers, const Read &read);

    static constexpr std::size_t mostFrames = 256;

private:
    struct Private;
    std::unique_ptr<Private> d;
};

} // namespace pipit
