// Handlers of many forms, and whether a window does the same once they were moved.
#pragma once

#include "core/moves/move.h"

#include <QStringList>
#include <QTemporaryDir>

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
// With no rounds it is only planned.
HandlerVerdict judgeHandler(const HandlerCase &one, Shape shape, unsigned seed, int rounds);

// A handler by its name; the program ends where there is none.
HandlerCase caseOf(const QString &file, const QString &name);
HandlerCase bodyCase(const QString &body, const QString &members = {}, const QString &before = {});

// A window whose code moves or does not, without being run.
class Desk
{
public:
    explicit Desk(const HandlerCase &one) : workspace(deskFor(one, dir_.path() + "/desk")) {}
    Result<Move> plan(Shape shape = Shape::Background, const QSet<int> &trusted = {},
                      const QString &again = {});
    QString code() { return *workspace.files().text("desk.cpp"); }

private:
    QTemporaryDir dir_;

public:
    Workspace workspace;
};

} // namespace pipit::tests
