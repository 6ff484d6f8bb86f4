// What would do where a handler is not moved as it stands, and what its code shows that is meant.
#include "core/moves/planner.h"

#include <algorithm>

namespace pipit
{

// Through helpers that nothing but handlers reach; empty where others use it as well.
QStringList Planner::handlersThatUse(const CodeUnit &unit, int decl, const Surroundings &around) const
{
    QHash<QString, QString> handlers; // by function
    for (const Handler &h : q_.project.handlers)
        if (h.kind == HandlerKind::Signal && h.shape != Shape::Steps)
            for (const HandlerFunction &f : h.functions())
                handlers.insert(f.isFree() ? f.name : q_.project.windowFor(h).className + "::" + f.name,
                                h.name);
    QHash<QString, QSet<QString>> callers;
    for (auto it = around.callers.constBegin(); it != around.callers.constEnd(); ++it)
        callers[unit.decls[it.key()].qualified] += *it;
    QStringList names;
    QSet<QString> seen;
    QStringList open(around.users[decl].begin(), around.users[decl].end());
    while (!open.isEmpty()) {
        const QString function = open.takeFirst();
        if (seen.contains(function))
            continue;
        seen.insert(function);
        if (const QString h = handlers.value(function); !h.isEmpty()) {
            if (h != handler_.name)
                names << h;
            continue;
        }
        const QSet<QString> more = callers.value(function);
        if (more.isEmpty())
            return {};
        open << QStringList(more.begin(), more.end());
    }
    names.sort();
    names.removeDuplicates();
    return names;
}

// Members that other handlers use as well: in one queue they never work at the same time.
void Planner::offerQueue(const CutQuestion &question, const Surroundings &around)
{
    QStringList with;
    QString queue;
    for (const Effect &e : question.effects.of(question.function.body)) {
        const CodeDecl *d = question.unit.decl(e.decl);
        if (!d || d->kind != CodeDecl::Field || !around.shared.contains(e.decl) ||
            (e.kind != Effect::ReadsShared && e.kind != Effect::WritesShared))
            continue;
        const QStringList names = handlersThatUse(question.unit, e.decl, around);
        if (names.isEmpty())
            continue;
        with << names;
        if (queue.isEmpty() || e.kind == Effect::WritesShared)
            queue = d->name;
    }
    if (with.isEmpty())
        return;
    while (queue.endsWith('_'))
        queue.chop(1);
    with.sort();
    with.removeDuplicates();
    for (const QString &name : std::as_const(with)) // there may be one by now
        if (const Handler *h = q_.project.handler(name); h->isQueued())
            queue = h->queue;
    QStringList move = with;
    move.removeIf([&](const QString &name) { return q_.project.handler(name)->queue == queue; });
    const QString names = with.join(with.size() == 2 ? " and " : ", ");
    move_.offers.append(
        {{},
         queue,
         move,
         QStringLiteral("%1 %2 the same object. In one queue they run one after the other, and own it.")
             .arg(names, with.size() == 1 ? "uses" : "use"),
         true});
}

void Planner::offerAgain(const CutQuestion &question, const Cut &cut)
{
    if (!q_.again.isEmpty())
        return;
    if (!cut.refused.isEmpty()) {
        CutQuestion other{question.unit,    question.effects, question.function, question.text,
                          question.trusted, question.shared,  question.heard,    false,
                          question.callers, "ignore"};
        if (cutForBackground(other).refused.isEmpty())
            move_.offers.append(
                {"ignore", {}, {}, "It can be moved if triggers during the work are ignored.", true});
        return;
    }
    // A button that is disabled meanwhile.
    QSet<QString> sources, typed;
    static const QStringList keystrokes = {"textChanged", "textEdited", "valueChanged"};
    for (const Connection &c : q_.project.connections)
        if (c.callsHandler(handler_.name)) {
            sources.insert(c.from);
            if (keystrokes.contains(c.signal.section('(', 0, 0)))
                typed.insert(c.from);
        }
    bool adds = false;
    for (const PlacedStatement &s : cut.statements)
        for (const Effect &e : question.effects.of(*s.node)) {
            const CodeDecl *d = question.unit.decl(e.decl);
            adds = adds || (e.kind == Effect::WritesWidget && e.method.startsWith("add"));
            if (s.place == Stage::Take && d && sources.contains(d->name) &&
                (e.method == "setEnabled" || e.method == "setDisabled"))
                move_.offers.append(
                    {"ignore",
                     {},
                     {},
                     d->name + " is disabled during the work, so ignoring triggers may be intended.",
                     false});
        }
    if (!typed.isEmpty() && !adds && move_.offers.isEmpty())
        move_.offers.append(
            {"restart",
             {},
             {},
             *typed.begin() + " signals every change, so restarting the work may be intended.",
             false});
}

void Planner::offer(const CutQuestion &question, const Cut &cut, const Surroundings &around)
{
    if (!cut.refused.isEmpty() && q_.queue.isEmpty())
        offerQueue(question, around);
    offerAgain(question, cut);
}

} // namespace pipit
