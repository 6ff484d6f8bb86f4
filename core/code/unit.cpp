#include "core/code/unit.h"

namespace pipit
{

const CodeNode *CodeNode::child(const char *r) const
{
    for (const CodeNode &c : children)
        if (c.role == QLatin1String(r))
            return &c;
    return nullptr;
}

const CodeFunction *CodeUnit::function(const QString &qualified) const
{
    for (const CodeFunction &f : functions)
        if (decls[f.decl].qualified == qualified)
            return &f;
    return nullptr;
}

const CodeFunction *CodeUnit::functionOf(int id) const
{
    for (const CodeFunction &f : functions)
        if (f.decl == id)
            return &f;
    return nullptr;
}

const CodeRecord *CodeUnit::recordOfType(int id) const
{
    const CodeType *t = type(id);
    return t ? record(t->record) : nullptr;
}

} // namespace pipit
