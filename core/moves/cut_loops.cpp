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
    const CodeNode *v = n.is("each") ? n.child("variable") : nullptr;
    const CodeDecl *d = v ? unit_.decl(v->decl) : nullptr;
    // A list of items that was made before the work.
    const bool items = d && range && !effects_.bound(d->type).isEmpty() && dependsOnTakeOnly(*range);
    if (n.is("each") && range && (items || !pieceOf(*range).kept.isEmpty())) {
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
    if (const CodeNode *init = n.child("init"); init && init->is("declare"))
        for (const CodeNode &v : init->children)
            loopVariables_.insert(v.decl);
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

// int i = FROM; while (i < …) { …; ++i; }, which nothing goes past.
bool Cutter::countsInBody(const CodeNode &loop, int *variable, QString *from) const
{
    const CodeNode *body = loop.child("body");
    const CodeNode *last =
        body && body->is("block") && !body->children.isEmpty() ? &body->children.last() : nullptr;
    if (!last || !last->is("update") || last->op != "++" || last->children.size() != 1)
        return false;
    const int v = Effects::root(*last);
    int changes = 0;
    bool passes = false;
    body->each([&](const CodeNode &n) {
        changes += (n.is("update") || n.is("assign")) && !n.children.isEmpty() &&
                   Effects::root(n.children.first()) == v;
        passes = passes || n.is("continue");
        return true;
    });
    if (changes != 1 || passes || boundsOf(loop, v).isEmpty())
        return false;
    const CodeNode *made = nullptr;
    for (const Piece &p : pieces_) {
        if (p.node == &loop) {
            *variable = v;
            *from = made ? textOf(made->children.first()) : QString();
            return made && effects_.of(made->children.first()).isEmpty();
        }
        if (made && p.locals.writes.contains(v))
            return false;
        if (p.node->is("declare"))
            for (const CodeNode &each : p.node->children)
                if (each.decl == v && each.children.size() == 1)
                    made = &each;
    }
    return false;
}

// for (int i = FROM; i < …; ++i), whose variable nothing else changes.
bool Cutter::countsUp(const CodeNode &loop, int *variable, QString *from) const
{
    if (loop.is("while"))
        return countsInBody(loop, variable, from);
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
                       condition->is("binary") && condition->op.startsWith('>') &&
                       effects_.of(v.children.first()).isEmpty();
    if (!(plus || minus) || v.children.size() != 1 || effects_.locals(*body).writes.contains(v.decl) ||
        boundsOf(loop, v.decl).isEmpty())
        return false;
    *variable = v.decl;
    *from = textOf(v.children.first());
    if (minus)
        *from = "down from " + *from;
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

// What loops add to lists is passed on from time to time, and shown in order while the work goes on. Not
// where something is to be done before all of it.
void Cutter::showInBatches()
{
    const bool first = std::any_of(out_.statements.begin(), out_.statements.end(),
                                   [](const PlacedStatement &s) { return s.atTurn; });
    if (q_.steps || q_.inPlace || first || q_.again == "restart" || q_.again == "together")
        return;
    static const QRegularExpression adds("result\\.(\\w+)(?: << |\\.emplaceBack\\()");
    QList<const CodeNode *> loops;
    for (const PlacedStatement &s : std::as_const(out_.statements))
        if (s.place == Stage::Work)
            s.node->each([&](const CodeNode &n) {
                if (n.isLoop())
                    loops << &n;
                return !n.isLoop() && !n.is("lambda");
            });
    for (const CodeNode *loop : std::as_const(loops)) {
        QStringList lists;
        TextChange *asks = nullptr;
        for (TextChange &c : out_.changes) {
            if (c.begin < loop->begin || c.end > loop->end)
                continue;
            for (auto it = adds.globalMatch(c.text); it.hasNext();)
                lists << it.next().captured(1);
            if (!asks && c.text.contains("promise.isCanceled()"))
                asks = &c;
        }
        lists.removeDuplicates();
        if (lists.isEmpty() || !asks)
            continue;
        const QString indent =
            '\n' + QString(loop->begin - (q_.text.lastIndexOf('\n', loop->begin) + 1) + 4, ' ');
        asks->text += indent + "if (batch.hasExpired(40)) {" + indent + "    @Result@ some;";
        for (const QString &list : std::as_const(lists))
            asks->text += indent + "    some." + list + ".swap(result." + list + ");";
        asks->text +=
            indent + "    promise.addResult(std::move(some));" + indent + "    batch.start();" + indent + '}';
        out_.batches = true;
    }
    if (out_.batches)
        for (const Deferred &d : std::as_const(out_.deferred))
            if (d.list)
                out_.notes << d.widget + " is filled during the work, in order.";
}

// Threads that nobody joins end the program: what has some is left to its end.
bool Cutter::ownsThreads() const
{
    for (int i = first_; i <= last_; ++i)
        for (const int v : pieces_[i].locals.declares) {
            const CodeDecl *d = unit_.decl(v);
            const CodeType *t = d ? unit_.type(d->type) : nullptr;
            const CodeRecord *r = d ? unit_.recordOfType(d->type) : nullptr;
            bool holds = r && r->name == "std::thread";
            for (const int inner : t ? t->holds : QList<int>())
                holds =
                    holds || (unit_.recordOfType(inner) && unit_.recordOfType(inner)->name == "std::thread");
            if (holds)
                return true;
        }
    return false;
}

void Cutter::letCancel(const CodeNode &loop)
{
    const CodeNode *body = loop.child("body");
    if (!body || body->begin < 0 || q_.steps || ownsThreads())
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
