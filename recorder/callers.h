// Who called a function, and who called that: by the frame pointers that unoptimised code keeps, and by the
// code in front of return addresses.
//
// Threads: any; about the calling thread's own stack.
#pragma once

#include <array>
#include <cstdint>

namespace pipit::recorder
{

class ThreadLog;

// Return addresses further out, the nearest first; 0 where it is not known.
using Frames = std::array<std::uint64_t, 2>;

// As the frames say from this one on. Code that keeps no frame pointers has anything there.
Frames framesFrom(const void *frame);
// Of these only those that are sure: the code in front of each calls the function that the one before it lies
// in.
Frames callersOf(std::uint64_t place, const void *frame);

// The function that the code in front of a return address calls, also through the table of linked functions;
// null where that is not known.
const void *calledBefore(std::uint64_t returnAddress);

// Whose code called a stub. Optimised code may jump to it at its own end: then the return address is
// another's, the place is not known and becomes 0, and whose it was is known by the function that was called
// there, if that is. Each place is looked at once.
enum class Whose { Own, Toolkits, Unknown };
Whose whoCalled(ThreadLog *log, std::uint64_t &place, const void *stub);

} // namespace pipit::recorder
