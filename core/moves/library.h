// What functions of libraries do, as far as moving code to another thread is concerned.
//
// Threads: any. Sources: Qt 6's class documentation (reentrant and thread-safe marks, "Threads and
// QObjects"); POSIX.1-2017 section 2.9.1 for functions that need not be thread-safe.
#pragma once

#include "core/moves/effects.h"

namespace pipit
{

// Unknown: it is known to act on the whole program. Unlisted: nothing is known of it.
enum class LibraryCall { Harmless, Writes, Asks, Pumps, Unknown, Unlisted };

// A function that is no method of an object, or a static one.
LibraryCall libraryFunction(const CodeUnit &unit, const CodeDecl &function);
// Whether a method whose class lives on the loop waits there for a person or runs a loop of its own.
bool waitsForAPerson(const CodeDecl &method);
// Objects that a worker may make, use and delete itself: files and the like.
bool mayLiveInWork(const CodeRecord &record);
// Classes that only the loop's thread may use although they are no QObjects: items, pixmaps.
bool livesOnTheLoop(const CodeRecord &record);
// Functions that sleep, wait, or work through a whole file, folder or picture.
bool takesLong(const CodeUnit &unit, const CodeDecl &function);
// Whether asking an object costs next to nothing, so that a loop may do it on the loop's thread: what
// widgets, items and models hold, and methods of plain values.
bool costsLittle(const CodeUnit &unit, const CodeDecl &method);

} // namespace pipit
