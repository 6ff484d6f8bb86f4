// What is shown of what cannot leave the work: values that come with the result.
#include "core/moves/cutter.h"

#include <algorithm>

namespace pipit
{

// What gives a reference to a part, and is mostly asked for its value.
static bool isAccessor(const CodeDecl &d)
{
    static const QStringList accessors = {"front", "back", "first", "last",   "begin", "end", "data",
                                          "at",    "find", "value", "rbegin", "rend",  "top"};
    return accessors.contains(d.name) && !d.own;
}

// Whether it changes nothing, though some of it could: `rows.front().name`.
bool Cutter::onlyLooks(const CodeNode &node) const
{
    bool all = true;
    node.each([&](const CodeNode &n) {
        const CodeDecl *d = unit_.decl(n.decl);
        const bool changes = d && d->kind == CodeDecl::Method && !d->isConst && !d->isStatic;
        if (n.is("method") && changes)
            all = all && isAccessor(*d);
        else if (n.is("operator") && changes)
            all = all && (n.op == "[]" || n.op == "*" || n.op == "->");
        else if (n.is("assign") || n.is("update") || n.is("lambda") || n.passes.contains('r') ||
                 n.passes.contains('p'))
            all = false;
        return all;
    });
    return all;
}

// Whether it needs something that cannot leave the work: a variable, or a member that the work has to itself.
bool Cutter::needsWork(const CodeNode &n, const QSet<int> &stuck) const
{
    if (effects_.locals(n).reads.intersects(stuck))
        return true;
    const QList<Effect> effects = q_.owned.isEmpty() ? QList<Effect>() : effects_.of(n);
    return std::any_of(effects.begin(), effects.end(),
                       [this](const Effect &e) { return q_.owned.contains(e.decl); });
}

// Whether a member that the work has to itself is changed here, rather than only looked at: `rows_.last()`.
bool Cutter::changesOwned(const CodeNode &node) const
{
    for (const Effect &e : effects_.of(node))
        if (e.kind == Effect::WritesShared && q_.owned.contains(e.decl) && !e.through.isEmpty())
            return true;
    bool changes = false;
    const auto owned = [this](const CodeNode &n) { return q_.owned.contains(Effects::root(n)); };
    node.each([&](const CodeNode &n) {
        const CodeDecl *d = unit_.decl(n.decl);
        const bool writes = d && d->kind == CodeDecl::Method && !d->isConst && !d->isStatic;
        if (n.is("method") && writes && !n.children.isEmpty() && owned(n.children.first()))
            changes = changes || !isAccessor(*d);
        else if (n.is("operator") && writes && !n.children.isEmpty() && owned(n.children.first()))
            changes = changes || !(n.op == "[]" || n.op == "*" || n.op == "->");
        else if ((n.is("assign") || n.is("update")) && !n.children.isEmpty())
            changes = changes || owned(n.children.first());
        n.eachArgument([&](const CodeNode &c, QChar how) {
            changes =
                changes || ((how == 'r' || how == 'p') && owned(c.is("address") ? c.children.value(0) : c));
        });
        return !changes;
    });
    return changes;
}

// The sub-expressions of what is shown that need it: their value is the result. False where it needs more.
bool Cutter::valuesIn(const CodeNode &n, const QSet<int> &stuck, QList<const CodeNode *> *values) const
{
    if (!needsWork(n, stuck))
        return true;
    const QList<Effect> effects = effects_.of(n);
    const Locals l = effects_.locals(n);
    if (changesOwned(n))
        return false;
    const bool reads = std::all_of(effects.begin(), effects.end(), [this](const Effect &e) {
        return q_.owned.contains(e.decl) && (e.kind == Effect::ReadsShared || e.kind == Effect::WritesShared);
    });
    // Of members no more than is needed; a method that is asked of one, as a whole.
    const CodeNode *object = n.children.isEmpty() ? nullptr : &n.children.first();
    const bool asked = n.is("member") || ((n.is("method") || n.is("operator")) && object &&
                                          q_.owned.contains(Effects::root(*object)));
    if (!effects.isEmpty() && !asked && !l.reads.intersects(stuck)) {
        QList<const CodeNode *> smaller;
        if (std::all_of(n.children.begin(), n.children.end(),
                        [&](const CodeNode &c) { return valuesIn(c, stuck, &smaller); })) {
            *values << smaller;
            return true;
        }
    }
    if (reads && n.begin >= 0 && !n.macro && n.type >= 0 && (l.writes - stuck).isEmpty() && onlyLooks(n) &&
        l.declares.isEmpty() && effects_.keptFromMoving(n.type).isEmpty()) {
        *values << &n;
        return true;
    }
    if (n.is("name") || n.is("lambda"))
        return false;
    return std::all_of(n.children.begin(), n.children.end(),
                       [&](const CodeNode &c) { return valuesIn(c, stuck, values); });
}

// Whether a value may be asked for where the statement would not have asked: `if (!rows_.isEmpty()) …
// rows_.last()`.
bool Cutter::mayAskAhead(const CodeNode &statement, const QList<const CodeNode *> &values, bool maybe) const
{
    statement.each([&](const CodeNode &n) {
        maybe = maybe || n.is("if") || n.isLoop() || n.is("switch") || n.is("conditional") ||
                n.is("lambda") || n.is("try") || isLogic(n);
        return !maybe;
    });
    const auto isSure = [this](const CodeNode &value) {
        bool sure = true;
        value.each([&](const CodeNode &n) {
            const CodeDecl *d = unit_.decl(n.decl);
            if (n.is("method") || n.is("call"))
                sure = sure && d && !d->own && !isAccessor(*d);
            else if (n.is("operator") || n.is("index") || n.is("deref"))
                sure = sure && !(n.op == "[]" || n.op == "*" || n.op == "->") && !n.is("index") &&
                       !n.is("deref");
            return sure;
        });
        return sure;
    };
    return !maybe || std::all_of(values.begin(), values.end(), [&](const CodeNode *v) { return isSure(*v); });
}

// What is shown and needs something which cannot leave the work comes as a value with the result.
void Cutter::keepOutOfShow()
{
    QSet<int> stuck;
    for (int i = 0; i < pieces_.size(); ++i)
        if (out_.statements[i].place == Stage::Work)
            for (const int v : pieces_[i].locals.declares)
                if (const CodeDecl *d = unit_.decl(v);
                    d && !isDuplicated(v) && !effects_.keptFromMoving(d->type).isEmpty())
                    stuck.insert(v);
    bool leaves = false; // what follows may not be reached
    for (int i = 0; i < pieces_.size(); ++i) {
        const bool maybe = leaves;
        leaves = leaves || (out_.statements[i].place == Stage::Show && pieces_[i].returns);
        QList<const CodeNode *> values;
        if (out_.statements[i].place != Stage::Show || !needsWork(*pieces_[i].node, stuck) ||
            !valuesIn(*pieces_[i].node, stuck, &values) || !mayAskAhead(*pieces_[i].node, values, maybe))
            continue;
        for (const CodeNode *n : std::as_const(values)) {
            Handed h;
            h.name = h.field = nameFor(*n);
            h.type = typeName(n->type);
            h.typeId = n->type;
            h.value = textOf(*n);
            out_.result << h;
            out_.showChanges.append({n->begin, n->end, h.name});
        }
        pieces_[i].locals.reads -= stuck;
        pieces_[i].locals.writes -= stuck;
        pieces_[i].effects.removeIf([this](const Effect &e) { return q_.owned.contains(e.decl); });
    }
}

// What only the work may touch is touched by nothing else.
void Cutter::takeOwned()
{
    for (int i = int(pieces_.size()) - 1; i >= 0; --i) {
        QList<const CodeNode *> values;
        const bool leaves = std::any_of(pieces_.begin() + std::min(last_ + 1, i), pieces_.begin() + i,
                                        [](const Piece &p) { return p.returns; });
        const QList<Effect> &effects = pieces_[i].effects;
        const bool uses = std::any_of(effects.begin(), effects.end(),
                                      [this](const Effect &e) { return q_.exclusive.contains(e.decl); });
        // What is only shown of them comes with the result.
        if (!uses ||
            (i > last_ && !pieces_[i].locals.reads.intersects(pieces_[i].locals.declares) &&
             valuesIn(*pieces_[i].node, {}, &values) && mayAskAhead(*pieces_[i].node, values, leaves)))
            continue;
        first_ = std::min(first_, i);
        last_ = std::max(last_, i);
    }
}

} // namespace pipit
