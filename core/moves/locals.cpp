// What a piece of code does to the variables of its own function.
#include "core/moves/effects.h"

namespace pipit
{

void Effects::findOwnPointers()
{
    QSet<int> changed;
    for (const CodeFunction &f : unit_.functions)
        f.body.each([&](const CodeNode &n) {
            const CodeDecl *d = unit_.decl(n.decl);
            if (n.is("variable") && d && d->kind == CodeDecl::Local) {
                const CodeRecord *r = unit_.recordOfType(d->type);
                const CodeType *t = unit_.type(d->type);
                if (t && t->form == CodeType::Value && r &&
                    (r->name == "std::unique_ptr" || r->name == "QScopedPointer"))
                    ownPointers_.insert(n.decl);
                else if (t && t->form == CodeType::Pointer && n.children.size() == 1 &&
                         (n.children.first().is("new") ||
                          (n.children.first().is("address") &&
                           isLocal(root(n.children.first().children.value(0))))))
                    ownPointers_.insert(n.decl);
            }
            if (n.is("assign") && !n.children.isEmpty() && n.children.first().is("name"))
                changed.insert(n.children.first().decl);
            return true;
        });
    ownPointers_ -= changed;
}

void Effects::findConstants()
{
    for (const CodeFunction &f : unit_.functions)
        f.body.each([&](const CodeNode &n) {
            const CodeDecl *d = n.is("variable") ? unit_.decl(n.decl) : nullptr;
            const CodeType *t = d ? unit_.type(d->type) : nullptr;
            if (!t || d->kind != CodeDecl::Static || !t->isConst || t->reference ||
                t->form != CodeType::Value)
                return true;
            bool calm = true;
            for (const CodeNode &init : n.children)
                calm = calm && of(init).isEmpty() && locals(init).reads.isEmpty();
            if (calm)
                constants_.insert(n.decl);
            return true;
        });
}

// Only what is put into it where it is declared, or by a plain assignment, and that is written down there.
const CodeNode *Effects::lambdaIn(const CodeNode &node)
{
    const CodeNode *at = &node;
    while (at->children.size() == 1 && !at->is("lambda"))
        at = &at->children.first();
    return at->is("lambda") ? at : nullptr;
}

void Effects::findOwnFunctions()
{
    QSet<int> unknown;
    for (const CodeFunction &f : unit_.functions)
        f.body.each([&](const CodeNode &n) {
            const CodeDecl *d = unit_.decl(n.decl);
            const CodeRecord *r = d && n.is("variable") ? unit_.recordOfType(d->type) : nullptr;
            if (r && r->name == "std::function" && d->kind == CodeDecl::Local && n.how.isEmpty()) {
                ownFunctions_[n.decl];
                if (const CodeNode *made = n.children.isEmpty() ? nullptr : lambdaIn(n.children.first()))
                    ownFunctions_[n.decl] << made;
                else if (!n.children.isEmpty() && !n.children.first().children.isEmpty())
                    unknown.insert(n.decl);
            }
            const bool assigns = n.is("assign") || (n.is("operator") && n.op == "=");
            if (assigns && n.children.size() == 2 && ownFunctions_.contains(root(n.children[0]))) {
                if (const CodeNode *made = lambdaIn(n.children[1]))
                    ownFunctions_[root(n.children[0])] << made;
                else
                    unknown.insert(root(n.children[0]));
            }
            // Handed on so that another function may be put into it.
            n.eachArgument([&](const CodeNode &c, QChar how) {
                if (how == 'r' || how == 'p')
                    unknown.insert(root(c.is("address") ? c.children.value(0) : c));
            });
            return true;
        });
    for (const int u : std::as_const(unknown))
        ownFunctions_.remove(u);
}

bool Effects::isLocal(int decl) const
{
    const CodeDecl *d = unit_.decl(decl);
    return d && (d->kind == CodeDecl::Local || d->kind == CodeDecl::Parameter);
}

namespace
{

struct LocalWalk {
    const CodeUnit &unit;
    Locals &out;
    QHash<int, int> &aliases; // a reference, and what it stands for

