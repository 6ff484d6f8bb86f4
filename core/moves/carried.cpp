// What can be handed to another thread, by its type.
#include "core/moves/effects.h"
#include "core/moves/library.h"

namespace pipit
{

QString Effects::bound(int type) const
{
    const CodeType *t = unit_.type(type);
    const CodeRecord *r = t ? unit_.record(t->record) : nullptr;
    if (!r)
        return {};
    if (r->is("QWidget"))
        return "a widget";
    if (livesOnTheLoop(*r))
        return "a " + r->name;
    if (r->is("QObject") && !mayLiveInWork(*r))
        return "an object that belongs to the event loop";
    return {};
}

QString Effects::keptFromMoving(int type) const
{
    const CodeType *t = unit_.type(type);
    if (!t)
        return "its type is unknown";
    if (const QString b = bound(type); !b.isEmpty())
        return "it is " + b;
    if (t->form == CodeType::Pointer)
        return t->canonical == "const char *" ? QString() : QString("it is a pointer");
    if (t->form == CodeType::Array)
        return "it is an array";
    if (t->form != CodeType::Value)
        return "its type cannot be copied";
    if (t->here)
        return "its type is declared in the source file and not in a header";
    if (const CodeRecord *r = unit_.record(t->record))
        if (const QString why = keptRecord(*r); !why.isEmpty())
            return why;
    for (const int inner : t->holds) {
        const CodeType *held = unit_.type(inner);
        if (!held || held->form == CodeType::Unknown || held->form == CodeType::Function)
            continue;
        if (held->form == CodeType::Pointer)
            return "it contains pointers";
        if (const QString b = bound(inner); !b.isEmpty())
            return "it holds " + b;
        const CodeRecord *r = unit_.record(held->record);
        if (r && !r->copies)
            return "it contains something that cannot be copied";
        if (held->here || (r && r->own && r->here))
            return "the type of its elements is declared in the source file and not in a header";
    }
    return {};
}

QString Effects::keptRecord(const CodeRecord &r) const
{
    if (r.lambda)
        return "it is a function";
    if (r.local)
        return "its type is declared in the function";
    for (const CodeRecord &outer : unit_.records)
        if (r.own && r.name.startsWith(outer.name + "::") && outer.name != window_)
            return "its type is declared within the class " + outer.name;
    if (r.own && r.here)
        return "its type is declared in the source file and not in a header";
    if (r.is("QObject") || !r.copies)
        return "it cannot be copied";
    if (!r.makes)
        return "it has no default constructor";
    if (r.name == "std::reference_wrapper" || r.name == "std::function")
        return "what it refers to is unknown";
    if (r.name == "std::unique_ptr" || r.name == "std::shared_ptr" || r.name == "QSharedPointer")
        return "it is a pointer";
    return {};
}

} // namespace pipit
