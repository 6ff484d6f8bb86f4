// What a translation unit contains, from pipit-reader: declarations, types, and the functions of the
// person's as trees of what is written.
//
// Threads: plain values. Offsets count QChars from the beginning of the file that a function stands in;
// -1 where something has no text of its own. Of what a macro made, the range is that of the macro's use.
#pragma once

#include <QHash>
#include <QList>
#include <QString>
#include <QStringList>

namespace pipit
{

struct CodeRecord {
    QString name;                     // qualified, "QListWidget"
    QStringList bases;                // all of them, however far
    bool own = false;                 // the person's
    bool here = false;                // declared in the file itself, in no header
    bool copies = true, makes = true; // can be copied; can be made of nothing
    bool lambda = false, local = false;
    bool is(const char *className) const
    {
        return name == QLatin1String(className) || bases.contains(QLatin1String(className));
    }
};

struct CodeType {
    enum Form { Value, Pointer, Array, Function, Void, Unknown };
    QString name;      // as one would write it, without const and reference: "QStringList"
    QString canonical; // the same, whatever it is called
    Form form = Value;
    int record = -1; // of the value, or of what the pointer points to
    bool reference = false, isConst = false, pointsToConst = false, number = false;
    bool here = false; // an enumeration of the person's, declared in the file itself
    QList<int> holds;  // types that a template was made with
};

struct CodeDecl {
    enum Kind { Local, Parameter, Static, Global, Field, Constant, Method, FreeFunction, Other };
    QString name, qualified;
    Kind kind = Other;
    bool own = false;
    int type = -1, returns = -1;
    int record = -1; // the class that it is a member of
    int file = -1, at = -1;
    bool fixed = false; // a constant that is known when compiling
    // Of functions:
    QList<int> takes; // types of its parameters
    bool hasBody = false, isConst = false, isStatic = false, isVirtual = false, isSignal = false;
    bool isPublic = true;
};

// A statement or an expression. Kinds are words: block, declare, variable, if, for, while, do, each, switch,
// case, break, continue, return, goto, label, try, catch, empty · name, member, this, call, method, operator,
// construct, new, delete, lambda, capture, number, text, unary, binary, assign, update, address, deref,
// index, conditional, cast, throw, list, paren, unknown.
struct CodeNode {
    QString kind, role, op;
    int begin = -1, end = -1;
    int decl = -1, type = -1;
    bool macro = false;
    bool onThis = false; // a member or method of the object itself, without `this->`
    bool named = false;  // a method whose class is said
    QString how;    // of a variable: reference, constant reference, binding; of a capture: reference, value
    QString passes; // a letter for each argument, see reader/trees.cpp
    QList<CodeNode> children;

    bool is(const char *k) const { return kind == QLatin1String(k); }
    const CodeNode *child(const char *role) const;
    bool isLoop() const { return is("for") || is("while") || is("do") || is("each"); }
    // What is handed to a call, with how it is passed: see reader/trees.cpp.
    template <class Visit> void eachArgument(Visit &&visit) const
    {
        qsizetype at = 0;
        for (const CodeNode &c : children)
            if (c.role != QLatin1String("object") && c.role != QLatin1String("callee")) {
                visit(c, passes.size() > at ? passes[at] : QChar('v'));
                ++at;
            }
    }
    // Itself and all beneath it, from the front; stops beneath one for which `visit` returns false.
    template <class Visit> void each(Visit &&visit) const
    {
        if (!visit(*this))
            return;
        for (const CodeNode &c : children)
            c.each(visit);
    }
};

struct CodeFunction {
    int decl = -1, file = -1;
    int begin = -1, name = -1; // of its head, of its name
    struct Parameter {
        int decl = -1, begin = -1, end = -1;
    };
    QList<Parameter> parameters;
    CodeNode body;
    QList<CodeNode> inits; // of a constructor
};

// Which of the members and variables of this unit another function of the person's uses.
struct MemberUse {
    QString function;
    bool constructs = false; // a constructor or destructor
    int file = -1, at = -1;
    QList<int> decls;
    QStringList heard;  // members whose signals it connects
    QList<int> calls;   // or takes the address of
    QStringList called; // the same, of the person's functions: all of them, by qualified names
};

struct CodeMessage {
    QString file, text;
    int line = 0, column = 0;
    bool error = false;
};

struct CodeUnit {
    QStringList files;
    QList<CodeType> types;
    QList<CodeRecord> records;
    QList<CodeDecl> decls;
    QList<MemberUse> uses;
    QList<CodeFunction> functions;
    QList<CodeMessage> messages;

    const CodeFunction *function(const QString &qualified) const;
    const CodeFunction *functionOf(int decl) const;
    const CodeDecl *decl(int id) const { return id >= 0 && id < decls.size() ? &decls[id] : nullptr; }
    const CodeType *type(int id) const { return id >= 0 && id < types.size() ? &types[id] : nullptr; }
    const CodeRecord *record(int id) const { return id >= 0 && id < records.size() ? &records[id] : nullptr; }
    const CodeRecord *recordOfType(int type) const;
};

} // namespace pipit
