#include "reader/facts.h"
#include "reader/walk.h"

#include <clang/Lex/Lexer.h>
#include <clang/Serialization/ASTReader.h>
#include <llvm/Support/Path.h>

#include <list>

using namespace clang;
namespace json = llvm::json;

namespace reader
{

namespace
{

struct Finder : Walk {
    std::vector<const FunctionDecl *> found;
    void atFunction(FunctionDecl *f) override
    {
        if (f->doesThisDeclarationHaveABody() && !f->isImplicit())
            found.push_back(f);
    }
};

// What the interface is built of is told by what a class comes from.
void allBases(const CXXRecordDecl *r, json::Array &out, std::set<const CXXRecordDecl *> &seen)
{
    if (!r || !r->hasDefinition())
        return;
    for (const CXXBaseSpecifier &b : r->getDefinition()->bases())
        if (const CXXRecordDecl *base = b.getType()->getAsCXXRecordDecl())
            if (seen.insert(base->getCanonicalDecl()).second) {
                out.push_back(base->getQualifiedNameAsString());
                allBases(base, out, seen);
            }
}

const char *kindOf(const ValueDecl *d)
{
    if (isa<ParmVarDecl>(d))
        return "parameter";
    if (const auto *v = dyn_cast<VarDecl>(d))
        return v->isStaticLocal() ? "static" : v->isLocalVarDecl() ? "local" : "global";
    if (isa<BindingDecl>(d))
        return "local";
    if (isa<FieldDecl>(d))
        return "field";
    if (isa<EnumConstantDecl>(d))
        return "constant";
    if (isa<CXXMethodDecl>(d))
        return "method";
    return isa<FunctionDecl>(d) ? "function" : "other";
}

} // namespace

Facts::Facts(ASTUnit &unit, std::vector<std::string> own)
    : unit_(unit), context_(unit.getASTContext()), sources_(unit.getSourceManager()),
      policy_(unit.getLangOpts()), own_(std::move(own))
{
    policy_.SuppressTagKeyword = true;
    policy_.Bool = true;
}

bool Facts::isOwn(SourceLocation at) const
{
    if (at.isInvalid())
        return false;
    at = sources_.getExpansionLoc(at);
    if (sources_.isInSystemHeader(at))
        return false;
    return isOwn(sources_.getFilename(at).str());
}

bool Facts::isOwn(const std::string &file) const
{
    llvm::SmallString<256> plain(file); // "own/../other/x.h" is none of its own
    llvm::sys::path::remove_dots(plain, true);
    const std::string name = plain.str().str();
    for (const std::string &folder : own_)
        if (name.compare(0, folder.size(), folder) == 0)
            return true;
    return false;
}

Id Facts::file(SourceLocation at)
{
    const std::string name = sources_.getFilename(sources_.getExpansionLoc(at)).str();
    const auto [it, fresh] = files_.emplace(name, Id(files_.size()));
    if (fresh)
        filesOut_.push_back(name);
    return it->second;
}

Id Facts::record(const CXXRecordDecl *decl)
{
    if (!decl)
        return -1;
    decl = decl->getCanonicalDecl();
    if (const auto it = records_.find(decl); it != records_.end())
        return it->second;
    const Id id = Id(recordsOut_.size());
    records_.emplace(decl, id);
    const CXXRecordDecl *whole = decl->getDefinition();
    json::Array bases;
    std::set<const CXXRecordDecl *> seen;
    allBases(decl, bases, seen);
    bool copies = true, makes = true;
    if (whole && !whole->isLambda() && !whole->isDependentType()) {
        copies = false;
        makes = whole->needsImplicitDefaultConstructor();
        copies = whole->needsImplicitCopyConstructor() && !whole->needsOverloadResolutionForCopyConstructor();
        for (const CXXConstructorDecl *c : whole->ctors()) {
            if (c->isCopyConstructor() && !c->isDeleted() && c->getAccess() == AS_public)
                copies = true;
            if (c->isDefaultConstructor() && !c->isDeleted() && c->getAccess() == AS_public)
                makes = true;
        }
        if (whole->needsImplicitCopyConstructor() && !whole->defaultedCopyConstructorIsDeleted())
            copies = true;
    }
    recordsOut_.push_back(
        json::Object{{"name", decl->getQualifiedNameAsString()},
                     {"bases", std::move(bases)},
                     {"own", isOwn(decl->getLocation())},
                     {"here", sources_.isInMainFile(sources_.getExpansionLoc(decl->getLocation()))},
                     {"copies", copies},
                     {"makes", makes},
                     {"lambda", whole && whole->isLambda()},
                     {"local", whole && whole->isLocalClass() != nullptr}});
    return id;
}

Id Facts::type(QualType t)
{
    if (t.isNull())
        return -1;
    const QualType value = t.getNonReferenceType();
    QualType plain = value.getUnqualifiedType();
    if (const auto *deduced = plain->getContainedAutoType(); deduced && !deduced->getDeducedType().isNull())
        plain = (plain->isPointerType() ? plain.getCanonicalType() : deduced->getDeducedType())
                    .getUnqualifiedType();
    const std::string spelled = plain.getAsString(policy_);
    const std::string key = t.getAsString(policy_) + '|' + t.getCanonicalType().getAsString(policy_);
    if (const auto it = types_.find(key); it != types_.end())
        return it->second;
    const Id id = Id(typesOut_.size());
    types_.emplace(key, id);
    typesOut_.push_back(nullptr);
    const QualType target = value->isPointerType() ? value->getPointeeType() : value;
    const char *form = "value";
    if (value->isPointerType())
        form = target->isFunctionType() ? "function" : "pointer";
    else if (value->isArrayType())
        form = "array";
    else if (value->isVoidType())
        form = "void";
    else if (value->isDependentType())
        form = "unknown";
    std::string canonical = plain.getCanonicalType().getAsString(policy_);
    const CXXRecordDecl *r = target->getAsCXXRecordDecl();
    const auto *enumeration = target->getAs<EnumType>();
    const bool here = enumeration && isOwn(enumeration->getDecl()->getLocation()) &&
                      sources_.isInMainFile(sources_.getExpansionLoc(enumeration->getDecl()->getLocation()));
    // What a container or a smart pointer holds.
    json::Array holds;
    if (const auto *special = dyn_cast_or_null<ClassTemplateSpecializationDecl>(r))
        for (const TemplateArgument &a : special->getTemplateArgs().asArray())
            if (a.getKind() == TemplateArgument::Type && special->getTemplateArgs().size() <= 4)
                holds.push_back(type(a.getAsType()));
    typesOut_[size_t(id)] = json::Object{{"name", spelled},
                                         {"canonical", canonical},
                                         {"form", form},
                                         {"record", record(r)},
                                         {"reference", t->isLValueReferenceType()},
                                         {"const", value.isConstQualified()},
                                         {"pointsToConst", target.isConstQualified()},
                                         {"number", value->isArithmeticType() || value->isEnumeralType()},
                                         {"here", here},
                                         {"holds", std::move(holds)}};
    return id;
}

// Whether the word before a declaration is Q_SIGNAL, of which nothing is left once it was expanded.
static bool isMarkedSignal(const Decl *d, const SourceManager &sources)
{
    const SourceLocation at = sources.getFileLoc(d->getBeginLoc());
    bool failed = false;
    const StringRef text = sources.getBufferData(sources.getFileID(at), &failed);
    if (failed)
        return false;
    return text.take_front(sources.getFileOffset(at)).rtrim().endswith("Q_SIGNAL");
}

// A signal is a function below the macro that begins a class's signals, or one that is marked as such.
json::Object Facts::member(const FunctionDecl *f) const
{
    json::Object out;
    const auto *m = dyn_cast<CXXMethodDecl>(f);
    out["body"] = f->hasBody();
    out["constexpr"] = f->isConstexpr();
    if (!m)
        return out;
    out["const"] = m->isConst();
    out["static"] = m->isStatic();
    out["virtual"] = m->isVirtual() && !m->getParent()->isEffectivelyFinal();
    out["public"] = m->getAccess() == AS_public;
    const AccessSpecDecl *last = nullptr;
    if (!f->hasBody())
        for (const Decl *d : m->getParent()->decls()) {
            if (d->getCanonicalDecl() == m->getCanonicalDecl())
                break;
            if (const auto *a = dyn_cast<AccessSpecDecl>(d))
                last = a;
        }
    if (last && last->getAccessSpecifierLoc().isMacroID()) {
        const auto name =
            Lexer::getImmediateMacroName(last->getAccessSpecifierLoc(), sources_, context_.getLangOpts());
        out["signal"] = name == "Q_SIGNALS" || name == "signals";
    }
    if (!f->hasBody() && isMarkedSignal(m->getCanonicalDecl(), sources_))
        out["signal"] = true;
    return out;
}

Id Facts::declared(const ValueDecl *d)
{
    const Decl *key = d->getCanonicalDecl();
    if (const auto it = decls_.find(key); it != decls_.end())
        return it->second;
    const Id id = Id(declsOut_.size());
    decls_.emplace(key, id);
    declsOut_.push_back(nullptr);
    json::Object out{{"name", d->getNameAsString()},
                     {"qualified", d->getQualifiedNameAsString()},
                     {"kind", kindOf(d)},
                     {"own", isOwn(d->getLocation())},
                     {"type", type(d->getType())}};
    const DeclContext *within = d->getDeclContext();
    if (isa<EnumDecl>(within))
        within = within->getParent();
    if (const auto *r = dyn_cast<CXXRecordDecl>(within))
        out["class"] = record(r);
    if (isa<FieldDecl>(d) || isa<VarDecl>(d))
        out["public"] = d->getAccess() == AS_public || d->getAccess() == AS_none;
    const Range r = rangeOf(d->getLocation());
    if (r.begin >= 0) {
        out["file"] = file(d->getLocation());
        out["at"] = r.begin;
    }
    if (const auto *v = dyn_cast<VarDecl>(d)) {
        out["constexpr"] = v->isConstexpr();
        // A constant without its own state: reading it from two threads changes nothing.
        out["fixed"] = v->getType().isConstQualified() && v->hasInit() && !v->getType()->isDependentType() &&
                       !v->getInit()->isValueDependent() &&
                       v->getInit()->isConstantInitializer(context_, v->getType()->isReferenceType());
    }
    if (const auto *f = dyn_cast<FunctionDecl>(d)) {
        for (auto &[name, value] : member(f))
            out[name] = std::move(value);
        out["returns"] = type(f->getReturnType());
        json::Array takes;
        for (const ParmVarDecl *each : f->parameters())
            takes.push_back(type(each->getType()));
        out["takes"] = std::move(takes);
        const FunctionDecl *body = nullptr;
        if (f->hasBody(body) && isOwn(body->getLocation()) && !body->isDependentContext() &&
            told_.insert(body->getCanonicalDecl()).second)
            waiting_.push_back(body);
    }
    declsOut_[size_t(id)] = std::move(out);
    return id;
}

// Whether a precompiled header has files of the person's.
bool Facts::hasOwnPrecompiled() const
{
    const IntrusiveRefCntPtr<ASTReader> reader = unit_.getASTReader();
    bool has = false;
    if (reader)
        for (serialization::ModuleFile &m : reader->getModuleManager())
            reader->visitInputFiles(m, false, false, [&](const serialization::InputFile &f, bool) {
                has = has || (f.getFile() && isOwn(f.getFile()->getName().str()));
            });
    return has;
}

// To go through all declarations would load all that a precompiled header has.
std::vector<const FunctionDecl *> Facts::functions() const
{
    std::vector<const FunctionDecl *> own;
    Finder finder;
    const auto over = [&](auto &&declarations) {
        for (Decl *d : declarations)
            if (isOwn(d->getLocation()))
                finder.over(d);
    };
    if (hasOwnPrecompiled())
        over(context_.getTranslationUnitDecl()->decls());
    else
        over(llvm::make_range(unit_.top_level_begin(), unit_.top_level_end()));
    for (const FunctionDecl *f : finder.found)
        if (isOwn(f->getLocation()) && !f->isDependentContext())
            own.push_back(f);
    return own;
}

void Facts::tell(const FunctionDecl *function)
{
    if (told_.insert(function->getCanonicalDecl()).second)
        waiting_.push_back(function);
    while (!waiting_.empty()) {
        const FunctionDecl *f = waiting_.back();
        waiting_.pop_back();
        const Stmt *body = f->getBody();
        if (!body)
            continue;
        json::Array parameters;
        for (const ParmVarDecl *p : f->parameters()) {
            json::Object each{{"d", declared(p)}};
            const Range r = rangeOf(p->getSourceRange());
            each["b"] = r.begin;
            each["e"] = r.end;
            parameters.push_back(std::move(each));
        }
        const Range head = rangeOf(SourceRange(f->getOuterLocStart(), f->getLocation()));
        json::Object out{{"d", declared(f)},
                         {"file", file(body->getBeginLoc())},
                         {"begin", head.begin},
                         {"name", rangeOf(f->getLocation()).begin},
                         {"parameters", std::move(parameters)},
                         {"body", tree(body)}};
        if (const auto *c = dyn_cast<CXXConstructorDecl>(f)) {
            json::Array inits;
            for (const CXXCtorInitializer *i : c->inits())
                if (i->isWritten())
                    add(inits, i->getInit());
            out["inits"] = std::move(inits);
        }
        functionsOut_.push_back(std::move(out));
    }
}

namespace
{

struct Uses {
    std::set<const ValueDecl *> used, heard, calls;
};

// What a function uses; each lambda in it for itself, since it may run when the function is long over.
struct UsesWalk : Walk {
    Uses *into = nullptr;
    std::list<std::pair<const LambdaExpr *, Uses>> *lambdas = nullptr;

