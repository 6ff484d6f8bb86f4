// What is changed within the work: what it reads from widgets comes with its input, what it tells them comes
// with its result.
#include "core/moves/cutter.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

bool isAppend(const QString &method)
{
    static const QStringList all = {"addItem", "append", "appendPlainText", "appendHtml"};
    return all.contains(method);
}

bool isSetter(const QString &method)
{
    return (method.size() > 3 && method.startsWith("set") && method[3].isUpper()) || method == "display" ||
           method == "showMessage";
}

QString capital(QString name)
{
    if (!name.isEmpty())
        name[0] = name[0].toUpper();
    return name;
}

bool leaves(const CodeNode &node)
{
    bool found = false;
    node.each([&](const CodeNode &n) {
        found = found || n.is("return") || n.is("break") || n.is("continue") || n.is("throw");
        return !found && !n.is("lambda");
    });
    return found;
}

} // namespace

QString Cutter::fresh(const QString &wanted)
{
    QString name = wanted;
    for (int n = 2; names_.contains(name); ++n)
        name = wanted + QString::number(n);
    names_.insert(name);
    return name;
}

// "passengerList->count()" becomes passengerCount, "field->text().trimmed()" fieldText.
QString Cutter::nameFor(const CodeNode &e)
{
    QString method;
    int widget = -1;
    if (e.is("member") && isFieldKind(unit_.decl(e.decl)))
        return fresh(handedOf(e.decl).field);
    e.each([&](const CodeNode &n) {
        if (n.is("method") && !n.children.isEmpty() && !effects_.bound(n.children.first().type).isEmpty()) {
            method = nameOf(n.decl);
            widget = Effects::root(n.children.first());
        }
        if (n.is("method") && n.onThis && method.isEmpty())
            method = nameOf(n.decl);
        return widget < 0;
    });
    const CodeDecl *d = unit_.decl(widget);
    QString base = d && d->kind == CodeDecl::Field ? d->name : QString();
    while (base.endsWith('_'))
        base.chop(1);
    if (base.startsWith("m_"))
        base.remove(0, 2);
    const CodeNode *object = e.is("method") ? e.child("object") : nullptr;
    if (const CodeDecl *of = unit_.decl(object ? Effects::root(*object) : -1);
        base.isEmpty() && of && method.isEmpty()) {
        base = of->name; // file.size() becomes fileSize
        while (base.endsWith('_'))
            base.chop(1);
        method = nameOf(e.decl);
    }
    const QString name =
        base.isEmpty() ? (method.isEmpty() ? QString("value") : method) : base + capital(method);
    return fresh(name);
}

bool Cutter::readsOnly(const QList<Effect> &effects) const
{
    return std::all_of(effects.begin(), effects.end(), [](const Effect &e) {
        return e.kind == Effect::ReadsWidget || e.kind == Effect::ReadsShared;
    });
}

bool Cutter::dependsOnTakeOnly(const CodeNode &node, const QSet<int> &except) const
{
    const Locals l = effects_.locals(node);
    for (const int v : l.reads)
        if (!except.contains(v) && regionWrites_.contains(v))
            return false;
    if (!l.writes.isEmpty() || !l.declares.isEmpty())
        return false;
    for (const Effect &e : effects_.of(node)) {
        if (changesMeanwhile(node, e) ||
            (e.decl >= 0 && deferredWidgets_.contains(e.decl) && !onlyApart(node, e)))
            return false;
        for (int i = first_; i <= last_; ++i)
            for (const Effect &o : pieces_[i].effects)
                if (o.kind == Effect::WritesShared && o.decl == e.decl)
                    return false;
    }
    return true;
}

// Whether a loop around it sets what it reads, from one round to the next.
bool Cutter::changesMeanwhile(const CodeNode &node, const Effect &read) const
{
    for (int i = first_; i <= last_ && read.kind == Effect::ReadsWidget; ++i) {
        const CodeNode &piece = *pieces_[i].node;
        if (node.begin < piece.begin || node.begin >= piece.end || !pieces_[i].slow)
            continue;
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && e.decl == read.decl && !isApart(node, read, e))
                return true;
    }
    return false;
}

// Whether all that the work sets of a widget leaves what is read of it as it is.
bool Cutter::onlyApart(const CodeNode &node, const Effect &read) const
{
    for (int i = first_; i <= last_; ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && e.decl == read.decl && !isApart(node, read, e))
                return false;
    return true;
}

