// What is told of a translation unit: declarations, types and the trees of functions, as JSON.
//
// A tree holds what is written, not what the language adds: conversions that nobody wrote, cleanups and
// temporaries are stepped over. Ranges are byte offsets in the file that the function stands in; of what a
// macro made, the range of the macro's use. A statement's range takes its semicolon along.
//
// Threads: one. Nothing outlives the unit that it was made from.
#pragma once

#include <clang/AST/ASTContext.h>
#include <clang/AST/ExprCXX.h>
#include <clang/AST/StmtCXX.h>
#include <clang/Frontend/ASTUnit.h>
#include <llvm/Support/JSON.h>

#include <map>
#include <set>
#include <string>
#include <vector>

namespace reader
{

// What a declaration, a type or a class is called in the answer.
using Id = int;

class Facts
{
public:
    // Code in files under one of `own` is the person's; all else is a library's.
    Facts(clang::ASTUnit &unit, std::vector<std::string> own);

    // Tells a function with a body, and each of the person's functions that it reaches.
    void tell(const clang::FunctionDecl *function);
    // All the functions of the person's that have a body here.
    std::vector<const clang::FunctionDecl *> functions() const;
    llvm::json::Object take();

private:
    struct Range {
        int begin = -1, end = -1;
        bool macro = false;
    };

    bool isOwn(clang::SourceLocation at) const;
    bool isOwn(const std::string &file) const;
    bool hasOwnPrecompiled() const;
    Id file(clang::SourceLocation at);
    Id declared(const clang::ValueDecl *decl);
    Id type(clang::QualType type);
    Id record(const clang::CXXRecordDecl *decl);
    llvm::json::Object member(const clang::FunctionDecl *decl) const;
    llvm::json::Array uses();

    Range rangeOf(clang::SourceRange range) const;
    Range statementRange(const clang::Stmt *s) const;

    // The tree of a statement or an expression.
    llvm::json::Object tree(const clang::Stmt *s, const char *role = nullptr);
    llvm::json::Object node(const char *kind, const clang::Stmt *s, bool statement);
    void expression(const clang::Expr *e, llvm::json::Object &out, llvm::json::Array &children);
    void call(const clang::CallExpr *e, llvm::json::Object &out, llvm::json::Array &children);
    void construct(const clang::CXXConstructExpr *e, llvm::json::Object &out, llvm::json::Array &children);
    void lambda(const clang::LambdaExpr *e, llvm::json::Object &out, llvm::json::Array &children);
    void statement(const clang::Stmt *s, llvm::json::Object &out, llvm::json::Array &children);
    bool loop(const clang::Stmt *s, llvm::json::Object &out, llvm::json::Array &children);
    void add(llvm::json::Array &to, const clang::Stmt *s, const char *role = nullptr);
    void addBound(llvm::json::Array &to, const clang::VarDecl *v);
    void addVariable(llvm::json::Array &to, const clang::VarDecl *v, const char *role = nullptr);
    std::string passing(const clang::FunctionDecl *f, unsigned arguments, unsigned skip) const;

    clang::ASTUnit &unit_;
    clang::ASTContext &context_;
    const clang::SourceManager &sources_;
    clang::PrintingPolicy policy_;
    std::vector<std::string> own_;
    std::map<const clang::Decl *, Id> decls_;
    std::map<std::string, Id> files_;
    std::map<std::string, Id> types_;
    std::map<const clang::CXXRecordDecl *, Id> records_;
    std::set<const clang::FunctionDecl *> told_;
    std::vector<const clang::FunctionDecl *> waiting_;
    llvm::json::Array declsOut_, filesOut_, typesOut_, recordsOut_, functionsOut_;
};

} // namespace reader