    bool atLambda(LambdaExpr *e) override
    {
        for (Expr *init : e->capture_inits())
            over(init);
        lambdas->emplace_back(e, Uses());
        UsesWalk inner;
        inner.into = &lambdas->back().second;
        inner.lambdas = lambdas;
        inner.over(e->getBody());
        return true;
    }
    // connect(what, signal, …): something listens to it.
    void atCall(CallExpr *e) override
    {
        const FunctionDecl *f = e->getDirectCallee();
        if (!f || f->getNameAsString() != "connect" || e->getNumArgs() < 3)
            return;
        if (const auto *m = dyn_cast<MemberExpr>(e->getArg(0)->IgnoreParenImpCasts()))
            into->heard.insert(m->getMemberDecl());
    }
    void atMember(MemberExpr *e) override
    {
        (isa<FieldDecl>(e->getMemberDecl()) ? into->used : into->calls).insert(e->getMemberDecl());
    }
    void atReference(DeclRefExpr *e) override
    {
        const auto *v = dyn_cast<VarDecl>(e->getDecl());
        if (v && v->hasGlobalStorage())
            into->used.insert(v);
        else if (isa<FunctionDecl>(e->getDecl()))
            into->calls.insert(e->getDecl());
    }
};

} // namespace

// Where the functions of the person's that were not asked for use members and variables, by function: what
// else is alive while a handler works.
json::Array Facts::uses()
{
    json::Array out;
    const auto tell = [&](const Uses &of, std::string name, bool constructs, SourceLocation at) {
        json::Array used, heard, calls, called;
        for (const ValueDecl *d : of.calls)
            if (isOwn(d->getLocation()))
                called.push_back(d->getQualifiedNameAsString());
        for (const ValueDecl *d : of.heard)
            heard.push_back(d->getNameAsString());
        for (const auto &[from, to] : {std::pair{&of.used, &used}, {&of.calls, &calls}})
            for (const ValueDecl *d : *from)
                if (const auto it = decls_.find(d->getCanonicalDecl()); it != decls_.end())
                    to->push_back(it->second);
        if (!used.empty() || !heard.empty() || !called.empty() || !calls.empty())
            out.push_back(json::Object{{"function", std::move(name)},
                                       {"heard", std::move(heard)},
                                       {"constructs", constructs},
                                       {"file", file(at)},
                                       {"at", rangeOf(at).begin},
                                       {"used", std::move(used)},
                                       {"calls", std::move(calls)},
                                       {"called", std::move(called)}});
    };
    for (const FunctionDecl *f : functions()) {
        Uses uses;
        std::list<std::pair<const LambdaExpr *, Uses>> lambdas;
        UsesWalk v;
        v.into = &uses;
        v.lambdas = &lambdas;
        v.over(f->getBody());
        if (const auto *c = dyn_cast<CXXConstructorDecl>(f))
            for (const CXXCtorInitializer *i : c->inits())
                v.over(i->getInit());
        const std::string name = f->getQualifiedNameAsString();
        tell(uses, name, isa<CXXConstructorDecl>(f) || isa<CXXDestructorDecl>(f), f->getLocation());
        for (const auto &[lambda, of] : lambdas)
            tell(of, name + " lambda " + std::to_string(rangeOf(lambda->getBeginLoc()).begin), false,
                 lambda->getBeginLoc());
    }
    return out;
}

json::Object Facts::take()
{
    json::Array others = uses();
    return json::Object{{"files", std::move(filesOut_)},     {"types", std::move(typesOut_)},
                        {"records", std::move(recordsOut_)}, {"decls", std::move(declsOut_)},
                        {"uses", std::move(others)},         {"functions", std::move(functionsOut_)}};
}

Facts::Range Facts::rangeOf(SourceRange range) const
{
    if (range.isInvalid())
        return {};
    const auto &options = context_.getLangOpts();
    Range out;
    out.macro = range.getBegin().isMacroID() || range.getEnd().isMacroID();
    CharSourceRange chars =
        Lexer::makeFileCharRange(CharSourceRange::getTokenRange(range), sources_, options);
    // What begins with a whole macro and goes on behind it is text as any: QStringLiteral("%1").arg(n).
    if (chars.isValid() && !range.getEnd().isMacroID())
        out.macro = false;
    if (chars.isInvalid())
        chars = Lexer::getAsCharRange(sources_.getExpansionRange(range), sources_, options);
    if (chars.isInvalid())
        return {};
    out.begin = int(sources_.getFileOffset(chars.getBegin()));
    out.end = int(sources_.getFileOffset(chars.getEnd()));
    return out;
}

Facts::Range Facts::statementRange(const Stmt *s) const
{
    Range out = rangeOf(s->getSourceRange());
    if (isa<CompoundStmt, CXXTryStmt, DeclStmt, NullStmt, CXXCatchStmt>(s))
        return out;
    const SourceLocation end = sources_.getExpansionRange(s->getSourceRange()).getEnd();
    if (const auto next = Lexer::findNextToken(end, sources_, context_.getLangOpts());
        next && next->is(tok::semi))
        out.end = int(sources_.getFileOffset(next->getEndLoc()));
    return out;
}

} // namespace reader
