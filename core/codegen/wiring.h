// The generated wiring: connections as code, one line each, and which line is which connection.
//
// Nothing is connected in a constructor of the user's: the wiring is done by a class derived from
// it, after full construction, and undone by that class's destructor before anything of the
// user's is destroyed. So no signal ever reaches a half-made window.
#pragma once

#include "core/project/store.h"

namespace pipit
{

struct WiringLine {
    int line = 0;
    QString connection, handler, name, source, signal;
};

struct WiringText {
    QByteArray header, source;
    QList<WiringLine> lines;
};

Result<WiringText> wiringFor(const Project &project, const ProjectPlace &place);

// "key Return", "button left" as a C++ condition on `e`, or why it is none.
Result<QByteArray> conditionCode(const QString &when, const QString &eventClass);

} // namespace pipit
