// A method that tells widgets something, called in the middle of the work: its statements come in place of
// the call, and what they tell comes with the result.
#include "core/moves/cutter.h"
#include "core/moves/writer.h"

#include <algorithm>

namespace pipit
{

bool Cutter::canPutInPlace(const CodeNode &call, const CodeFunction &f) const
{
    const CodeDecl *d = unit_.decl(call.decl);
    const CodeType *returns = unit_.type(d->returns);
    // Its text must be the file's own.
    if (q_.steps || d->isVirtual || f.file != q_.function.file || call.macro || !returns ||
        returns->form != CodeType::Void || f.parameters.size() != d->takes.size())
        return false;
    bool plain = true;
    f.body.each([&](const CodeNode &n) {
        plain = plain && !n.is("return") && !n.is("lambda") && !n.macro && !n.isLoop() && n.decl != call.decl;
        return plain;
    });
    for (const int type : d->takes) {
        const CodeType *t = unit_.type(type);
        plain = plain && t && !(t->reference && !t->isConst) && t->form == CodeType::Value;
    }
    return plain;
}

bool Cutter::putInPlace(const CodeNode &n, const Inside &inside)
{
    const CodeDecl *d = unit_.decl(n.decl);
    const CodeFunction *f = d && d->own && n.is("method") && n.onThis ? unit_.functionOf(n.decl) : nullptr;
    // Two that call each other would never end.
    if (!f || putting_.contains(n.decl) || !canPutInPlace(n, *f))
        return false;
    const Cut before = out_;
    const auto hoisted = hoisted_;
    const auto deferred = deferredWidgets_;
    const auto put = put_;
    putting_.insert(n.decl);
    const QString text = inPlace(n, *f, inside);
    putting_.remove(n.decl);
    if (out_.refused.size() > before.refused.size()) {
        out_ = before;
        hoisted_ = hoisted;
        deferredWidgets_ = deferred;
        put_ = put;
        return false;
    }
    // What was changed in the function itself is in the text.
    out_.changes.removeIf(
        [&](const TextChange &c) { return c.begin >= f->body.begin && c.end <= f->body.end; });
    out_.changes.append({n.begin, n.end, text});
    return true;
}

QString Cutter::inPlace(const CodeNode &call, const CodeFunction &f, const Inside &inside)
{
    const QString indent(call.begin - (q_.text.lastIndexOf('\n', call.begin) + 1), ' ');
    QString text = "{\n";
    qsizetype at = 0;
    for (const CodeNode &argument : call.children) {
        if (argument.role == "object" || argument.role == "callee")
            continue;
        const CodeFunction::Parameter &p = f.parameters[at++];
        const CodeDecl *parameter = unit_.decl(p.decl);
        changeExpression(argument, inside);
        regionWrites_.insert(p.decl);
        if (!parameter->name.isEmpty())
            text += indent + "    const " + typeName(parameter->type) + ' ' + parameter->name + " = " +
                    CodeWriter::changed(q_.text, argument.begin, argument.end, out_.changes) + ";\n";
    }
    out_.changes.removeIf([&](const TextChange &c) { return c.begin >= call.begin && c.end <= call.end; });
    f.body.each([&](const CodeNode &n) {
        if (n.is("variable"))
            regionWrites_.insert(n.decl);
        return true;
    });
    put_.insert(call.decl);
    Inside within = inside;
    within.aloneIn = false;
    within.maybe = true;
    for (const CodeNode &s : f.body.children) {
        changeStatement(s, within);
        QString line = CodeWriter::changed(q_.text, s.begin, s.end, out_.changes);
        const QString old(s.begin - (q_.text.lastIndexOf('\n', s.begin) + 1), ' ');
        line.replace('\n' + old, '\n' + indent + "    ");
        text += indent + "    " + line + '\n';
    }
    return text + indent + '}';
}

} // namespace pipit