    bool isVariable(int decl) const
    {
        const CodeDecl *d = unit.decl(decl);
        return d && (d->kind == CodeDecl::Local || d->kind == CodeDecl::Parameter);
    }
    void read(int decl)
    {
        if (!isVariable(decl))
            return;
        if (!out.sets.contains(decl))
            out.reads.insert(decl);
        if (const int a = aliases.value(decl, -1); a >= 0 && a != decl)
            read(a);
    }
    void write(int decl)
    {
        if (!isVariable(decl))
            return;
        out.writes.insert(decl);
        if (const int a = aliases.value(decl, -1); a >= 0 && a != decl)
            write(a);
    }

    // What is written when this is: of a choice both.
    void writeTo(const CodeNode &n)
    {
        if (n.is("paren") && n.children.size() == 1)
            return writeTo(n.children.first());
        if (!n.is("conditional") || n.children.size() != 3)
            return write(Effects::root(n));
        writeTo(n.children[1]);
        writeTo(n.children[2]);
    }

    void passed(const CodeNode &n)
    {
        n.eachArgument([&](const CodeNode &c, QChar how) {
            if (how == 'r' || how == 'p' || how == 'm')
                writeTo(c.is("address") ? c.children.value(0) : c);
        });
    }

    void visit(const CodeNode &n, bool certain)
    {
        if (n.is("assign") && n.children.size() == 2) {
            const CodeNode &to = n.children[0];
            visit(n.children[1], certain);
            if (to.is("name")) {
                write(to.decl);
                if (certain && !out.reads.contains(to.decl) && !aliases.contains(to.decl))
                    out.sets.insert(to.decl);
            } else {
                visit(to, certain);
                writeTo(to);
            }
            return;
        }
        if (n.is("name"))
            read(n.decl);
        if (n.is("update") && !n.children.isEmpty())
            writeTo(n.children.first());
        if (n.is("address") && !n.children.isEmpty())
            writeTo(n.children.first());
        if (n.is("variable")) {
            out.declares.insert(n.decl);
            if (n.children.size() == 1 && n.children.first().is("address"))
                if (const int of = Effects::root(n.children.first().children.value(0)); of >= 0)
                    aliases.insert(n.decl, of);
            if (n.how.contains("reference") && !n.children.isEmpty()) {
                const int of = Effects::root(n.children.first());
                if (of >= 0)
                    aliases.insert(n.decl, of);
                if (n.how == "reference")
                    write(of);
            }
            if (!n.passes.isEmpty())
                passed(n);
        }
        if (n.is("bound"))
            out.declares.insert(n.decl);
        if (n.is("capture") && n.decl >= 0) {
            read(n.decl);
        }
        if (n.is("each"))
            if (const CodeNode *v = n.child("variable"), *range = n.child("range");
                v && range && v->how == "reference")
                writeTo(*range);
        const CodeDecl *d = unit.decl(n.decl);
        if ((n.is("method") || n.is("operator")) && d && d->kind == CodeDecl::Method && !d->isConst &&
            !d->isStatic)
            if (const CodeNode *object = n.is("method")
                                             ? n.child("object")
                                             : (n.children.isEmpty() ? nullptr : &n.children.first()))
                if (const CodeType *t = unit.type(object->type); !t || t->form != CodeType::Pointer)
                    writeTo(*object);
        if (n.is("call") || n.is("method") || n.is("operator") || n.is("construct") || n.is("new"))
            passed(n);
        const bool maybe = n.is("if") || n.isLoop() || n.is("switch") || n.is("try") || n.is("lambda") ||
                           n.is("conditional") || n.is("binary");
        for (const CodeNode &c : n.children)
            visit(c, certain && !maybe);
    }
};

} // namespace

Locals Effects::locals(const CodeNode &node) const
{
    Locals out;
    QHash<int, int> aliases;
    LocalWalk{unit_, out, aliases}.visit(node, true);
    return out;
}

} // namespace pipit
