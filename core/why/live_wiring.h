// The wiring of a program that was not composed here, as it lives: its objects, what is connected, and its
// handlers with what they did.
//
// Threads: one at a time, off the event loop; calls that were counted are not counted again.
#pragma once

#include "core/why/wiring.h"

#include <vector>

namespace pipit
{

struct LiveObject {
    std::uint64_t address = 0;
    QString name;  // as it is asked for
    QString words; // "boardButton, a QPushButton saying Board"
    int depth = 0;
    bool visible = false, enabled = false;
    bool silent = false;      // a button that nobody listens to
    std::uint64_t window = 0; // the address of its window; 0: it is no widget
    QRect at;                 // what is shown of it, in its window; empty where it is not
};

struct LiveSentence {
    WiringRow wire;
    std::uint64_t calls = 0;
    std::int64_t worst = 0; // ns
};

struct LiveHandler {
    QString name, file;
    int line = 0;
    bool onLoop = false, onTimer = false, inBackground = false; // where it ran; none: it was not called
    std::uint64_t calls = 0;
    std::int64_t worst = 0; // ns
};

struct LiveBoard {
    std::vector<LiveObject> objects; // parents before children
    std::vector<LiveSentence> sentences;
    std::vector<LiveHandler> handlers;
    std::size_t more = 0; // objects that are left out
    bool known = false;   // the recording has objects
};

class LiveWiring
{
public:
    LiveBoard read(const TraceModel &trace, Handlers &handlers);

private:
    struct Counted {
        std::uint64_t calls = 0;
        std::int64_t worst = 0;
        bool onLoop = false, elsewhere = false;
    };
    void count(const TraceModel &trace, Handlers &handlers);

    QHash<std::uint32_t, Counted> counted_; // by link
    std::vector<std::uint32_t> next_;       // rows, by thread
};

} // namespace pipit