void Cutter::changeStatement(const CodeNode &n, const Inside &inside)
{
    Inside within = inside;
    if (n.is("block")) {
        within.aloneIn = false;
        within.block = &n;
        within.leaving = !n.children.isEmpty() && n.children.last().is("return");
        for (qsizetype i = 0; i < n.children.size(); ++i) {
            if (const int done = replay(n, i, within))
                i += done - 1;
            else
                changeStatement(n.children[i], within);
            within.maybe = within.maybe || leaves(n.children[i]);
        }
    } else if (n.isLoop()) {
        changeLoop(n, inside);
    } else if (n.is("if") || n.is("switch") || n.is("try") || n.is("catch") || n.is("case")) {
        for (const CodeNode &c : n.children) {
            within = inside;
            if (c.role == "then" || c.role == "else" || c.role == "body" || c.role == "handler") {
                within.maybe = inside.maybe || !n.is("try") || c.role == "handler";
                within.aloneIn = !c.is("block") && !c.is("case");
                changeStatement(c, within);
            } else if (c.is("declare")) {
                changeStatement(c, within);
            } else if (c.is("variable")) {
                if (isTaken(c) && c.role == "condition" && n.is("if") &&
                    takeItem(c, textOf(c) + ';', n, inside)) {
                    addGathered(c, *countsOf(effects_.locals(c.children.first()).reads, inside),
                                '(' + nameOf(c.decl) + " != nullptr)", "bool", textOf(c) + ';',
                                nameOf(c.decl) + "There");
                    continue;
                }
                for (const CodeNode &init : c.children)
                    changeExpression(init, within);
            } else {
                within.asked = c.role == "condition";
                changeExpression(c, within);
            }
        }
    } else if (n.is("declare")) {
        if (n.children.size() == 1 && isTaken(n.children.first()) && inside.block &&
            takeItem(n.children.first(), textOf(n), *inside.block, inside)) {
            out_.changes.append({n.begin, n.end, QString()});
            return;
        }
        for (const CodeNode &v : n.children) {
            if (!effects_.bound(unit_.decl(v.decl) ? unit_.decl(v.decl)->type : -1).isEmpty() &&
                !pieceOf(v).kept.isEmpty()) {
                refuse(v.begin, QStringLiteral("%1 is %2, read during the work")
                                    .arg(nameOf(v.decl), effects_.bound(unit_.decl(v.decl)->type)));
                continue;
            }
            for (const CodeNode &init : v.children)
                changeExpression(init, within);
        }
    } else if (n.is("return") && inside.lambda) {
        for (const CodeNode &c : n.children)
            changeExpression(c, inside);
    } else if (n.is("return")) {
        stop(n, inside);
    } else if (!n.is("break") && !n.is("continue") && !n.is("empty")) {
        const QList<Effect> kept = pieceOf(n).kept;
        const bool pumps = !kept.isEmpty() && std::all_of(kept.begin(), kept.end(), [](const Effect &e) {
            return e.kind == Effect::Pumps;
        });
        static const QStringList paints = {"repaint", "update"};
        const bool repaints = !q_.steps && n.is("method") && n.children.size() == 1 &&
                              paints.contains(nameOf(n.decl)) && kept.size() == 1;
        if (repaints) {
            out_.changes.append({n.begin, n.end, inside.aloneIn ? QString(";") : QString()});
            out_.notes << QStringLiteral(
                              "Line %1 forced a repaint during the work. This is not needed any more.")
                              .arg(lineOf(n.begin));
        } else if (pumps && (n.is("call") || n.is("method"))) {
            out_.changes.append({n.begin, n.end, inside.aloneIn ? QString(";") : QString()});
            out_.notes << QStringLiteral(
                              "Line %1 called the event loop during the work. This is not needed any more.")
                              .arg(lineOf(n.begin));
        } else if (kept.isEmpty() || !(defer(n, inside) || replayAlone(n, inside) || putInPlace(n, inside))) {
            changeExpression(n, inside);
        }
    }
}

// A variable for an item or a widget that is looked for in the middle of the work.
bool Cutter::isTaken(const CodeNode &variable) const
{
    const CodeDecl *d = unit_.decl(variable.decl);
    return d && !effects_.bound(d->type).isEmpty() && !pieceOf(variable).kept.isEmpty();
}

// What keeps an expression on the loop beside what its parts do.
QList<Effect> Cutter::ownOf(const CodeNode &n) const
{
    QList<Effect> own = pieceOf(n).kept;
    for (const CodeNode &c : n.children)
        for (const Effect &e : pieceOf(c).kept)
            own.removeIf([&](const Effect &o) {
                return o.kind == e.kind && o.at == e.at && o.decl == e.decl && o.what == e.what;
            });
    return own;
}

// Of a member that is only read or is nobody else's: why it does not come along.
QString Cutter::whyKept(const Effect &e) const
{
    const CodeDecl *d = unit_.decl(e.decl);
    if (e.kind == Effect::WritesShared && q_.shared.contains(e.decl))
        return " (other functions use it)";
    if (!d || (e.kind != Effect::ReadsShared && e.kind != Effect::WritesShared) || !e.through.isEmpty())
        return {};
    const QString why = effects_.keptFromMoving(d->type);
    return why.isEmpty() ? QString() : " (" + why + ')';
}

