// Places in the program's source, from addresses in it: by libdw from the debug information of
// the module on disk, or by its symbol table where there is none.
//
// Threads: one at a time. The first question about a module reads its debug information (tens of
// milliseconds), so never on an event loop. Nothing is read over a network.
#pragma once

#include <QList>
#include <QSet>
#include <QString>
#include <QStringList>

#include <functional>
#include <memory>

namespace pipit
{

struct Place {
    QString function; // demangled, without arguments; empty when unknown
    QString file;     // empty when unknown
    int line = 0;
    bool known() const { return !file.isEmpty(); }
};

// What a function made from a template calls, by the template's arguments as the debug information has
// them: for a slot object's function that is the lambda, functor or pointer it was made for.
struct Callee {
    enum Kind {
        Lambda,          // `place` is where it stands
        Functor,         // an object with operator(); `place` is that, `place.function` its class
        FunctionPointer, // which one stands in the object
        MemberPointer,   // likewise
        StdFunction,     // holds another; what calls it stands in the object
    };
    Kind kind = Lambda;
    Place place;
};

class Places
{
public:
    Places();
    ~Places();

    // Where the function that contains this address begins.
    Place function(const QString &module, std::uint64_t offset);
    // The line that the address belongs to; for a return address ask for the one before it.
    Place line(const QString &module, std::uint64_t offset);
    // The same, but where that line was inlined from a file that is `foreign`, the line that it was inlined
    // into: the call in the program's own source. Unknown when all are foreign.
    Place ownLine(const QString &module, std::uint64_t offset,
                  const std::function<bool(const QString &)> &foreign);
    // What the function at this address was made to call. Types from `foreign` files name nobody: their own
    // template arguments are asked. Empty without debug information that says so.
    QList<Callee> callees(const QString &module, std::uint64_t offset,
                          const std::function<bool(const QString &)> &foreign);
    // The plain names of all functions that begin where the one at this address begins, by the symbol
    // table: more than one when they were folded. Empty in a stripped module.
    QStringList names(const QString &module, std::uint64_t offset);
    // Whether the linker folded functions that are alike to the one at this address: the debug information
    // tells of one of them only, and which one runs is not known.
    bool folded(const QString &module, std::uint64_t offset);
    // The pieces of code that these lines of a source file were compiled to: from, to (excluded).
    // The file is known by its name without folder. Empty without debug information.
    using Pieces = QList<std::pair<std::uint64_t, std::uint64_t>>;
    Pieces codeOf(const QString &module, const QString &file, const QSet<int> &lines);

    // From now on nothing is read: the modules' files are not those that ran.
    void setApart();

    struct Module;

private:
    QList<QByteArray> symbolsAt(const QString &module, std::uint64_t offset);
    Module *module(const QString &path);
    struct Private;
    std::unique_ptr<Private> d;
};

// "FerryDesk::boardPassenger" from "FerryDesk::boardPassenger()"; lambdas as "lambda in …".
QString plainFunctionName(const QString &demangled);
// Work for a thread pool by the mangled name of its class: "lambda in loadAll", "Loader".
QString workName(const QString &mangledClass);

} // namespace pipit
