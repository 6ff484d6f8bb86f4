// Loops within the work: what they read of widgets is gathered before, and they can be cancelled, or go on
// round by round.
#include "core/moves/cutter.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

void Cutter::changeLoop(const CodeNode &n, const Inside &inside)
{
    Inside within = inside;
    const CodeNode *range = n.child("range"), *body = n.child("body");
    if (n.is("each") && range && !pieceOf(*range).kept.isEmpty()) {
        const CodeNode *v = n.child("variable");
        const CodeDecl *d = v ? unit_.decl(v->decl) : nullptr;
        if (d && !effects_.keptFromMoving(d->type).isEmpty()) {
            if (!gatherEach(n))
                return;
        } else {
            changeExpression(*range, within);
        }
    } else if (range) {
        changeExpression(*range, within);
    }
    within.loops << &n;
    for (const char *role : {"init", "condition", "step"})
        if (const CodeNode *c = n.child(role)) {
            if (c->is("declare"))
                changeStatement(*c, inside);
            else if (c->is("variable"))
                for (const CodeNode &init : c->children)
                    changeExpression(init, within);
            else
                changeExpression(*c, inside);
        }
    if (inside.loops.isEmpty())
        letCancel(n);
    if (body) {
        within.aloneIn = !body->is("block");
        within.maybe = inside.maybe;
        changeStatement(*body, within);
    }
}

// for (int i = FROM; i < …; ++i), whose variable nothing else changes.
bool Cutter::countsUp(const CodeNode &loop, int *variable, QString *from) const
{
    const CodeNode *init = loop.child("init"), *step = loop.child("step"), *body = loop.child("body"),
                   *condition = loop.child("condition");
    if (!loop.is("for") || !init || !step || !body || !condition || !init->is("declare") ||
        init->children.size() != 1)
        return false;
    const CodeNode &v = init->children.first();
    const bool plus = step->is("update") && step->op == "++" && Effects::root(*step) == v.decl;
    if (v.children.isEmpty())
        return false;
    // Downwards from what is known, a row is as far from there as rounds were made.
    const bool minus = step->is("update") && step->op == "--" && Effects::root(*step) == v.decl &&
                       condition->op.startsWith('>') && effects_.of(v.children.first()).isEmpty();
    if (!(plus || minus) || v.children.size() != 1 || effects_.locals(*body).writes.contains(v.decl) ||
        !condition->is("binary"))
        return false;
    *variable = v.decl;
    *from = textOf(v.children.first());
    if (minus)
        *from = "down from " + *from;
    return true;
}

// for (row = 0; row < list->count(); ++row): list->item(row) is there.
bool Cutter::isWithinCount(const CodeNode &n, const CodeNode &loop, int variable) const
{
    const CodeNode *condition = loop.child("condition");
    if (!condition || condition->op != "<" || condition->children.size() != 2 ||
        Effects::root(condition->children[0]) != variable)
        return false;
    const CodeNode &bound = condition->children[1];
    if (!bound.is("method") || nameOf(bound.decl) != "count" || bound.children.isEmpty())
        return false;
    bool all = true;
    n.each([&](const CodeNode &m) {
        const CodeType *t =
            m.is("method") && !m.children.isEmpty() ? unit_.type(m.children.first().type) : nullptr;
        const CodeNode *object = t && t->form == CodeType::Pointer ? &m.children.first() : nullptr;
        if (object && object->is("method"))
            all = all && nameOf(object->decl) == "item" && object->children.size() == 2 &&
                  Effects::root(object->children[0]) == Effects::root(bound.children.first()) &&
                  object->children[1].is("name") && object->children[1].decl == variable;
        return true;
    });
    return all;
}

bool Cutter::canGather(const CodeNode &n, const Inside &inside) const
{
    if (inside.loops.isEmpty() || n.macro || n.begin < 0 || n.is("lambda"))
        return false;
    const CodeNode &loop = *inside.loops.first();
    int variable = -1;
    QString from;
    if (inside.maybe && mayBeAbsent(n) &&
        (!countsUp(loop, &variable, &from) || !isWithinCount(n, loop, variable)))
        return false;
    return countsUp(loop, &variable, &from) && readsOnly(pieceOf(n).effects) &&
           dependsOnTakeOnly(n, variable) && n.type >= 0 && effects_.keptFromMoving(n.type).isEmpty() &&
           dependsOnTakeOnly(*loop.child("condition"), variable);
}

