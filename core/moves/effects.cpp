#include "core/moves/effects.h"

#include "core/moves/library.h"

namespace pipit
{

Effects::Effects(const CodeUnit &unit, const QSet<int> &owned, const QString &window)
    : unit_(unit), window_(window)
{
    findOwnPointers();
    ownPointers_ += owned;
    findOwnFunctions();
    findConstants();
    known_.clear(); // what was asked before all constants were known
}

bool Effects::isConstant(int decl) const
{
    const CodeDecl *d = unit_.decl(decl);
    return d && (d->fixed || constants_.contains(decl));
}

int Effects::root(const CodeNode &n)
{
    if (n.is("name") || (n.is("member") && n.onThis))
        return n.decl;
    if (n.children.isEmpty())
        return -1;
    if (n.is("member")) {
        const CodeNode &object = n.children.first();
        return object.is("this") ? n.decl : root(object);
    }
    if (n.is("paren") || n.is("index") || n.is("deref") || n.is("cast") ||
        (n.is("update") && n.children.size() == 1) || n.is("assign") || n.is("update"))
        return root(n.children.first());
    if (n.is("operator") && (n.op == "[]" || n.op == "<<" || n.op == ">>" || n.op == "->" || n.op == "*"))
        return root(n.children.first());
    if (n.is("method"))
        if (const CodeNode *object = n.child("object"))
            return root(*object);
    if (n.is("operator") && n.children.first().role == "object")
        return root(n.children.first());
    return -1;
}

// One walk over a tree.
struct Effects::Walk {
    const Effects &effects;
    const CodeUnit &unit;
    QList<Effect> out;
    QSet<const CodeNode *> set{}; // as a whole, without being read

    void add(Effect::Kind kind, const CodeNode &n, const QString &what, int decl = -1)
    {
        out.append({kind, decl, n.begin, what, {}, {}, false, true, &n});
    }

    void notRead(const CodeNode &n, const CodeDecl &d)
    {
        add(Effect::Unknown, n, "what " + d.qualified + " does is unknown: its code was not read");
        out.last().unread = true;
    }

    QString nameOf(int decl) const
    {
        const CodeDecl *d = unit.decl(decl);
        return d ? d->name : QString();
    }

    static bool isVariable(const CodeDecl &d)
    {
        return d.kind == CodeDecl::Local || d.kind == CodeDecl::Parameter;
    }

    void variable(const CodeNode &n, bool written)
    {
        const CodeDecl *d = unit.decl(n.decl);
        if (!d || effects.isConstant(n.decl) || d->kind == CodeDecl::Constant ||
            d->kind == CodeDecl::Method || d->kind == CodeDecl::FreeFunction)
            return;
        if (isVariable(*d) ||
            (n.is("member") && !n.onThis && !n.children.isEmpty() && !n.children.first().is("this")))
            return;
        // A pointer to a widget is only a name for it; what is done with it is told where it is done.
        if (!effects.bound(d->type).isEmpty() && !written)
            return;
        const CodeType *t = unit.type(d->type);
        const bool state =
            d->kind == CodeDecl::Field || d->kind == CodeDecl::Static || d->kind == CodeDecl::Global;
        if (!state || (!d->own && d->kind == CodeDecl::Global && t && t->isConst))
            return;
        if (!d->own && d->kind == CodeDecl::Global)
            return add(Effect::Unknown, n, d->qualified + " is a variable of a library", n.decl);
        add(written ? Effect::WritesShared : Effect::ReadsShared, n,
            d->name + (written ? " is changed" : " is read"), n.decl);
    }

    // What is reached through a pointer may be anybody's.
    void pointed(const CodeNode &n, const CodeNode &pointer)
    {
        const CodeType *t = unit.type(pointer.type);
        if (!t || t->form != CodeType::Pointer || pointer.is("this") || pointer.is("text") ||
            effects.ownPointers_.contains(root(pointer)))
            return;
        if (!effects.bound(pointer.type).isEmpty() || t->canonical.contains("char"))
            return;
        if (pointer.is("paren") || pointer.is("cast") || pointer.is("name") || pointer.is("member"))
            if (const CodeDecl *d = unit.decl(root(pointer)))
                if (const CodeType *of = unit.type(d->type);
                    of && of->form == CodeType::Array && isVariable(*d))
                    return;
        add(Effect::Unknown, n, "what " + nameOf(root(pointer)) + " points to may be used elsewhere");
    }

