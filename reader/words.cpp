#include "reader/words.h"

#include <clang/AST/RecursiveASTVisitor.h>
#include <clang/Index/USRGeneration.h>

#include <map>
#include <set>

using namespace clang;
namespace json = llvm::json;

namespace reader
{

namespace
{

class Meanings : public RecursiveASTVisitor<Meanings>
{
public:
    Meanings(const SourceManager &sources, const std::vector<int64_t> &offsets) : sources_(sources)
    {
        for (const int64_t at : offsets)
            found_[at];
    }
    // What a template is made into says what its words stand for.
    bool shouldVisitTemplateInstantiations() const { return true; }

    bool VisitNamedDecl(NamedDecl *d)
    {
        note(d->getLocation(), d);
        return true;
    }
    bool VisitDeclRefExpr(DeclRefExpr *e)
    {
        note(e->getLocation(), e->getDecl());
        return true;
    }
    bool VisitMemberExpr(MemberExpr *e)
    {
        note(e->getMemberLoc(), e->getMemberDecl());
        return true;
    }
    bool VisitOverloadExpr(OverloadExpr *e)
    {
        for (const NamedDecl *d : e->decls())
            note(e->getNameLoc(), d);
        return true;
    }
    bool VisitTagTypeLoc(TagTypeLoc t)
    {
        note(t.getNameLoc(), t.getDecl());
        return true;
    }
    bool VisitTypedefTypeLoc(TypedefTypeLoc t)
    {
        note(t.getNameLoc(), t.getTypedefNameDecl());
        return true;
    }
    bool TraverseConstructorInitializer(CXXCtorInitializer *i)
    {
        if (i->isAnyMemberInitializer() && i->isWritten())
            note(i->getMemberLocation(), i->getAnyMember());
        return RecursiveASTVisitor::TraverseConstructorInitializer(i);
    }
    const std::set<std::string> &at(int64_t offset) { return found_[offset]; }

private:
    void note(SourceLocation at, const NamedDecl *d)
    {
        if (at.isInvalid() || !d)
            return;
        const SourceLocation place = sources_.getFileLoc(at);
        if (!sources_.isInMainFile(place))
            return;
        const auto it = found_.find(int64_t(sources_.getFileOffset(place)));
        if (it == found_.end())
            return;
        llvm::SmallString<128> name;
        if (!index::generateUSRForDecl(d, name))
            it->second.insert(name.str().str());
    }

    const SourceManager &sources_;
    std::map<int64_t, std::set<std::string>> found_;
};

} // namespace

json::Array meaningsOf(ASTContext &context, const std::vector<int64_t> &offsets)
{
    const SourceManager &sources = context.getSourceManager();
    Meanings meanings(sources, offsets);
    for (Decl *d : context.getTranslationUnitDecl()->decls())
        if (sources.isInMainFile(sources.getExpansionLoc(d->getLocation())))
            meanings.TraverseDecl(d);
    json::Array out;
    for (const int64_t at : offsets) {
        json::Array each;
        for (const std::string &name : meanings.at(at))
            each.push_back(name);
        out.push_back(std::move(each));
    }
    return out;
}

} // namespace reader