// A value that depends on the loop's count: all of them are read before the work.
bool Cutter::gather(const CodeNode &n, const Inside &inside)
{
    if (!canGather(n, inside))
        return false;
    const CodeNode &loop = *inside.loops.first();
    int variable = -1;
    QString from;
    countsUp(loop, &variable, &from);
    QString name;
    for (const Gathering &g : std::as_const(out_.gathered))
        if (g.loop == &loop && textOf(*g.expression) == textOf(n))
            name = g.name;
    if (name.isEmpty()) {
        name = fresh(nameFor(n) + "s");
        out_.gathered.append({&loop, &n, name, typeName(n.type)});
    }
    static const QString down = "down from ";
    static const QRegularExpression plain("^\\w+(?: - \\d+)?$");
    const QString count = nameOf(variable), start = from.mid(down.size());
    const QString index = from.startsWith(down)
                              ? (plain.match(start).hasMatch() ? start : '(' + start + ')') + " - " + count
                          : from == "0" ? count
                                        : count + " - " + from;
    out_.changes.append({n.begin, n.end, name + '[' + index + ']'});
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
        return no("what it goes through is not known before the work");
    QList<const CodeNode *> asked;
    bool all = true;
    const std::function<void(const CodeNode &)> look = [&](const CodeNode &n) {
        if (!effects_.locals(n).reads.contains(v.decl))
            return;
        if (!n.macro && n.begin >= 0 && n.type >= 0 && readsOnly(effects_.of(n)) &&
            dependsOnTakeOnly(n, v.decl) && effects_.keptFromMoving(n.type).isEmpty()) {
            asked << &n;
            return;
        }
        all = all && !(n.is("name") && n.decl == v.decl) && !n.is("lambda");
        for (const CodeNode &c : n.children)
            look(c);
    };
    look(body);
    if (!all || asked.isEmpty())
        return no("what it does with " + nameOf(v.decl) + " cannot be done before the work");
    QHash<QString, QString> names;
    for (const CodeNode *n : std::as_const(asked)) {
        QString &name = names[textOf(*n)];
        if (name.isEmpty()) {
            const QString one = nameFor(*n);
            name = fresh(one + "s");
            out_.gathered.append({&loop, n, name, typeName(n->type)});
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

// Where the loop went on, ended or returned, the step says whether there is more.
void Cutter::goRoundByRound(const CodeNode &loop)
{
    const CodeNode *step = loop.child("step"), *body = loop.child("body");
    if (!body)
        return;
    const QString next = step ? textOf(*step) + ";" : QString();
    const std::function<void(const CodeNode &, bool, bool, bool)> look = [&](const CodeNode &n, bool ownBreak,
                                                                             bool ownContinue, bool alone) {
        const QString indent =
            QString(std::max(0, n.begin - int(q_.text.lastIndexOf('\n', std::max(0, n.begin)) + 1)), ' ');
        const auto put = [&](const QStringList &lines) {
            const QString all = lines.join('\n' + indent);
            out_.changes.append({n.begin, n.end,
                                 alone && lines.size() > 1
                                     ? "{\n" + indent + all + '\n' +
                                           indent.chopped(std::min<qsizetype>(4, indent.size())) + '}'
                                     : all});
        };
        if (n.is("lambda"))
            return;
        if (n.is("break") && !ownBreak)
            return put({"return false;"});
        if (n.is("continue") && !ownContinue)
            return put(next.isEmpty() ? QStringList{"return true;"} : QStringList{next, "return true;"});
        if (n.is("return"))
            return put({"state.stopped = true;", "return false;"});
        const bool inner = n.isLoop();
        for (const CodeNode &c : n.children) {
            const bool branch = c.role == "then" || c.role == "else" || c.role == "body";
            look(c, ownBreak || inner || n.is("switch"), ownContinue || inner, branch && !c.is("block"));
        }
    };
    look(*body, false, false, !body->is("block"));
}

void Cutter::letCancel(const CodeNode &loop)
{
    const CodeNode *body = loop.child("body");
    if (!body || body->begin < 0 || q_.steps)
        return;
    const QString indent = QString(loop.begin - (q_.text.lastIndexOf('\n', loop.begin) + 1), ' ');
    const QString look = '\n' + indent + "    if (promise.isCanceled())\n" + indent + "        return {};";
    if (body->is("block")) {
        // After a comment on the loop's own line.
        int at = body->begin + 1;
        const int end = int(q_.text.indexOf('\n', at));
        if (end > at && q_.text.mid(at, end - at).trimmed().startsWith("//"))
            at = end;
        out_.changes.append({at, at, look});
    } else {
        // Without braces so far.
        const qsizetype close = q_.text.lastIndexOf(')', body->begin);
        const int after = loop.is("do") ? -1 : int(close) + 1;
        if (after < 0)
            return;
        out_.changes.append({after, after, " {" + look});
        out_.changes.append({body->end, body->end, '\n' + indent + '}'});
    }
}

} // namespace pipit
