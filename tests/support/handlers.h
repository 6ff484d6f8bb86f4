// Handlers of many forms, and whether a window does the same once they were moved.
#pragma once

#include "core/moves/move.h"

#include <QStringList>

namespace pipit::tests
{

// One of tests/data/handlers/*.txt: after "== name" come "-- members:", "-- before:", "-- single" and "--
// alone", then the body.
struct HandlerCase {
    QString name, members, before, body;
    bool single = false; // triggered once at a time
    bool alone = false;  // nothing else is added to its list meanwhile
};
QList<HandlerCase> handlerCases(const QString &file);

// A window that has it, behind a button, and says what everything came to whenever it is asked.
Workspace deskFor(const HandlerCase &one, const QString &folder);

struct HandlerVerdict {
    bool moved = false;  // or refused, with
    QStringList reasons; // why
    bool same = false;   // of what was moved: under every play the same came of it
    bool back = false;   // and once it was put back into one function
    QString wrong;       // what went wrong, or differs
    QString code;        // what came out
};
HandlerVerdict judgeHandler(const HandlerCase &one, Shape shape, unsigned seed, int rounds);

} // namespace pipit::tests