void Cutter::changeExpression(const CodeNode &n, const Inside &inside)
{
    for (const TextChange &c : std::as_const(out_.changes))
        if (n.begin >= 0 && c.begin == n.begin && c.end == n.end)
            return; // it was gathered
    const QList<Effect> kept = pieceOf(n).kept;
    if (kept.isEmpty())
        return qualify(n);
    if (hoistAsked(n, inside))
        return;
    if (coveredBelow(n, inside)) {
        qualifyOne(n);
        Inside branch = inside;
        branch.asked = isLogic(n);
        branch.maybe =
            inside.maybe || n.is("conditional") || (n.is("binary") && (n.op == "&&" || n.op == "||"));
        Inside first = inside;
        first.asked = branch.asked || (inside.asked && n.is("paren"));
        for (const CodeNode &c : n.children)
            changeExpression(c, &c == &n.children.first() ? first : branch);
        return;
    }
    if (hoist(n, inside) || gather(n, inside))
        return;
    if (n.is("lambda") && calledAtOnce_.contains(&n))
        return changeLambda(n, inside);
    if (n.is("lambda"))
        return refuse(kept.first().at, kept.first().what + " in a function that is passed on");
    const QList<Effect> own = ownOf(n);
    for (const Effect &e : own)
        refuse(e.at, e.what + (e.through.isEmpty() ? "" : " in " + e.through) + whyKept(e) +
                         ", in the middle of the work");
    if (!own.isEmpty())
        return;
    qualifyOne(n);
    if (callsAtOnce(n))
        for (const CodeNode &c : n.children)
            if (const CodeNode *lambda = Effects::lambdaIn(c))
                calledAtOnce_.insert(lambda);
    for (const CodeNode &c : n.children)
        changeExpression(c, inside);
}

// Whether the parts of an expression can be read before the work, so that the rest of it stays in the work.
bool Cutter::coveredBelow(const CodeNode &n, const Inside &inside) const
{
    bool any = false;
    Inside branch = inside, first = inside;
    branch.asked = isLogic(n);
    first.asked = branch.asked || (inside.asked && n.is("paren"));
    branch.maybe = inside.maybe || n.is("conditional") || (n.is("binary") && (n.op == "&&" || n.op == "||"));
    if (!ownOf(n).isEmpty())
        return false;
    for (const CodeNode &c : n.children) {
        if (pieceOf(c).kept.isEmpty())
            continue;
        any = true;
        const Inside &here = &c == &n.children.first() ? first : branch;
        if (!coveredBelow(c, here) && !canHoist(c, here) && !canGather(c, here) && !canAsk(c, here))
            return false;
    }
    return any;
}

// A widget that is set in the middle of the work is set when the result is shown.
bool Cutter::defer(const CodeNode &n, const Inside &inside)
{
    if (q_.steps)
        return false;
    const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
    const CodeDecl *method = unit_.decl(n.decl);
    const CodeRecord *cls = object ? unit_.recordOfType(object->type) : nullptr;
    if (!object || !method || !cls || method->own || n.macro || !(cls->is("QWidget") || cls->is("QAction")))
        return false;
    const CodeDecl *widget = unit_.decl(Effects::root(*object));
    const bool lasting =
        widget && (widget->kind == CodeDecl::Field || q_.captured.contains(Effects::root(*object)));
    if (!lasting || !(isAppend(method->name) || isSetter(method->name)))
        return false;
    QList<const CodeNode *> values;
    for (const CodeNode &c : n.children)
        if (&c != object)
            values << &c;
    if (values.size() != 1 || method->takes.isEmpty() ||
        !effects_.keptFromMoving(method->takes.first()).isEmpty())
        return false;
    if (!inside.loops.isEmpty() && !inside.leaving && q_.heard.contains(widget->name) &&
        !isAppend(method->name) && !cls->is("QProgressBar")) {
        refuse(n.begin,
               QStringLiteral("a connection uses a signal of %1, which is set many times").arg(widget->name));
        return true;
    }
    Deferred told;
    told.at = n.begin;
    told.arrow = q_.text.mid(object->end, 2) == "->" ? "->" : ".";
    told.widget = object->is("member") && object->onThis ? nameOf(object->decl) : textOf(*object);
    told.method = method->name;
    told.list = isAppend(method->name);
    told.type = typeName(method->takes.first());
    told.progress = cls->is("QProgressBar") && method->name == "setValue";
    told.widgets.insert(Effects::root(*object));
    if (!keepsOrder(told))
        return true;
    deferSetter(n, *values.first(), inside, told);
    return true;
}