    void written(const CodeNode &target)
    {
        if (target.is("paren") && target.children.size() == 1)
            return written(target.children.first());
        if (target.is("conditional") && target.children.size() == 3) {
            written(target.children[1]);
            return written(target.children[2]);
        }
        const CodeNode *at = &target;
        while (!at->children.isEmpty() && !(at->is("member") && at->onThis) &&
               (at->is("paren") || at->is("index") || at->is("cast") ||
                (at->is("member") && !at->children.first().is("this")) ||
                (at->is("operator") && at->op == "[]")))
            at = &at->children.first();
        if (at->is("name") || at->is("member"))
            variable(*at, true);
        else if (at->is("method") || at->is("operator") || at->is("call"))
            if (const int r = root(*at); r >= 0)
                if (const CodeDecl *d = unit.decl(r); d && !isVariable(*d)) {
                    if (effects.bound(d->type).isEmpty() && !effects.isConstant(r))
                        add(Effect::WritesShared, *at, d->name + " is changed", r);
                }
    }

    // Whether the function that it calls is a lambda among the arguments.
    static bool isHandedLambda(const Effect &e, const CodeFunction *f,
                               const QList<const CodeNode *> &arguments)
    {
        for (qsizetype i = 0; f && i < f->parameters.size() && i < arguments.size(); ++i)
            if (f->parameters[i].decl == e.decl)
                return lambdaIn(*arguments[i]) != nullptr;
        return false;
    }

    void followed(const CodeNode &n, const CodeDecl &d)
    {
        if (d.isVirtual && !n.named && !n.is("construct") && !n.is("new"))
            return add(Effect::Unknown, n, d.name + " may be overridden, so the called function is unknown");
        const CodeFunction *function = unit.functionOf(n.decl);
        QList<const CodeNode *> arguments;
        n.eachArgument([&](const CodeNode &c, QChar) { arguments << &c; });
        for (Effect e : effects.ofFunction(n.decl)) {
            if (e.method == "()" && isHandedLambda(e, function, arguments))
                continue; // it is among the arguments, with what it does
            // What it does to what it is handed, is done to that.
            for (qsizetype i = 0; function && e.decl >= 0 && i < function->parameters.size(); ++i)
                if (function->parameters[i].decl == e.decl && i < arguments.size()) {
                    const QString old = nameOf(e.decl);
                    e.decl = root(*arguments[i]);
                    if (e.what.startsWith(old + ' '))
                        e.what.replace(0, old.size(), calledOf(e.decl));
                    break;
                }
            const bool own =
                n.is("method") && (n.onThis || (n.child("object") && n.child("object")->is("this")));
            e.at = n.begin;
            e.node = nullptr;
            e.ofThis = e.ofThis && own;
            if (e.through.isEmpty())
                e.through = d.name;
            // Members of an object that only this function has are its own business.
            const CodeDecl *of = unit.decl(e.decl);
            const CodeNode *object = n.child("object");
            const CodeDecl *holder = object ? unit.decl(root(*object)) : nullptr;
            const bool ownObject = holder && isVariable(*holder) && unit.type(holder->type) &&
                                   unit.type(holder->type)->form == CodeType::Value &&
                                   effects.bound(holder->type).isEmpty();
            const bool made = n.is("construct") || n.is("new") || n.is("variable");
            const bool itself = of && of->kind == CodeDecl::Field && isPartOf(of->record, d.record) &&
                                (e.kind == Effect::ReadsShared || e.kind == Effect::WritesShared);
            if (itself && (ownObject || made))
                continue;
            if (itself && !own && object && isState(*object)) {
                e.decl = root(*object);
                e.through = d.name;
                e.what = holder->name + (e.kind == Effect::ReadsShared ? " is read" : " is changed");
                e.ofThis = isOfThis(*object);
            }
            out << e;
        }
    }

