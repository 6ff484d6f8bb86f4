// The generated wiring: connections as code, and which line is which connection.
//
// Nothing is connected in a constructor of the user's: the wiring is done by a class derived from
// it, after full construction, and undone by that class's destructor before anything of the
// user's is destroyed. So no signal ever reaches a half-made window. A connection that is switched
// off is not made. The code is what one would write by hand, and holds nothing for Pipit's sake.
//
// Threads: any; works on copies.
#pragma once

#include "core/project/place.h"
#include "core/project/reach.h"

namespace pipit
{

struct WiringLine {
    int first = 0, last = 0; // of the window's wiring file
    QString connection, handler, name, source, signal;
    bool helper = false; // looks whether the handler is called; no call of it
};

struct WiringText {
    QByteArray header, source;
    QList<WiringLine> lines; // a later one counts where two lie over each other
};

// The wiring of one window, by its index. `overloaded` are functions of the user's class that have
// the name of a handler. Errors name the connection and its line.
Result<WiringText> wiringFor(const Reach &reach, int window, const ProjectPlace &place,
                             const QSet<QString> &overloaded = {});

} // namespace pipit
