// A look at every object that a window reaches: see Acts::look.
//
// Threads: the main thread, while nothing of the program runs. Only functions of the toolkit's own are
// called, none that a program may have overridden: no model is asked, nothing is painted.
#pragma once

#include "recorder/acts.h"

namespace pipit::recorder
{

Looked lookAtObjects(const LookAt &how);

// The numbers that an object's state is made of: the state has changed if they have. `z` is its place among
// its parent's children.
struct StateNumbers {
    std::uint32_t is = 0; // link::StateBit
    int x = 0, y = 0, width = 0, height = 0, z = 0;
    int focus = 0, menu = 0, context = 0, every = 0;
    long long value = 0;
    bool hasValue = false, own = false;
    const void *in = nullptr, *proxy = nullptr, *model = nullptr;
    std::size_t text = 0, caption = 0, keys = 0, filters = 0, limits = 0;
    bool operator==(const StateNumbers &) const = default;
};
StateNumbers numbersOf(QObject *object, int z);
// As link/facts.h says.
std::string stateText(QObject *object, const StateNumbers &numbers);
bool isTold(const QObject *object); // it is of a kind whose state is told

} // namespace pipit::recorder