    // Whether what stands at the root of `a.b[i]` is a member of this object.
    static bool isOfThis(const CodeNode &n)
    {
        if (n.is("member") && (n.onThis || (!n.children.isEmpty() && n.children.first().is("this"))))
            return true;
        return !n.is("name") && !n.children.isEmpty() && isOfThis(n.children.first());
    }

    // A field of a class, or of what that derives from.
    bool isPartOf(int fields, int record) const
    {
        const CodeRecord *whose = unit.record(fields), *r = unit.record(record);
        return fields == record || (whose && r && (r->name == whose->name || r->bases.contains(whose->name)));
    }

    // An object that is a member or variable, or a part of one: what it does to itself is done to that.
    bool isState(const CodeNode &object) const
    {
        const int at = root(object);
        const CodeDecl *holder = unit.decl(at);
        const CodeType *t = holder ? unit.type(holder->type) : nullptr, *self = unit.type(object.type);
        if (!t || !self || isVariable(*holder) || !effects.bound(holder->type).isEmpty())
            return false;
        return effects.ownPointers_.contains(at) ||
               (t->form == CodeType::Value && self->form == CodeType::Value);
    }

    void library(const CodeNode &n, const CodeDecl &d)
    {
        switch (libraryFunction(unit, d)) {
        case LibraryCall::Harmless:
            return;
        case LibraryCall::Writes:
            return add(Effect::WritesWidget, n, d.qualified + " belongs to the event loop");
        case LibraryCall::Asks:
            return add(Effect::Asks, n, d.qualified + " waits for an answer");
        case LibraryCall::Pumps:
            return add(Effect::Pumps, n, d.qualified + " lets other handlers run");
        case LibraryCall::Unknown:
            return add(Effect::Unknown, n, d.qualified + " changes the state of the whole program");
        case LibraryCall::Unlisted:
            return add(Effect::Unknown, n,
                       "whether " + d.qualified + " may run on another thread is not known");
        }
    }

    // A method of something that lives on the loop, or of the window itself.
    void boundMethod(const CodeNode &n, const CodeDecl &d, int who)
    {
        const QString name = who >= 0 ? nameOf(who) : QString("the window");
        if (waitsForAPerson(d))
            return add(Effect::Asks, n, name + " waits for an answer", who);
        if (d.name == "sender" || d.name == "senderSignalIndex")
            return add(Effect::Sender, n, "it asks who sent the signal");
        if (d.isConst)
            return add(Effect::ReadsWidget, n, name + " is read", who);
        add(Effect::WritesWidget, n, name + " is changed by " + d.name, who);
        out.last().method = d.name;
    }

    void method(const CodeNode &n)
    {
        const CodeDecl *d = unit.decl(n.decl);
        if (!d)
            return add(Effect::Unknown, n, "the called function is unknown");
        const CodeNode *object = n.child("object");
        const CodeRecord *cls = unit.record(d->record);
        if (d->isSignal)
            return add(Effect::Emits, n, d->name + " is emitted");
        if (d->own) {
            if (unit.functionOf(n.decl))
                return followed(n, *d);
            if (cls && cls->is("QObject") && !mayLiveInWork(*cls))
                return notRead(n, *d);
            if (d->hasBody)
                return;
            return notRead(n, *d);
        }
        if (n.onThis || (object && object->is("this")))
            return cls && (cls->is("QObject") || livesOnTheLoop(*cls)) ? boundMethod(n, *d, -1) : void();
        if (!object)
            return;
        const CodeDecl *who = unit.decl(root(*object));
        const QString b = effects.bound(object->type);
        if (!b.isEmpty())
            return boundMethod(n, *d, root(*object));
        const CodeRecord *r = unit.recordOfType(object->type);
        if (r && r->is("QObject") && who && !isVariable(*who))
            return add(Effect::Unknown, n, who->name + " belongs to the event loop", root(*object));
        if (unit.type(object->type) && unit.type(object->type)->form == CodeType::Pointer)
            pointed(n, *object);
        if (!d->isConst)
            written(*object);
    }

