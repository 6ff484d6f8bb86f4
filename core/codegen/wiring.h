// The generated wiring: connections as code, and which line is which connection.
//
// Nothing is connected in a constructor of the user's: the wiring is done by a class derived from
// it, after full construction, and undone by that class's destructor before anything of the
// user's is destroyed. So no signal ever reaches a half-made window. A connection that is switched
// off while the program runs is taken out by wiring everything anew: order stays as it is.
//
// Threads: any; works on copies.
#pragma once

#include "core/project/place.h"
#include "core/project/reach.h"

namespace pipit
{

struct WiringLine {
    int line = 0; // of the window's wiring file
    QString connection, handler, name, source, signal;
};

struct WiringText {
    QByteArray header, source;
    QList<WiringLine> lines;
};

// The wiring of one window, by its index. Errors name the connection and its line.
Result<WiringText> wiringFor(const Reach &reach, int window, const ProjectPlace &place);

} // namespace pipit
