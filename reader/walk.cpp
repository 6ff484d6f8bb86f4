#include "reader/walk.h"

#include <clang/AST/RecursiveASTVisitor.h>

using namespace clang;

namespace reader
{

namespace
{

class Visitor : public RecursiveASTVisitor<Visitor>
{
public:
    explicit Visitor(Walk &walk) : walk_(walk) {}
    bool shouldVisitTemplateInstantiations() const { return walk_.entersInstantiations(); }
    bool VisitFunctionDecl(FunctionDecl *d) { return walk_.atFunction(d), true; }
    bool VisitNamedDecl(NamedDecl *d) { return walk_.atDeclaration(d), true; }
    bool VisitDeclRefExpr(DeclRefExpr *e) { return walk_.atReference(e), true; }
    bool VisitMemberExpr(MemberExpr *e) { return walk_.atMember(e), true; }
    bool VisitOverloadExpr(OverloadExpr *e) { return walk_.atOverloads(e), true; }
    bool VisitCallExpr(CallExpr *e) { return walk_.atCall(e), true; }
    bool VisitTagTypeLoc(TagTypeLoc t) { return walk_.atType(t), true; }
    bool VisitTypedefTypeLoc(TypedefTypeLoc t) { return walk_.atType(t), true; }
    bool TraverseConstructorInitializer(CXXCtorInitializer *i)
    {
        walk_.atInitializer(i);
        return RecursiveASTVisitor::TraverseConstructorInitializer(i);
    }
    bool TraverseLambdaExpr(LambdaExpr *e, DataRecursionQueue *queue = nullptr)
    {
        return walk_.atLambda(e) || RecursiveASTVisitor::TraverseLambdaExpr(e, queue);
    }

private:
    Walk &walk_;
};

} // namespace

void Walk::over(Decl *d)
{
    Visitor(*this).TraverseDecl(d);
}

void Walk::over(Stmt *s)
{
    Visitor(*this).TraverseStmt(s);
}

} // namespace reader