    void made(const CodeNode &n)
    {
        const CodeDecl *d = unit.decl(n.decl);
        const CodeRecord *r = d ? unit.record(d->record) : nullptr;
        if (r && (r->is("QObject") ? !mayLiveInWork(*r) : livesOnTheLoop(*r)))
            return add(n.is("new") ? Effect::Creates : Effect::WritesWidget, n,
                       "a " + r->name + " is created, which belongs to the event loop");
        if (r && r->is("QObject") && n.is("new"))
            return add(Effect::Creates, n, "a " + r->name + " is created, and its owner is unknown");
        if (d && d->own && unit.functionOf(n.decl))
            return followed(n, *d);
        if (d && d->own && !d->hasBody && r && !r->copies)
            notRead(n, *d);
    }

    void call(const CodeNode &n)
    {
        const CodeDecl *d = unit.decl(n.decl);
        if (!d)
            return add(Effect::Unknown, n, "the called function is known only at run time");
        const CodeRecord *r = unit.record(d->record);
        // What a function is handed to be called, is known where that is called.
        const bool calls = r && (r->lambda || (r->name == "std::function" && d->name == "operator()"));
        const CodeDecl *held = calls && !n.children.isEmpty() ? unit.decl(root(n.children.first())) : nullptr;
        if (held && held->kind == CodeDecl::Parameter) {
            add(Effect::Unknown, n, "the called function is known only at run time",
                root(n.children.first()));
            out.last().method = "()";
            return;
        }
        if (r && r->lambda) {
            for (Effect e : effects.ofFunction(n.decl)) {
                e.at = n.begin;
                e.node = nullptr;
                e.ofThis = false;
                e.through = n.children.isEmpty() ? d->name : nameOf(root(n.children.first()));
                out << e;
            }
            return;
        }
        if (r && r->name == "std::function" && d->name == "operator()" && isOwnFunction(n))
            return;
        if (r && r->name == "std::function" && d->name == "operator()")
            return add(Effect::Unknown, n, "the called function is known only at run time");
        if (n.is("operator") && d->kind == CodeDecl::Method && !d->own) {
            if (!n.children.isEmpty() && !d->isConst)
                written(n.children.first());
            return;
        }
        if (d->own) {
            if (unit.functionOf(n.decl))
                followed(n, *d);
            else if (!d->hasBody)
                notRead(n, *d);
            if (n.is("operator") && d->kind == CodeDecl::Method && !d->isConst && !n.children.isEmpty())
                written(n.children.first());
            return;
        }
        library(n, *d);
    }

    // A function that is held in a variable of this function's, and known: what it does is done here.
    bool isOwnFunction(const CodeNode &n)
    {
        const int held = n.children.isEmpty() ? -1 : root(n.children.first());
        const QList<const CodeNode *> made = effects.ownFunctions_.value(held);
        if (made.isEmpty())
            return false;
        if (effects.openFunctions_.contains(held)) // it calls itself
            return true;
        effects.openFunctions_.insert(held);
        for (const CodeNode *each : made)
            for (Effect e : effects.of(*each)) {
                e.at = n.begin;
                e.node = nullptr;
                e.through = nameOf(held);
                e.ofThis = false;
                out << e;
            }
        effects.openFunctions_.remove(held);
        return true;
    }

    QString calledOf(int decl) const
    {
        const QString name = nameOf(decl);
        return name.isEmpty() ? QStringLiteral("an object of the event loop") : name;
    }

    // What is handed over so that it can be written to.
    void passed(const CodeNode &n)
    {
        n.eachArgument([&](const CodeNode &c, QChar how) {
            const bool self = c.is("this");
            const CodeDecl *callee = unit.decl(n.decl);
            const bool known = callee && callee->own && unit.functionOf(n.decl);
            // A method of what is no widget may only keep it: a list of labels.
            const CodeNode *object = n.is("method") ? n.child("object") : nullptr;
            const bool kept = n.is("method") && !(object && !effects.bound(object->type).isEmpty());
            if ((self || !effects.bound(c.type).isEmpty()) && !known && !kept)
                add(Effect::WritesWidget, c,
                    (self ? QString("the window") : calledOf(root(c))) + " is passed on",
                    self ? -1 : root(c));
            else if (how == 'r' ||
                     (how == 'm' && n.is("operator") == false && !c.is("call") && !c.is("construct")))
                written(c);
            else if (how == 'p' && c.is("address"))
                written(c.children.value(0));
        });
    }

