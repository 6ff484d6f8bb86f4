// What a handler's functions look like: declared in generated code, and as the stub that a person goes on
// from.
//
// Threads: any; the project must outlive it. Parameters are called as the signal of the first connection
// calls them, where it has a name for them that no member of the window has: `item`, `index`, `text`.
#pragma once

#include "core/project/reach.h"

namespace pipit
{

class Stubs
{
public:
    explicit Stubs(const Project &project);

    // The head of one function, without class name unless one is given: "void boardPassenger()".
    QString declaration(const Handler &handler, const HandlerFunction &function,
                        const QString &className = {}) const;
    // All its functions, as text to append to its file.
    QString text(const Handler &handler) const;
    QStringList argumentNames(const Handler &handler) const;

private:
    const Project &project_;
    Reach reach_;
    QHash<QString, const Connection *> first_; // by handler, of its connections from signals
};

} // namespace pipit
