// What the parts of the wiring check share. Inner; include findings.h instead.
//
// Threads: one check belongs to one thread.
#pragma once

#include "core/findings/findings.h"
#include "core/findings/twice.h"
#include "core/project/reach.h"
#include "core/project/references.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <functional>

namespace pipit
{

// What the user's code does with members: name → functions called on it.
struct CodeUse {
    QHash<QString, QSet<QString>> calls;
    QSet<QString> connected; // names in a connect() by hand
    QSet<QString> mentioned;
    QHash<QString, QList<Definition>> definitions; // by file
    QHash<QString, QString> code;                  // by file, comments and texts blank
    QHash<QString, Problem> unreadable;
    bool does(const QString &name, std::initializer_list<const char *> functions) const;
};

class Checker
{
public:
    Checker(const Project &project, UserFiles &files);
    QList<Finding> run();

private:
    using Severity = Finding::Severity;
    // A connection from one of its sources.
    struct One {
        const Connection *c;
        QString source;
    };
    // Of one connection those of its sources that something is to be said of, once for all of them.
    struct Group {
        const Connection *c;
        QStringList sources;
        QString where() const { return sources.size() == 1 ? sources.first() : c->id; }
        QString words() const; // "deckLane1", or "12 of #cell_* (cell_0, cell_1, cell_2 …)"
        bool many() const { return sources.size() > 1; }
    };
    // No source twice, in the order of the connections.
    QList<Group> groups(const std::function<bool(const One &)> &concerns) const;
    Finding &say(const char *id, Severity severity, const QString &where, const QString &message,
                 const QString &fix, int line);
    void readCode(UserFiles &files);

    // findings.cpp
    void connections();
    void duplicates(const Connection &c, const QStringList &sources);
    void connection(const Connection &c, const QStringList &sources);
    void target(const Connection &c, const QString &source, const SignalEntry *signal,
                const EventEntry *event);
    // findings_bodies.cpp
    void handlers();
    void handlerBody(const Handler &h);
    void missingBody(const Handler &h, const HandlerFunction &f);
    const Definition *misspelt(const Handler &h, const QString &function, const QString &owner) const;
    void bodySignature(const Handler &h, const HandlerFunction &f, const QString &file, const Definition &d);
    void neverHandled(const Handler &h, const QString &file, const Definition &d);
    // findings_objects.cpp
    void sources();
    void source(const QString &name, const QString &cls, const WidgetNode *widget, const ObjectNode *object,
                int line);
    void timers();
    void names();
    void references();
    void windows();
    // findings_events.cpp
    void keys();
    void drags();
    void pairs();
    void enabledness();

    // findings_works.cpp
    void works();
    void usedBesides(const Handler &h, const QString &member);

    bool hears(const QString &source, const QString &what) const
    {
        return heard_.value(source).contains(what);
    }
    bool called(const QString &object, const QString &member) const
    {
        return slots_.value(object).contains(member);
    }

    const Project &p_;
    Reach reach_;
    Twice twice_;
    CodeUse code_;
    QList<One> ones_;
    QHash<QString, QSet<QString>> heard_;               // source → signals and events connected
    QHash<QString, QSet<QString>> slots_;               // object → slots that connections call
    QSet<QString> calledHandlers_, opened_, functions_; // `functions_`: of all handlers
    QList<Reference> references_;
    QList<Finding> out_;
};

} // namespace pipit
