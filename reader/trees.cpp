// The trees of functions.
#include "reader/facts.h"

#include <clang/AST/Expr.h>
#include <clang/AST/Stmt.h>

using namespace clang;
namespace json = llvm::json;

namespace reader
{

namespace
{

// What was written beneath what the language adds.
const Stmt *written(const Stmt *s)
{
    for (;;) {
        if (const auto *e = dyn_cast_or_null<Expr>(s)) {
            const Expr *plain = e->IgnoreImplicit();
            if (const auto *c = dyn_cast<CXXConstructExpr>(plain);
                c && !isa<CXXTemporaryObjectExpr>(c) && c->getNumArgs() >= 1 &&
                (c->isElidable() || c->getConstructor()->isCopyOrMoveConstructor() ||
                 !c->getParenOrBraceRange().isValid()) &&
                (c->getNumArgs() == 1 || isa<CXXDefaultArgExpr>(c->getArg(1))) &&
                c->getBeginLoc() == c->getArg(0)->getBeginLoc())
                plain = c->getArg(0);
            if (const auto *f = dyn_cast<CXXFunctionalCastExpr>(plain);
                f && isa<CXXConstructExpr>(f->getSubExpr()->IgnoreImplicit()))
                plain = f->getSubExpr()->IgnoreImplicit();
            else if (const auto *i = dyn_cast<CXXDefaultInitExpr>(plain))
                plain = i->getExpr();
            if (plain == e)
                return e;
            s = plain;
            continue;
        }
        if (const auto *a = dyn_cast_or_null<AttributedStmt>(s)) {
            s = a->getSubStmt();
            continue;
        }
        return s;
    }
}

} // namespace

json::Object Facts::node(const char *kind, const Stmt *s, bool statement)
{
    const Range r = statement ? statementRange(s) : rangeOf(s->getSourceRange());
    json::Object out{{"k", kind}, {"b", r.begin}, {"e", r.end}};
    if (r.macro)
        out["m"] = true;
    return out;
}

void Facts::add(json::Array &to, const Stmt *s, const char *role)
{
    if (s && !isa<CXXDefaultArgExpr>(s))
        to.push_back(tree(s, role));
}

// The names of a structured binding.
void Facts::addBound(json::Array &to, const VarDecl *v)
{
    const auto *d = dyn_cast<DecompositionDecl>(v);
    for (const BindingDecl *b : d ? d->bindings() : ArrayRef<BindingDecl *>()) {
        const Range at = rangeOf(b->getSourceRange());
        to.push_back(json::Object{
            {"k", "bound"}, {"b", at.begin}, {"e", at.end}, {"d", declared(b)}, {"t", type(b->getType())}});
    }
}

void Facts::addVariable(json::Array &to, const VarDecl *v, const char *role)
{
    if (!v)
        return;
    const Range r = rangeOf(v->getSourceRange());
    json::Object out{
        {"k", "variable"}, {"b", r.begin}, {"e", r.end}, {"d", declared(v)}, {"t", type(v->getType())}};
    if (role)
        out["r"] = role;
    if (v->getType()->isReferenceType())
        out["x"] = v->getType().getNonReferenceType().isConstQualified() ? "constant reference" : "reference";
    json::Array children;
    if (isa<DecompositionDecl>(v))
        out["x"] = "binding";
    // An object made without arguments has nothing that is written.
    const Expr *init = v->getInit();
    const auto *made = dyn_cast_or_null<CXXConstructExpr>(init ? init->IgnoreImplicit() : nullptr);
    const bool silent = made && made->getNumArgs() == 0 && !made->getParenOrBraceRange().isValid();
    if (silent)
        out["made"] = declared(made->getConstructor());
    else if (init && v->getInitStyle() == VarDecl::CInit)
        add(children, init);
    else if (made) {
        out["made"] = declared(made->getConstructor());
        for (const Expr *a : made->arguments())
            add(children, a);
        out["p"] = passing(made->getConstructor(), made->getNumArgs(), 0);
    } else
        add(children, init);
    addBound(children, v);
    out["c"] = std::move(children);
    to.push_back(std::move(out));
}

// How each argument is passed: v by value or constant reference, r a reference that can be written through,
// p a pointer through which can be written.
std::string Facts::passing(const FunctionDecl *f, unsigned arguments, unsigned skip) const
{
    std::string out;
    for (unsigned i = 0; i + skip < arguments; ++i) {
        if (!f || i >= f->getNumParams()) {
            out += 'v';
            continue;
        }
        const QualType t = f->getParamDecl(i)->getType();
        if (t->isLValueReferenceType() && !t->getPointeeType().isConstQualified())
            out += 'r';
        else if (t->isPointerType() && !t->getPointeeType().isConstQualified())
            out += 'p';
        else
            out += t->isRValueReferenceType() ? 'm' : 'v';
    }
    return out;
}

void Facts::call(const CallExpr *e, json::Object &out, json::Array &children)
{
    const FunctionDecl *f = e->getDirectCallee();
    out["k"] = "call";
    if (f)
        out["d"] = declared(f);
    unsigned skip = 0;
    if (const auto *m = dyn_cast<CXXMemberCallExpr>(e)) {
        out["k"] = "method";
        const Expr *object = m->getImplicitObjectArgument();
        if (object && !object->isImplicitCXXThis())
            add(children, object, "object");
        else
            out["this"] = true;
        const auto *callee = dyn_cast<MemberExpr>(m->getCallee()->IgnoreParens());
        if (callee && callee->hasQualifier())
            out["named"] = true; // which class's is said, so no other is called
        if (!f)
            add(children, m->getCallee(), "callee");
    } else if (const auto *o = dyn_cast<CXXOperatorCallExpr>(e)) {
        out["k"] = "operator";
        out["o"] = getOperatorSpelling(o->getOperator());
        skip = isa_and_nonnull<CXXMethodDecl>(f) ? 1 : 0;
    } else if (!f) {
        add(children, e->getCallee(), "callee");
    }
    for (const Expr *a : e->arguments())
        add(children, a, skip && a == e->getArg(0) ? "object" : nullptr);
    out["p"] = passing(f, e->getNumArgs(), skip);
}

void Facts::construct(const CXXConstructExpr *e, json::Object &out, json::Array &children)
{
    out["k"] = "construct";
    out["d"] = declared(e->getConstructor());
    for (const Expr *a : e->arguments())
        add(children, a);
    out["p"] = passing(e->getConstructor(), e->getNumArgs(), 0);
}

void Facts::lambda(const LambdaExpr *e, json::Object &out, json::Array &children)
{
    out["k"] = "lambda";
    for (const LambdaCapture &c : e->captures()) {
        json::Object each{{"k", "capture"}, {"b", -1}, {"e", -1}};
        each["x"] = c.getCaptureKind() == LCK_ByRef ? "reference" : "value";
        if (c.capturesVariable())
            each["d"] = declared(c.getCapturedVar());
        else
            each["this"] = true;
        children.push_back(std::move(each));
    }
    // One that is written for any types says what it does only once it is made for some.
    const FunctionDecl *does = e->getCallOperator();
    if (const FunctionTemplateDecl *any = e->getLambdaClass()->getDependentLambdaCallOperator())
        for (const FunctionDecl *made : any->specializations())
            if (made->doesThisDeclarationHaveABody()) {
                does = made;
                break;
            }
    for (const ParmVarDecl *p : does->parameters())
        addVariable(children, p, "parameter");
    add(children, does->getBody(), "body");
}

void Facts::expression(const Expr *e, json::Object &out, json::Array &children)
{
    out["t"] = type(e->getType());
    if (const auto *r = dyn_cast<DeclRefExpr>(e)) {
        out["k"] = "name";
        out["d"] = declared(r->getDecl());
    } else if (const auto *m = dyn_cast<MemberExpr>(e)) {
        out["k"] = "member";
        out["d"] = declared(m->getMemberDecl());
        if (m->isImplicitAccess())
            out["this"] = true;
        else
            add(children, m->getBase(), "object");
    } else if (isa<CXXThisExpr>(e)) {
        out["k"] = "this";
    } else if (const auto *c = dyn_cast<CallExpr>(e)) {
        call(c, out, children);
    } else if (const auto *c = dyn_cast<CXXConstructExpr>(e)) {
        construct(c, out, children);
    } else if (const auto *l = dyn_cast<LambdaExpr>(e)) {
        lambda(l, out, children);
    } else if (const auto *n = dyn_cast<CXXNewExpr>(e)) {
        out["k"] = "new";
        if (const CXXConstructExpr *made = n->getConstructExpr()) {
            out["d"] = declared(made->getConstructor());
            for (const Expr *a : made->arguments())
                add(children, a);
            out["p"] = passing(made->getConstructor(), made->getNumArgs(), 0);
        }
    } else if (const auto *d = dyn_cast<CXXDeleteExpr>(e)) {
        out["k"] = "delete";
        add(children, d->getArgument());
    } else if (const auto *b = dyn_cast<BinaryOperator>(e)) {
        out["k"] = b->isCompoundAssignmentOp() ? "update" : b->isAssignmentOp() ? "assign" : "binary";
        out["o"] = b->getOpcodeStr().str();
        add(children, b->getLHS());
        add(children, b->getRHS());
    } else if (const auto *u = dyn_cast<UnaryOperator>(e)) {
        out["k"] = u->isIncrementDecrementOp()   ? "update"
                   : u->getOpcode() == UO_AddrOf ? "address"
                   : u->getOpcode() == UO_Deref  ? "deref"
                                                 : "unary";
        out["o"] = UnaryOperator::getOpcodeStr(u->getOpcode()).str();
        add(children, u->getSubExpr());
    } else if (const auto *i = dyn_cast<ArraySubscriptExpr>(e)) {
        out["k"] = "index";
        add(children, i->getBase());
        add(children, i->getIdx());
    } else if (const auto *t = dyn_cast<CXXThrowExpr>(e)) {
        out["k"] = "throw";
        if (t->getSubExpr())
            add(children, t->getSubExpr());
    } else if (isa<IntegerLiteral, FloatingLiteral, CXXBoolLiteralExpr, CharacterLiteral,
                   CXXNullPtrLiteralExpr>(e)) {
        out["k"] = "number";
    } else if (isa<clang::StringLiteral>(e) || (isa<PredefinedExpr>(e) && e->getBeginLoc().isMacroID())) {
        out["k"] = "text"; // __func__ in what logs; a person's own would be another one where the code goes
    } else if (isa<UnaryExprOrTypeTraitExpr, GNUNullExpr, SubstNonTypeTemplateParmExpr, OffsetOfExpr,
                   CXXTypeidExpr>(e)) {
        out["k"] = "number";
    } else if (isa<ParenExpr>(e)) {
        out["k"] = "paren";
        for (const Stmt *c : e->children())
            add(children, c);
    } else if (isa<ConditionalOperator, ExplicitCastExpr, InitListExpr, CXXStdInitializerListExpr,
                   CXXScalarValueInitExpr, ImplicitValueInitExpr, CXXNoexceptExpr, TypeTraitExpr,
                   CXXDefaultArgExpr, DesignatedInitExpr, CompoundLiteralExpr>(e)) {
        out["k"] = isa<ExplicitCastExpr>(e) ? "cast" : isa<ConditionalOperator>(e) ? "conditional" : "list";
        for (const Stmt *c : e->children())
            add(children, c);
    } else {
        out["k"] = "unknown";
        out["o"] = e->getStmtClassName();
        for (const Stmt *c : e->children())
            add(children, c);
    }
}

bool Facts::loop(const Stmt *s, json::Object &out, json::Array &children)
{
    if (const auto *f = dyn_cast<ForStmt>(s)) {
        out["k"] = "for";
        add(children, f->getInit(), "init");
        addVariable(children, f->getConditionVariable(), "condition");
        if (!f->getConditionVariable())
            add(children, f->getCond(), "condition");
        add(children, f->getInc(), "step");
        add(children, f->getBody(), "body");
    } else if (const auto *w = dyn_cast<WhileStmt>(s)) {
        out["k"] = "while";
        addVariable(children, w->getConditionVariable(), "condition");
        if (!w->getConditionVariable())
            add(children, w->getCond(), "condition");
        add(children, w->getBody(), "body");
    } else if (const auto *d = dyn_cast<DoStmt>(s)) {
        out["k"] = "do";
        add(children, d->getBody(), "body");
        add(children, d->getCond(), "condition");
    } else if (const auto *r = dyn_cast<CXXForRangeStmt>(s)) {
        out["k"] = "each";
        const VarDecl *v = r->getLoopVariable();
        const Range at = rangeOf(v->getSourceRange());
        json::Object variable{{"k", "variable"},         {"r", "variable"}, {"d", declared(v)},
                              {"t", type(v->getType())}, {"b", at.begin},   {"e", at.end}};
        if (v->getType()->isReferenceType())
            variable["x"] =
                v->getType().getNonReferenceType().isConstQualified() ? "constant reference" : "reference";
        json::Array bound;
        addBound(bound, v);
        variable["c"] = std::move(bound);
        children.push_back(std::move(variable));
        add(children, r->getRangeInit(), "range");
        add(children, r->getBody(), "body");
    } else {
        return false;
    }
    return true;
}

// A statement that is no expression.
void Facts::statement(const Stmt *s, json::Object &out, json::Array &children)
{
    if (loop(s, out, children))
        return;
    if (const auto *d = dyn_cast<DeclStmt>(s)) {
        out["k"] = "declare";
        for (const Decl *each : d->decls()) {
            if (const auto *v = dyn_cast<VarDecl>(each))
                addVariable(children, v);
            else
                children.push_back(json::Object{{"k", "local type"}, {"b", -1}, {"e", -1}});
        }
    } else if (const auto *i = dyn_cast<IfStmt>(s)) {
        out["k"] = "if";
        add(children, i->getInit(), "init");
        addVariable(children, i->getConditionVariable(), "condition");
        if (!i->getConditionVariable())
            add(children, i->getCond(), "condition");
        add(children, i->getThen(), "then");
        add(children, i->getElse(), "else");
    } else if (const auto *w = dyn_cast<SwitchStmt>(s)) {
        out["k"] = "switch";
        add(children, w->getInit(), "init");
        addVariable(children, w->getConditionVariable(), "condition");
        if (!w->getConditionVariable())
            add(children, w->getCond(), "condition");
        add(children, w->getBody(), "body");
    } else if (const auto *c = dyn_cast<CaseStmt>(s)) {
        out["k"] = "case";
        add(children, c->getLHS());
        add(children, c->getSubStmt(), "body");
    } else if (const auto *c = dyn_cast<DefaultStmt>(s)) {
        out["k"] = "case";
        add(children, c->getSubStmt(), "body");
    } else if (const auto *t = dyn_cast<CXXTryStmt>(s)) {
        out["k"] = "try";
        add(children, t->getTryBlock(), "body");
        for (unsigned n = 0; n < t->getNumHandlers(); ++n) {
            const CXXCatchStmt *h = t->getHandler(n);
            json::Object each = node("catch", h, true);
            json::Array inside;
            addVariable(inside, h->getExceptionDecl(), "variable");
            add(inside, h->getHandlerBlock(), "body");
            each["r"] = "handler";
            each["c"] = std::move(inside);
            children.push_back(std::move(each));
        }
    } else {
        const char *kind = isa<CompoundStmt>(s)                 ? "block"
                           : isa<ReturnStmt>(s)                 ? "return"
                           : isa<BreakStmt>(s)                  ? "break"
                           : isa<ContinueStmt>(s)               ? "continue"
                           : isa<NullStmt>(s)                   ? "empty"
                           : isa<GotoStmt, IndirectGotoStmt>(s) ? "goto"
                           : isa<LabelStmt>(s)                  ? "label"
                                                                : nullptr;
        out["k"] = kind ? kind : "unknown";
        if (!kind)
            out["o"] = s->getStmtClassName();
        const bool lines = isa<CompoundStmt, LabelStmt>(s);
        for (const Stmt *c : s->children())
            add(children, c, lines ? "statement" : nullptr);
    }
}

json::Object Facts::tree(const Stmt *s, const char *role)
{
    s = written(s);
    const auto *e = dyn_cast<Expr>(s);
    // An operand's range ends with it; where an expression stands as a statement, the semicolon is its own.
    const std::string_view as = role ? role : "";
    json::Object out = node("", s, !e || as == "statement" || as == "then" || as == "else" || as == "body");
    json::Array children;
    if (e)
        expression(e, out, children);
    else
        statement(s, out, children);
    if (role && as != "statement")
        out["r"] = role;
    if (!children.empty())
        out["c"] = std::move(children);
    return out;
}

} // namespace reader
