// A walk over a parsed file that calls a function for each thing of interest.
//
// The library's own visitor is a template of some hundred functions. It is compiled once, in walk.cpp, and
// every reading of the tree derives from this class instead.
//
// Threads: one. It keeps nothing between two walks.
#pragma once

#include <clang/AST/ASTContext.h>
#include <clang/AST/ExprCXX.h>

namespace reader
{

class Walk
{
public:
    virtual ~Walk() = default;
    void over(clang::Decl *d);
    void over(clang::Stmt *s);

    // Whether what a template is instantiated to is walked over as well.
    virtual bool entersInstantiations() const { return false; }
    virtual void atFunction(clang::FunctionDecl *) {}
    virtual void atDeclaration(clang::NamedDecl *) {}
    virtual void atReference(clang::DeclRefExpr *) {}
    virtual void atMember(clang::MemberExpr *) {}
    virtual void atOverloads(clang::OverloadExpr *) {}
    virtual void atCall(clang::CallExpr *) {}
    virtual void atType(clang::TagTypeLoc) {}
    virtual void atType(clang::TypedefTypeLoc) {}
    virtual void atInitializer(clang::CXXCtorInitializer *) {}
    // True: the lambda was dealt with, and the walk does not enter it.
    virtual bool atLambda(clang::LambdaExpr *) { return false; }
};

} // namespace reader
