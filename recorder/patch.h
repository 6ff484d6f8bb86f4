// Puts a function of ours at the entry of one of the toolkit's, where no stub can stand: it is called inside
// its own library too.
//
// The first five bytes become a jump to a landing close by, which jumps to ours; the bytes themselves, as
// many as are whole instructions, run from a copy. Only an entry that is known is changed, and only before
// the program has other threads: five bytes cannot be changed in one step while another may be running
// through them.
//
// Threads: on the thread that builds the QCoreApplication, before there are others.
#pragma once

#include <cstddef>
#include <cstdint>

namespace pipit::recorder
{

// Bytes at a function's entry that may run from another place: whole instructions, none of which knows where
// it stands. At least five.
struct KnownEntry {
    const unsigned char *bytes;
    std::size_t count;
};

// The function as it was, or null when its entry is another one or its memory cannot be changed; it is left
// alone then.
void *patchEntry(void *function, KnownEntry entry, const void *ours);

// The same of a function that a library exports, by its mangled name. Null as well where it is not loaded, or
// other threads run.
void *patchExported(const char *library, const char *name, KnownEntry entry, const void *ours);

// Whether the program has threads beside this one.
bool otherThreadsRun();

} // namespace pipit::recorder
