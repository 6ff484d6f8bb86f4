// Rows, cells and items within the work: what is asked of them is gathered before, in the same loops.
#include "core/moves/cutter.h"
#include "core/moves/library.h"

#include <QRegularExpression>

#include <algorithm>
#include <functional>

namespace pipit
{

namespace
{

bool isNothing(const CodeNode &n)
{
    const CodeNode *at = &n;
    while (at->children.size() == 1 && (at->is("cast") || at->is("paren")))
        at = &at->children.first();
    return at->is("number") && at->begin >= 0;
}

// Of what may stand around whether an item is there.
bool standsAround(const CodeNode &n)
{
    return (n.is("unary") && n.op == "!") || n.is("conditional") || n.is("paren") ||
           (n.is("binary") && (n.op == "&&" || n.op == "||" || n.op == "==" || n.op == "!="));
}

} // namespace

// Of a loop's condition what is known before the work: `row < list->count()` of `… && !found`.
QList<const CodeNode *> Cutter::boundsOf(const CodeNode &loop, int variable) const
{
    const CodeNode *step = loop.child("step");
    const bool up = loop.is("while") || (step && step->op == "++");
    // Whether the count comes to an end by it.
    const auto ends = [&](const CodeNode &n) {
        if (!n.is("binary") || n.children.size() != 2)
            return false;
        const bool left = effects_.locals(n.children[0]).reads.contains(variable),
                   right = effects_.locals(n.children[1]).reads.contains(variable);
        if (left == right)
            return false;
        const QChar less = up == left ? '<' : '>';
        return n.op == "!=" || n.op == less || n.op == less + QString('=');
    };
    QList<const CodeNode *> bounds;
    const std::function<void(const CodeNode &)> look = [&](const CodeNode &n) {
        if (n.is("binary") && n.op == "&&") {
            for (const CodeNode &c : n.children)
                look(c);
            return;
        }
        if (ends(n) && readsOnly(effects_.of(n)) &&
            dependsOnTakeOnly(n, loopVariables_ + QSet<int>{variable}))
            bounds << &n;
    };
    if (const CodeNode *condition = loop.child("condition"))
        look(*condition);
    return bounds;
}

QString Cutter::headerOf(const CodeNode &loop) const
{
    const CodeNode *init = loop.child("init"), *step = loop.child("step"),
                   *condition = loop.child("condition");
    int variable = -1;
    QString from;
    if (loop.is("while") && countsUp(loop, &variable, &from)) {
        const QString count = nameOf(variable);
        QStringList bounds;
        for (const CodeNode *b : boundsOf(loop, variable))
            bounds << textOf(*b);
        return QStringLiteral("for (%1 %2 = %3; %4; ++%2)")
            .arg(typeName(unit_.decl(variable)->type), count, from, bounds.join(" && "));
    }
    if (!loop.is("for") || !init || !step || !condition) {
        const int close = int(q_.text.lastIndexOf(')', loop.child("body")->begin));
        return q_.text.mid(loop.begin, close + 1 - loop.begin);
    }
    QStringList bounds;
    for (const CodeNode *b : boundsOf(loop, init->children.first().decl))
        bounds << textOf(*b);
    from = textOf(*init).trimmed();
    if (!from.endsWith(';'))
        from += ';';
    return "for (" + from + ' ' + bounds.join(" && ") + "; " + textOf(*step) + ')';
}

// for (row = 0; row < list->count(); ++row): list->item(row) is there.
bool Cutter::isWithinCount(const CodeNode &n, const CodeNode &loop, int variable) const
{
    const QList<const CodeNode *> bounds = boundsOf(loop, variable);
    const auto counts = [&](const CodeNode *b) {
        return b->op == "<" && b->children.size() == 2 && Effects::root(b->children[0]) == variable &&
               b->children[1].is("method") && nameOf(b->children[1].decl) == "count" &&
               !b->children[1].children.isEmpty();
    };
    const auto it = std::find_if(bounds.begin(), bounds.end(), counts);
    if (it == bounds.end())
        return false;
    const CodeNode &bound = (*it)->children[1];
    bool all = true;
    n.each([&](const CodeNode &m) {
        const CodeType *t =
            m.is("method") && !m.children.isEmpty() ? unit_.type(m.children.first().type) : nullptr;
        const CodeNode *object = t && t->form == CodeType::Pointer ? &m.children.first() : nullptr;
        if (object && object->is("method"))
            all = all && nameOf(object->decl) == "item" && object->children.size() == 2 &&
                  Effects::root(object->children[0]) == Effects::root(bound.children.first()) &&
                  object->children[1].is("name") && object->children[1].decl == variable;
        else if (object && object->is("name"))
            all = false;
        return true;
    });
    return all;
}

// The loops whose counts an expression depends on, the outer ones first; nothing where it depends on more.
std::optional<QList<Cutter::Counted>> Cutter::countsOf(const QSet<int> &reads, const Inside &inside) const
{
    QSet<int> needs = reads & regionWrites_;
    QList<Counted> chain;
    for (auto it = inside.loops.rbegin(); it != inside.loops.rend(); ++it) {
        Counted c;
        c.loop = *it;
        if (!countsUp(**it, &c.variable, &c.from) || !needs.remove(c.variable))
            continue;
        const CodeNode *init = (*it)->child("init");
        QSet<int> more = init ? effects_.locals(*init).reads : QSet<int>();
        for (const CodeNode *b : boundsOf(**it, c.variable))
            more += effects_.locals(*b).reads;
        more.remove(c.variable);
        needs += more & regionWrites_;
        chain.prepend(c);
    }
    if (!needs.isEmpty())
        return std::nullopt;
    return chain;
}

// The items that an expression asks, and all that it depends on beside them.
QSet<int> Cutter::withoutItems(QSet<int> reads, QList<int> *items) const
{
    for (auto it = items_.constBegin(); it != items_.constEnd(); ++it)
        if (reads.remove(it.key())) {
            reads += effects_.locals(*it->init).reads;
            if (items)
                *items << it.key();
        }
    return reads;
}

// What is asked in a loop before the work, is asked on the loop: it must be stored there.
bool Cutter::costsLittle(const CodeNode &node) const
{
    bool little = true;
    node.each([&](const CodeNode &n) {
        const CodeDecl *d = n.is("method") ? unit_.decl(n.decl) : nullptr;
        little = little && (!d || pipit::costsLittle(unit_, *d));
        return little;
    });
    return little;
}

bool Cutter::canGather(const CodeNode &n, const Inside &inside) const
{
    if (inside.loops.isEmpty() || n.macro || n.begin < 0 || n.is("lambda") || n.type < 0 ||
        effects_.mayTakeLong(n) || !costsLittle(n) || !readsOnly(pieceOf(n).effects) ||
        !effects_.keptFromMoving(n.type).isEmpty())
        return false;
    QList<int> items;
    const QSet<int> reads = withoutItems(effects_.locals(n).reads, &items);
    const auto chain = countsOf(reads, inside);
    if (!chain || chain->isEmpty() || items.size() > 1)
        return false;
    QSet<int> known(items.begin(), items.end());
    for (const Counted &c : *chain)
        known.insert(c.variable);
    if (!dependsOnTakeOnly(n, known))
        return false;
    if (!items.isEmpty())
        return !pieceOf(n).effects.isEmpty(); // asked with care, see gather
    return !inside.maybe || !mayBeAbsent(n) ||
           isWithinCount(n, *chain->first().loop, chain->first().variable);
}

QString Cutter::indexOf(const Counted &c) const
{
    static const QString down = "down from ";
    static const QRegularExpression plain("^\\w+(?: - \\d+)?$");
    const QString count = nameOf(c.variable), start = c.from.mid(down.size());
    if (c.from.startsWith(down))
        return (plain.match(start).hasMatch() ? start : '(' + start + ')') + " - " + count;
    return c.from == "0" ? count : count + " - " + c.from;
}

// A value that depends on the loops' counts: all of them are read before the work.
bool Cutter::gather(const CodeNode &n, const Inside &inside)
{
    if (!canGather(n, inside))
        return false;
    QList<int> items;
    const QSet<int> reads = withoutItems(effects_.locals(n).reads, &items);
    if (items.isEmpty()) {
        addGathered(n, *countsOf(reads, inside), textOf(n), typeName(n.type), {}, nameFor(n) + "s");
        return true;
    }
    const Item &item = items_[items.first()];
    const QString text = nameOf(items.first()) + " ? " + textOf(n) + " : " + nothingOf(n.type);
    addGathered(n, *countsOf(reads, inside), item.sure ? textOf(n) : '(' + text + ')', typeName(n.type),
                item.text, nameFor(n) + "s");
    return true;
}

void Cutter::addGathered(const CodeNode &n, const QList<Counted> &chain, const QString &text,
                         const QString &type, const QString &before, const QString &wanted)
{
    QList<const CodeNode *> loops;
    QString index;
    for (const Counted &c : chain) {
        loops << c.loop;
        index += '[' + indexOf(c) + ']';
    }
    QString name;
    for (const Gathering &g : std::as_const(out_.gathered))
        if (g.loops == loops && g.text == text && g.before == before)
            name = g.name;
    if (name.isEmpty()) {
        name = fresh(wanted);
        out_.gathered.append({loops, before, text, name, type, {}});
        for (const CodeNode *loop : std::as_const(loops))
            out_.gathered.last().headers << headerOf(*loop);
    }
    out_.changes.append({n.begin, n.end, name + index});
}

// Whether all that is done with an item can be asked before: whether it is there, and what it says.
bool Cutter::canFollow(int item, const CodeNode &scope, const Inside &inside, bool *tested) const
{
    bool all = true;
    const std::function<void(const CodeNode &, const CodeNode *)> look = [&](const CodeNode &n,
                                                                             const CodeNode *parent) {
        if (!all || !effects_.locals(n).reads.contains(item))
            return;
        if (n.is("name") && n.decl == item && parent && isAskedFor(n, *parent)) {
            *tested = true;
            return;
        }
        if (!standsAround(n) && canGather(n, inside))
            return;
        // It is set when the result is shown.
        const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
        const CodeDecl *d = unit_.decl(n.decl);
        const bool sets = object && object->is("name") && object->decl == item && d && !d->isConst && !d->own;
        all = !n.is("name") && !n.is("lambda");
        for (const CodeNode &c : n.children)
            if (!sets || &c != object)
                look(c, &n);
    };
    look(scope, nullptr);
    return all;
}

// `item` where it stands for whether it is there.
bool Cutter::isAskedFor(const CodeNode &n, const CodeNode &parent) const
{
    if (parent.is("unary"))
        return parent.op == "!";
    if (parent.is("binary") && (parent.op == "&&" || parent.op == "||"))
        return true;
    if (parent.is("binary") && (parent.op == "==" || parent.op == "!=") && parent.children.size() == 2)
        return isNothing(parent.children[&parent.children[0] == &n ? 1 : 0]);
    return n.role == "condition" || (parent.is("conditional") && &parent.children.first() == &n);
}

// An item that is taken in the middle of the work, by the loops' counts: it is asked before.
bool Cutter::takeItem(const CodeNode &variable, const QString &declared, const CodeNode &scope,
                      const Inside &inside)
{
    const CodeType *t = unit_.type(variable.type);
    if (!t || t->form != CodeType::Pointer || variable.children.size() != 1 || variable.macro ||
        inside.loops.isEmpty())
        return false;
    const CodeNode &init = variable.children.first();
    const auto chain = countsOf(effects_.locals(init).reads, inside);
    QSet<int> known;
    for (const Counted &c : chain.value_or(QList<Counted>()))
        known.insert(c.variable);
    if (!chain || chain->isEmpty() || !readsOnly(pieceOf(init).effects) || effects_.mayTakeLong(init) ||
        !dependsOnTakeOnly(init, known))
        return false;
    bool written = false, tested = false;
    scope.each([&](const CodeNode &n) {
        written = written || (n.is("assign") && Effects::root(n.children.first()) == variable.decl &&
                              n.children.first().is("name"));
        return !written;
    });
    items_.insert(variable.decl, {&init, declared, false});
    if (written || !canFollow(variable.decl, scope, inside, &tested)) {
        items_.remove(variable.decl);
        return false;
    }
    items_[variable.decl].sure =
        !tested && init.is("method") && nameOf(init.decl) == "item" && init.children.size() == 2 && [&] {
            for (const CodeNode *b : boundsOf(*chain->first().loop, chain->first().variable))
                if (b->op == "<" && b->children[1].is("method") && nameOf(b->children[1].decl) == "count" &&
                    Effects::root(b->children[1]) == Effects::root(init) && init.children[1].is("name"))
                    return true;
            return false;
        }();
    // Whether it is there, wherever that is asked.
    const QString there = nameOf(variable.decl) + " != nullptr";
    const std::function<void(const CodeNode &, const CodeNode *)> look = [&](const CodeNode &n,
                                                                             const CodeNode *parent) {
        if (n.is("name") && n.decl == variable.decl && parent && isAskedFor(n, *parent)) {
            const bool compared = parent->is("binary") && (parent->op == "==" || parent->op == "!=");
            addGathered(compared ? *parent : n, *chain, '(' + there + ')', "bool", declared,
                        nameOf(variable.decl) + "There");
            if (compared && parent->op == "==")
                out_.changes.last().text.prepend('!');
            return;
        }
        if (!standsAround(n) && effects_.locals(n).reads.contains(variable.decl) && canGather(n, inside))
            return;
        for (const CodeNode &c : n.children)
            look(c, &n);
    };
    look(scope, nullptr);
    return true;
}

// for (item : what is selected): what is asked of each item is gathered before the work.
bool Cutter::gatherEach(const CodeNode &loop)
{
    const CodeNode &v = *loop.child("variable"), &range = *loop.child("range"), &body = *loop.child("body");
    const auto no = [&](const QString &why) {
        refuse(loop.begin, why);
        return false;
    };
    if (!readsOnly(pieceOf(range).effects) || !dependsOnTakeOnly(range))
        return no("the rows it loops over are unknown before the work");
    QList<const CodeNode *> asked;
    bool all = true;
    const std::function<void(const CodeNode &)> look = [&](const CodeNode &n) {
        if (!effects_.locals(n).reads.contains(v.decl))
            return;
        if (!n.macro && n.begin >= 0 && n.type >= 0 && readsOnly(effects_.of(n)) &&
            dependsOnTakeOnly(n, {v.decl}) && effects_.keptFromMoving(n.type).isEmpty() &&
            !effects_.mayTakeLong(n)) {
            asked << &n;
            return;
        }
        all = all && !(n.is("name") && n.decl == v.decl) && !n.is("lambda");
        for (const CodeNode &c : n.children)
            look(c);
    };
    look(body);
    if (!all || asked.isEmpty())
        return no("what it does with " + nameOf(v.decl) + " cannot run before the work");
    QHash<QString, QString> names;
    for (const CodeNode *n : std::as_const(asked)) {
        QString &name = names[textOf(*n)];
        if (name.isEmpty()) {
            const QString one = nameFor(*n);
            name = fresh(one + "s");
            out_.gathered.append({{&loop}, {}, textOf(*n), name, typeName(n->type), {headerOf(loop)}});
            hoisted_.insert(name, one);
        }
    }
    qsizetype close = q_.text.lastIndexOf(')', body.begin);
    if (names.size() == 1) {
        const QString list = names.begin().value(), one = hoisted_.value(list);
        const CodeType *t = unit_.type(asked.first()->type);
        out_.changes.append(
            {loop.begin, int(close),
             QStringLiteral("for (const %1%2 : %3").arg(t->name, t->number ? " " + one : " &" + one, list)});
        for (const CodeNode *n : std::as_const(asked))
            out_.changes.append({n->begin, n->end, one});
    } else {
        const QString index = fresh("index");
        out_.changes.append({loop.begin, int(close),
                             QStringLiteral("for (qsizetype %1 = 0; %1 < %2.size(); ++%1")
                                 .arg(index, names.begin().value())});
        for (const CodeNode *n : std::as_const(asked))
            out_.changes.append({n->begin, n->end, names.value(textOf(*n)) + '[' + index + ']'});
    }
    return true;
}

} // namespace pipit
