#include "reader/words.h"

#include "reader/walk.h"

#include <clang/Index/USRGeneration.h>

#include <map>
#include <set>

using namespace clang;
namespace json = llvm::json;

namespace reader
{

namespace
{

class Meanings : public Walk
{
public:
    Meanings(const SourceManager &sources, const std::vector<int64_t> &offsets) : sources_(sources)
    {
        for (const int64_t at : offsets)
            found_[at];
    }
    // A template's instantiation says what its words stand for.
    bool entersInstantiations() const override { return true; }
    void atDeclaration(NamedDecl *d) override { note(d->getLocation(), d); }
    void atReference(DeclRefExpr *e) override { note(e->getLocation(), e->getDecl()); }
    void atMember(MemberExpr *e) override { note(e->getMemberLoc(), e->getMemberDecl()); }
    void atOverloads(OverloadExpr *e) override
    {
        for (const NamedDecl *d : e->decls())
            note(e->getNameLoc(), d);
    }
    void atType(TagTypeLoc t) override { note(t.getNameLoc(), t.getDecl()); }
    void atType(TypedefTypeLoc t) override { note(t.getNameLoc(), t.getTypedefNameDecl()); }
    void atInitializer(CXXCtorInitializer *i) override
    {
        if (i->isAnyMemberInitializer() && i->isWritten())
            note(i->getMemberLocation(), i->getAnyMember());
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

json::Array meaningsOf(ASTUnit &unit, const std::vector<int64_t> &offsets)
{
    const SourceManager &sources = unit.getSourceManager();
    Meanings meanings(sources, offsets);
    for (Decl *d : llvm::make_range(unit.top_level_begin(), unit.top_level_end()))
        if (sources.isInMainFile(sources.getExpansionLoc(d->getLocation())))
            meanings.over(d);
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