    bool operator()(const CodeNode &n)
    {
        if (n.is("name") || n.is("member")) {
            if (!set.contains(&n))
                variable(n, false);
            if (n.is("member") && !n.children.isEmpty())
                pointed(n, n.children.first());
        } else if (n.is("method")) {
            method(n);
            passed(n);
        } else if (n.is("call") || n.is("operator")) {
            call(n);
            passed(n);
        } else if (n.is("construct") || n.is("new")) {
            made(n);
            passed(n);
        } else if (n.is("variable")) {
            const CodeDecl *d = unit.decl(n.decl);
            const CodeType *t = d ? unit.type(d->type) : nullptr;
            const CodeRecord *r =
                t && t->form == CodeType::Value && n.how.isEmpty() ? unit.record(t->record) : nullptr;
            if (r && (r->is("QObject") ? !mayLiveInWork(*r) : livesOnTheLoop(*r)))
                add(r->is("QDialog") || r->name == "QEventLoop" ? Effect::Asks : Effect::WritesWidget, n,
                    d->name + " is a " + r->name + ", which belongs to the event loop", n.decl);
            if (d && d->kind == CodeDecl::Static && !effects.isConstant(n.decl))
                add(Effect::WritesShared, n, d->name + " keeps its value from one call to the next", n.decl);
            if (n.how == "reference" && !n.children.isEmpty())
                written(n.children.first());
            if (!n.passes.isEmpty())
                passed(n);
        } else if (n.is("assign") || n.is("update")) {
            if (!n.children.isEmpty())
                written(n.children.first());
            if (n.is("assign"))
                set.insert(&n.children.first());
        } else if (n.is("each")) {
            const CodeNode *v = n.child("variable"), *range = n.child("range");
            if (v && range && v->how == "reference")
                written(*range);
        } else if (n.is("address")) {
            if (!n.children.isEmpty())
                if (const CodeDecl *d = unit.decl(root(n.children.first()));
                    d && !isVariable(*d) && d->type >= 0 && !effects.isConstant(root(n.children.first())) &&
                    d->kind != CodeDecl::Method && d->kind != CodeDecl::FreeFunction)
                    written(n.children.first());
        } else if (n.is("deref") || n.is("index")) {
            if (!n.children.isEmpty())
                pointed(n, n.children.first());
        } else if (n.is("delete")) {
            if (!n.children.isEmpty() && !effects.bound(n.children.first().type).isEmpty())
                add(Effect::WritesWidget, n, nameOf(root(n.children.first())) + " is deleted");
        } else if (n.is("goto") || n.is("label")) {
            add(Effect::Unknown, n, "it uses goto");
        } else if (n.is("unknown")) {
            add(Effect::Unknown, n, "this form of code is not understood (" + n.op + ')');
        }
        return true;
    }
};

QList<Effect> Effects::of(const CodeNode &node) const
{
    Walk walk{*this, unit_, {}};
    node.each(walk);
    return walk.out;
}

QList<Effect> Effects::ofFunction(int decl) const
{
    if (const auto it = known_.constFind(decl); it != known_.constEnd())
        return *it;
    const CodeFunction *f = unit_.functionOf(decl);
    if (!f)
        return {};
    if (open_.contains(decl)) { // one that calls itself adds nothing to what it does
        ++circles_;
        return {};
    }
    const int circles = circles_;
    open_.insert(decl);
    QList<Effect> all = of(f->body);
    for (const CodeNode &i : f->inits)
        all << of(i);
    open_.remove(decl);
    // Once for each thing that it touches.
    QList<Effect> once;
    for (const Effect &e : std::as_const(all))
        if (std::none_of(once.begin(), once.end(), [&](const Effect &o) {
                return o.kind == e.kind && o.decl == e.decl && o.method == e.method &&
                       (e.decl >= 0 || o.what == e.what);
            }))
            once << e;
    if (circles == circles_ || open_.isEmpty()) // within a circle it is not whole yet
        known_.insert(decl, once);
    return once;
}

} // namespace pipit
