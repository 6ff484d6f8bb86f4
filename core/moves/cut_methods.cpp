// Methods of the object that the work calls, and names that mean something only within the class.
#include "core/moves/cutter.h"

namespace pipit
{

// A method of the object that the work calls becomes a plain function: members come as arguments.
bool Cutter::makeFreeFunction(const CodeNode &call)
{
    const CodeDecl *d = unit_.decl(call.decl);
    const CodeFunction *f = unit_.functionOf(call.decl);
    if (!d || !f)
        return false;
    if (out_.freed.contains(call.decl))
        return true;
    const auto no = [&](const QString &why) {
        refuse(call.begin, d->name + ' ' + why);
        return false;
    };
    if (d->isVirtual)
        return no("may be overridden, so what runs is not known");
    bool self = false;
    QList<int> fields;
    f->body.each([&](const CodeNode &n) {
        const CodeDecl *m = unit_.decl(n.decl);
        const bool ofThis = n.onThis || (!n.children.isEmpty() && n.children.first().is("this"));
        if (n.is("capture"))
            self = self || n.onThis;
        else if (n.is("member") && ofThis && m && m->kind == CodeDecl::Field && !m->fixed) {
            if ((q_.owned.contains(n.decl) || effects_.keptFromMoving(m->type).isEmpty()) &&
                !fields.contains(n.decl))
                fields << n.decl;
            else
                self = self || !fields.contains(n.decl);
            return false;
        } else if (n.is("method") && ofThis)
            return true;
        else if (n.is("this"))
            self = self || !isObjectOfCall(f->body, n);
        return true;
    });
    if (self)
        return no("uses the window");
    out_.freed.insert(call.decl);
    out_.lends.insert(call.decl, fields);
    bool all = true;
    f->body.each([&](const CodeNode &n) {
        const CodeDecl *m = unit_.decl(n.decl);
        const bool ofThis = n.onThis || (!n.children.isEmpty() && n.children.first().is("this"));
        if (n.is("method") && ofThis && m && m->own && !m->isStatic && all) {
            all = makeFreeFunction(n);
            for (const int field : out_.lends.value(n.decl))
                if (!out_.lends[call.decl].contains(field))
                    out_.lends[call.decl] << field;
        }
        return all;
    });
    return all;
}

// The object that a method is called of, written down as `this`.
bool Cutter::isObjectOfCall(const CodeNode &body, const CodeNode &self)
{
    bool found = false;
    body.each([&](const CodeNode &n) {
        found = found ||
                ((n.is("method") || n.is("member")) && !n.children.isEmpty() && &n.children.first() == &self);
        return !found;
    });
    return found;
}

// Methods that something else calls as well.
void Cutter::findStaying()
{
    const CodeDecl *self = unit_.decl(q_.function.decl);
    QSet<QString> moved{self ? self->qualified : QString()};
    for (const int m : std::as_const(out_.freed))
        moved.insert(unit_.decl(m)->qualified);
    QSet<int> calledAround; // by what stays on the loop
    for (const PlacedStatement &s : std::as_const(out_.statements))
        if (s.place != Stage::Work)
            s.node->each([&](const CodeNode &n) {
                if (n.is("method"))
                    calledAround.insert(n.decl);
                return true;
            });
    for (const int m : std::as_const(out_.freed)) {
        const QSet<QString> callers = q_.callers.value(m);
        if (q_.inPlace || calledAround.contains(m) || !moved.contains(callers) ||
            q_.heard.contains("()" + nameOf(m)))
            out_.stays.insert(m);
    }
    // Beside a method of the same name the function is called as the program's.
    for (const PlacedStatement &s : std::as_const(out_.statements))
        if (s.place == Stage::Work)
            s.node->each([&](const CodeNode &n) {
                if (n.is("method") && n.begin >= 0 && out_.stays.contains(n.decl)) {
                    const int at = n.begin + int(textOf(n).indexOf(nameOf(n.decl)));
                    out_.changes.append({at, at, "::"});
                }
                return true;
            });
}

// Names that mean something only within the class.
void Cutter::qualify(const CodeNode &node)
{
    if (q_.steps)
        return;
    node.each([&](const CodeNode &n) {
        qualifyOne(n);
        return true;
    });
}

void Cutter::qualifyOne(const CodeNode &n)
{
    const CodeDecl *d = unit_.decl(n.decl);
    if (!d || n.begin < 0 || q_.steps)
        return;
    const QString text = textOf(n);
    const bool ofThis = !n.children.isEmpty() && n.children.first().is("this");
    if (n.is("member") && !n.onThis && ofThis) {
        out_.changes.append({n.begin, n.end, d->name});
        return;
    }
    if (n.is("method") && (n.onThis || ofThis) && d->own && !d->isStatic) {
        if (!makeFreeFunction(n))
            return;
        if (ofThis)
            out_.changes.append({n.begin, int(n.begin + text.indexOf(d->name)), QString()});
        QStringList lent;
        for (const int field : out_.lends.value(n.decl))
            lent << nameOf(field);
        // A statement takes its semicolon along.
        const int close = n.begin + int(text.lastIndexOf(')'));
        const bool alone =
            d->takes.isEmpty() ||
            text.mid(text.indexOf('(') + 1, close - n.begin - text.indexOf('(') - 1).trimmed().isEmpty();
        if (!lent.isEmpty())
            out_.changes.append({close, close, (alone ? "" : ", ") + lent.join(", ")});
        return;
    }
    const CodeRecord *cls = unit_.record(d->record);
    const CodeDecl *self = unit_.decl(q_.function.decl);
    const CodeRecord *window = self ? unit_.record(self->record) : nullptr;
    const bool ours = cls && window && (window->name == cls->name || window->bases.contains(cls->name));
    const bool plain =
        n.is("call") ? d->isStatic && text.startsWith(d->name)
                     : n.is("name") && (d->kind == CodeDecl::Constant || text == d->name) &&
                           (d->kind == CodeDecl::Constant || d->kind == CodeDecl::Global || d->isStatic);
    if (ours && plain && !n.macro && !text.startsWith(window->name + "::") &&
        !text.startsWith(cls->name + "::"))
        out_.changes.append({n.begin, n.begin, window->name + "::"});
}

} // namespace pipit
