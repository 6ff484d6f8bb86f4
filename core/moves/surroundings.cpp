#include "core/moves/surroundings.h"

#include <QRegularExpression>

namespace pipit
{

namespace
{

// All words of a text.
QSet<QString> wordsOf(const QStringList &texts)
{
    static const QRegularExpression word("[A-Za-z_]\\w*");
    QSet<QString> words;
    for (const QString &t : texts)
        for (auto it = word.globalMatch(t); it.hasNext();)
            words.insert(it.next().captured());
    return words;
}

// These functions and what only they reach.
QSet<QString> ownOf(const CodeUnit &unit, QSet<QString> own, const Surroundings &around)
{
    for (bool more = true; more;) {
        more = false;
        for (int i = 0; i < unit.decls.size(); ++i) {
            const CodeDecl &d = unit.decls[i];
            const QSet<QString> callers = around.callers.value(i);
            if (!unit.functionOf(i) || own.contains(d.qualified) || d.isVirtual || d.isSignal ||
                callers.isEmpty() || !own.contains(callers) || around.heard.contains("()" + d.name))
                continue;
            own.insert(d.qualified);
            more = true;
        }
    }
    return own;
}

// What nothing but constructors calls is done before anything is triggered.
QSet<QString> constructingOf(const CodeUnit &unit, const Surroundings &around, const QSet<QString> &words)
{
    QSet<QString> all;
    QHash<QString, QSet<QString>> callers;
    for (const MemberUse &u : unit.uses) {
        if (u.constructs)
            all.insert(u.function);
        for (const QString &name : u.called)
            callers[name].insert(u.function);
    }
    for (bool more = true; more;) {
        more = false;
        for (auto it = callers.constBegin(); it != callers.constEnd(); ++it) {
            const QString name = it.key().section("::", -1);
            if (all.contains(it.key()) || !all.contains(*it) || words.contains(name) ||
                around.heard.contains("()" + name))
                continue;
            all.insert(it.key());
            more = true;
        }
    }
    return all;
}

} // namespace

Surroundings surroundingsOf(const CodeUnit &unit, const QString &self, const QStringList &others,
                            const QSet<QString> &heard, const QSet<QString> &queueMates)
{
    Surroundings out;
    out.heard = heard;
    for (const MemberUse &u : unit.uses) {
        for (const QString &name : u.heard)
            out.heard.insert(name);
        for (const int called : u.calls)
            out.callers[called].insert(u.function);
    }
    const QSet<QString> words = wordsOf(others);
    for (int i = 0; i < unit.decls.size(); ++i) {
        const CodeDecl &d = unit.decls[i];
        if (!d.own || !words.contains(d.name))
            continue;
        if (d.kind == CodeDecl::Field || d.kind == CodeDecl::Global)
            out.usedElsewhere.insert(i);
        else if (d.kind == CodeDecl::Method || d.kind == CodeDecl::FreeFunction)
            out.callers[i].insert("…");
    }
    out.shared = out.usedElsewhere;
    const QSet<QString> own = ownOf(unit, {self}, out), ours = ownOf(unit, QSet{self} + queueMates, out);
    const QSet<QString> constructing = constructingOf(unit, out, words);
    for (const MemberUse &u : unit.uses) {
        if (u.constructs || constructing.contains(u.function))
            continue;
        // A function that is written within another one belongs to it.
        const QString outer = u.function.section(" lambda ", 0, 0);
        const auto belongs = [&](const QSet<QString> &to) {
            return to.contains(u.function) || (to.contains(outer) && outer != u.function);
        };
        for (const int d : u.decls) {
            if (!belongs(own)) {
                out.shared.insert(d);
                out.users[d].insert(outer);
            }
            if (!belongs(ours))
                out.usedElsewhere.insert(d);
        }
    }
    return out;
}

} // namespace pipit