void Cutter::deferSetter(const CodeNode &n, const CodeNode &value, const Inside &inside, Deferred told)
{
    const CodeNode *object = n.child("object");
    const auto known = std::find_if(out_.deferred.begin(), out_.deferred.end(), [&](const Deferred &d) {
        return d.widget == told.widget && d.method == told.method && d.type == told.type;
    });
    if (known != out_.deferred.end()) {
        told.field = known->field;
    } else {
        QString base = nameOf(Effects::root(*object));
        while (base.endsWith('_'))
            base.chop(1);
        if (base.startsWith("m_"))
            base.remove(0, 2);
        const QString what = told.method.startsWith("set") ? told.method.mid(3) : QString("Shown");
        told.field = fresh(base + (told.list ? QString("Lines") : what));
    }
    if (!goesOnByOne(n, value, told)) {
        deferredWidgets_.insert(Effects::root(*object));
        changeExpression(value, inside);
    }
    const bool wide = value.is("conditional") || value.is("binary") || value.is("operator");
    const QString open = told.list && wide ? "(" : "", close = told.list && wide ? ")" : "";
    QString after = close + ';';
    int variable = -1;
    QString from;
    const CodeRecord *cls = unit_.recordOfType(object->type);
    const qsizetype line = q_.text.lastIndexOf('\n', n.begin) + 1;
    const bool first = q_.text.mid(line, n.begin - line).trimmed().isEmpty();
    const QString next = first ? '\n' + QString(n.begin - line, ' ') : QString(' ');
    if (told.progress) {
        after += next + "promise.setProgressValue(*result." + told.field + ");";
    } else if (cls->is("QLabel") && told.method == "setText" && inside.loops.size() == 1 &&
               countsUp(*inside.loops.first(), &variable, &from) && from == "0") {
        told.label = nameOf(Effects::root(*object));
        after += next + QStringLiteral("promise.setProgressValueAndText(%1 + 1, *result.%2);")
                            .arg(nameOf(variable), told.field);
    }
    const auto [before, behind] =
        inside.aloneIn && after.contains("promise") ? bracesFor(n, inside) : std::pair<QString, QString>();
    out_.changes.append(
        {n.begin, value.begin, before + "result." + told.field + (told.list ? " << " : " = ") + open});
    out_.changes.append({value.end, n.end, after + behind});
    if (known == out_.deferred.end())
        out_.deferred << told;
    else if (!told.label.isEmpty())
        known->label = told.label;
}

// Two statements where one stood alone under an if or a loop: the opening brace goes to that one's line.
std::pair<QString, QString> Cutter::bracesFor(const CodeNode &n, const Inside &inside)
{
    const CodeNode *body = inside.loops.isEmpty() ? nullptr : inside.loops.first()->child("body");
    if (inside.loops.size() == 1 && body && body->begin == n.begin)
        return {}; // the outermost loop gets braces to ask for a cancellation
    int at = n.begin;
    while (at > 0 && q_.text[at - 1].isSpace())
        --at;
    const int line = int(q_.text.lastIndexOf('\n', n.begin)) + 1;
    const bool plain = at < line && at > 0 && (q_.text[at - 1] == ')' || q_.text.mid(at - 4, 4) == "else");
    if (!plain)
        return {"{ ", " }"};
    out_.changes.append({at, at, " {"});
    return {{}, '\n' + QString(std::max(0, n.begin - line - 4), ' ') + '}'};
}

// A bar and a label in the same work: a promise tells one value, with a text beside it.
void Cutter::tellTogether()
{
    static const QRegularExpression bars("promise\\.setProgressValue\\(\\*result\\.(\\w+)\\);"),
        labels("\\n[ \\t]*promise\\.setProgressValueAndText\\([^;]*\\*result\\.(\\w+)\\);");
    QString label;
    bool bar = false;
    for (const TextChange &c : std::as_const(out_.changes)) {
        bar = bar || c.text.contains(bars);
        if (const auto m = labels.match(c.text); m.hasMatch())
            label = m.captured(1);
    }
    if (!bar || label.isEmpty())
        return;
    for (TextChange &c : out_.changes) {
        c.text.remove(labels);
        c.text.replace(bars, "promise.setProgressValueAndText(*result.\\1, result." + label +
                                 ".value_or(QString()));");
    }
}

void Cutter::stop(const CodeNode &n, const Inside &inside)
{
    out_.stops = true;
    if (q_.steps)
        return;
    const QString indent = QString(n.begin - (q_.text.lastIndexOf('\n', n.begin) + 1), ' ');
    const QString two = "result.stopped = true;\n" + indent + "return result;";
    QString text = two;
    if (inside.aloneIn) {
        const QString outer = indent.left(std::max<qsizetype>(0, indent.size() - 4));
        text = "{\n" + indent + two + '\n' + outer + '}';
    }
    out_.changes.append({n.begin, n.end, text});
}

} // namespace pipit
