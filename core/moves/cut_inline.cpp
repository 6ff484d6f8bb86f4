// A function that tells widgets something, called in the middle of the work: its statements come in place of
// the call, and what they tell comes with the result. A method of the window's, a function of the file that
// is handed the widgets, or a lambda of the handler's own.
#include "core/moves/cutter.h"
#include "core/moves/swept.h"
#include "core/moves/writer.h"

#include <algorithm>

namespace pipit
{

namespace
{

QList<const CodeNode *> argumentsOf(const CodeNode &call)
{
    QList<const CodeNode *> all;
    for (const CodeNode &c : call.children)
        if (c.role != "object" && c.role != "callee")
            all << &c;
    return all;
}

bool isMember(const CodeNode &n)
{
    return n.is("member") && (n.onThis || (n.children.size() == 1 && n.children.first().is("this")));
}

} // namespace

struct Cutter::Callee {
    int decl = -1;
    const CodeNode *body = nullptr;
    QList<CodeFunction::Parameter> parameters;
};

// A lambda of the handler's own that holds nothing of it: each part may have it.
const CodeNode *Cutter::teller(int decl) const
{
    const Piece *p = pieceDeclaring(decl);
    const CodeNode *v =
        p && p->node->is("declare") && p->node->children.size() == 1 ? &p->node->children.first() : nullptr;
    const CodeNode *lambda = v && v->children.size() == 1 ? &v->children.first() : nullptr;
    while (lambda && !lambda->is("lambda") && lambda->children.size() == 1)
        lambda = &lambda->children.first();
    if (!lambda || !lambda->is("lambda") || !lambda->child("body"))
        return nullptr;
    const Locals l = effects_.locals(*lambda);
    QSet<int> own = l.declares;
    lambda->each([&](const CodeNode &n) {
        if (n.is("variable"))
            own.insert(n.decl);
        return true;
    });
    if (!(l.reads + l.writes - own).isEmpty())
        return nullptr;
    return lambda;
}

void Cutter::findTellers()
{
    for (const Piece &p : std::as_const(pieces_))
        for (const int v : p.locals.declares)
            if (teller(v))
                out_.tellers.insert(v);
}

bool Cutter::calleeOf(const CodeNode &call, Callee *callee) const
{
    const CodeDecl *d = unit_.decl(call.decl);
    const CodeType *returns = d ? unit_.type(d->returns) : nullptr;
    if (q_.steps || !d || d->isVirtual || call.macro || !returns || returns->form != CodeType::Void)
        return false;
    callee->decl = call.decl;
    const CodeRecord *r = unit_.record(d->record);
    if (call.is("operator") && r && r->lambda) {
        const CodeNode *object = call.child("object");
        const CodeNode *lambda = object && object->is("name") ? teller(object->decl) : nullptr;
        if (!lambda)
            return false;
        callee->body = lambda->child("body");
        for (const CodeNode &c : lambda->children)
            if (c.role == "parameter")
                callee->parameters.append({c.decl, c.begin, c.end});
        return true;
    }
    const bool reached = (call.is("method") && call.onThis) || (call.is("call") && r == nullptr);
    const CodeFunction *f = d->own && reached ? unit_.functionOf(call.decl) : nullptr;
    if (!f || f->file != q_.function.file) // its text must be the file's own
        return false;
    callee->body = &f->body;
    callee->parameters = f->parameters;
    return true;
}

bool Cutter::canPutInPlace(const CodeNode &call, const Callee &f) const
{
    bool plain = true;
    f.body->each([&](const CodeNode &n) {
        plain = plain && !n.is("return") && !n.is("lambda") && !n.macro && !n.isLoop() && n.decl != f.decl;
        return plain;
    });
    const QList<const CodeNode *> given = argumentsOf(call);
    plain = plain && given.size() == f.parameters.size();
    for (qsizetype i = 0; plain && i < given.size(); ++i) {
        const CodeDecl *p = unit_.decl(f.parameters[i].decl);
        const CodeType *t = p ? unit_.type(p->type) : nullptr;
        plain = t && !(t->reference && !t->isConst);
        if (plain && !effects_.bound(p->type).isEmpty()) {
            plain = isMember(*given[i]);
            continue;
        }
        // What it is called there must not be what it is made of here.
        bool same = false;
        for (const int v : effects_.locals(*given[i]).reads)
            same = same || (!given[i]->is("name") && nameOf(v) == p->name);
        plain = plain && t->form == CodeType::Value && !same;
    }
    return plain;
}

bool Cutter::putInPlace(const CodeNode &n, const Inside &inside)
{
    Callee callee;
    // Two that call each other would never end.
    if (!calleeOf(n, &callee) || putting_.contains(callee.decl) || !canPutInPlace(n, callee))
        return false;
    const Cut before = out_;
    const auto hoisted = hoisted_;
    const auto deferred = deferredWidgets_;
    const auto put = put_;
    putting_.insert(callee.decl);
    const QString text = inPlace(n, callee, inside);
    putting_.remove(callee.decl);
    if (out_.refused.size() > before.refused.size()) {
        out_ = before;
        hoisted_ = hoisted;
        deferredWidgets_ = deferred;
        put_ = put;
        return false;
    }
    // What was changed in the function itself is in the text.
    out_.changes.removeIf(
        [&](const TextChange &c) { return c.begin >= callee.body->begin && c.end <= callee.body->end; });
    out_.changes.append({n.begin, n.end, text});
    return true;
}

// The window's own widgets in the place of those that a function is handed.
CodeNode Cutter::withMembers(const CodeNode &n, const QHash<int, const CodeNode *> &members) const
{
    CodeNode copy = n;
    if (const CodeNode *member = n.is("name") ? members.value(n.decl) : nullptr) {
        copy = *member;
        copy.onThis = true;
        copy.role = n.role;
        copy.children.clear();
        copy.begin = n.begin;
        copy.end = n.end;
        return copy;
    }
    for (CodeNode &c : copy.children)
        c = withMembers(c, members);
    return copy;
}

QString Cutter::inPlace(const CodeNode &call, const Callee &f, const Inside &inside)
{
    const QString indent(call.begin - (q_.text.lastIndexOf('\n', call.begin) + 1), ' ');
    QString text = "{\n";
    QHash<int, const CodeNode *> members;
    const QList<const CodeNode *> given = argumentsOf(call);
    for (qsizetype i = 0; i < given.size(); ++i) {
        const CodeNode &argument = *given[i];
        const int p = f.parameters[i].decl;
        const CodeDecl *parameter = unit_.decl(p);
        if (!effects_.bound(parameter->type).isEmpty()) {
            members.insert(p, given[i]);
            continue;
        }
        changeExpression(argument, inside);
        regionWrites_.insert(p);
        const QString value = CodeWriter::changed(q_.text, argument.begin, argument.end, out_.changes);
        if (!parameter->name.isEmpty() && value != parameter->name)
            text += indent + "    const " + typeName(parameter->type) + ' ' + parameter->name + " = " +
                    value + ";\n";
    }
    dropWithin(call.begin, call.end);
    f.body->each([&](const CodeNode &n) {
        if (n.is("variable"))
            regionWrites_.insert(n.decl);
        return true;
    });
    put_.insert(f.decl);
    if (!members.isEmpty())
        copies_.push_back(withMembers(*f.body, members));
    const CodeNode &body = members.isEmpty() ? *f.body : copies_.back();
    Inside within = inside;
    within.aloneIn = false;
    within.maybe = true;
    within.block = nullptr;
    for (const CodeNode &s : body.children) {
        changeStatement(s, within);
        QString line = CodeWriter::changed(q_.text, s.begin, s.end, out_.changes);
        const QString old(s.begin - (q_.text.lastIndexOf('\n', s.begin) + 1), ' ');
        line.replace('\n' + old, '\n' + indent + "    ");
        text += indent + "    " + line + '\n';
    }
    return text + indent + '}';
}

// A function of the person's that has been read keeps no lambda without being told of it; the algorithms of
// the standard's call it while they run (ISO C++, [algorithms.requirements]).
bool Cutter::callsAtOnce(const CodeNode &n) const
{
    const CodeDecl *d = n.is("call") || n.is("method") ? unit_.decl(n.decl) : nullptr;
    static const QSet<QString> algorithms{"for_each", "transform", "sort",    "stable_sort",
                                          "find_if",  "any_of",    "all_of",  "none_of",
                                          "count_if", "generate",  "copy_if", "accumulate"};
    return d && (d->own ? unit_.functionOf(n.decl) != nullptr
                        : d->qualified.startsWith("std::") && algorithms.contains(d->name));
}

// What it tells widgets comes with the result; it has the work's own variables instead of the window.
void Cutter::changeLambda(const CodeNode &n, const Inside &inside)
{
    const CodeNode *body = n.child("body");
    const qsizetype open = n.begin, close = q_.text.indexOf(']', open);
    if (q_.steps || !body || n.macro || close < 0 || q_.text[open] != '[' ||
        q_.text.mid(close, body->begin - close).contains("mutable"))
        return refuse(n.begin, "the function it is passed to is not analysed");
    QStringList kept;
    bool values = false;
    for (const QString &each : q_.text.mid(open + 1, close - open - 1).split(',', Qt::SkipEmptyParts)) {
        const QString capture = each.trimmed();
        values = values || capture == "=";
        if (capture != "=" && capture != "this" && capture != "*this" && !capture.startsWith('&'))
            kept << capture;
    }
    const QString head = values ? QString("=, &result, &promise") : QString("&");
    out_.changes.append({int(open), int(close) + 1, '[' + (QStringList{head} + kept).join(", ") + ']'});
    Inside within = inside;
    within.loops << &n;
    within.maybe = within.lambda = true;
    within.aloneIn = within.leaving = false;
    changeStatement(*body, within);
}

// What is set many times has its last value in the end, and what is added its order; both on one widget, or
// two ways of adding, would come in another order than they did.
bool Cutter::keepsOrder(const Deferred &told)
{
    for (const Deferred &d : std::as_const(out_.deferred)) {
        if (!d.widgets.intersects(told.widgets))
            continue;
        const bool one = d.method == told.method, made = !d.replay.isEmpty() || !told.replay.isEmpty();
        // setText and setNum set the same, setText and setStyleSheet do not.
        const bool setDifferently =
            settingOf(d.method).isEmpty() || settingOf(d.method) != settingOf(told.method);
        const bool fits = d.list != told.list ? false
                          : !d.list           ? one || setDifferently
                          : made              ? d.byRow && told.byRow && !one
                                              : one;
        if (fits)
            continue;
        refuse(told.at, d.list != told.list
                            ? told.widget + " is both set and added to during the work"
                            : told.widget + " is " + (d.list ? "added to" : "set") +
                                  " in several ways during the work, so the order would be lost");
        return false;
    }
    return true;
}

// bar->setValue(bar->value() + 1): it goes on from where it was when the work began, and no further than a
// bar does.
bool Cutter::goesOnByOne(const CodeNode &n, const CodeNode &value, const Deferred &told)
{
    const CodeNode *read = value.is("binary") && value.op == "+" && value.children.size() == 2
                               ? &value.children.first()
                               : nullptr;
    const CodeNode *object = n.child("object"),
                   *of = read && read->is("method") ? read->child("object") : nullptr;
    const int bar = Effects::root(*object);
    if (!told.progress || !of || nameOf(read->decl) != "value" || textOf(value.children.last()) != "1" ||
        Effects::root(*of) != bar || bar < 0)
        return false;
    for (int i = first_; i <= last_; ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && e.decl == bar && e.method != "setValue")
                return false;
    const QString name = "result." + told.field;
    QString base = nameOf(bar);
    while (base.endsWith('_'))
        base.chop(1);
    const auto known = [&](const QString &what, const QString &asked) {
        QString &called = hoisted_[asked];
        if (called.isEmpty()) {
            Handed h;
            called = h.name = h.field = fresh(base + what);
            h.type = "int";
            h.value = asked;
            out_.input << h;
        }
        return called;
    };
    const QString from = known("Before", textOf(*of) + told.arrow + "value()"),
                  limit = known("Maximum", textOf(*of) + told.arrow + "maximum()");
    QSet<QString> set; // before the work, by the handler itself
    for (int i = 0; i < first_; ++i)
        for (const Effect &e : pieces_[i].effects)
            if (e.kind == Effect::WritesWidget && e.decl == bar)
                set.insert(e.method);
    if (set.contains("setValue") && (set.contains("setRange") || set.contains("setMaximum")))
        setByItself_.insert(bar);
    deferredWidgets_.insert(bar);
    out_.changes.append(
        {value.begin, value.end, "std::min(" + name + ".value_or(" + from + ") + 1, " + limit + ')'});
    return true;
}

} // namespace pipit
