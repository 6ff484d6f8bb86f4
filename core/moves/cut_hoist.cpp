// What is read of widgets in the middle of the work and depends on nothing of it: it is read before, and
// comes along.
#include "core/moves/cutter.h"

namespace pipit
{

bool Cutter::isLogic(const CodeNode &n)
{
    return (n.is("unary") && n.op == "!") || (n.is("binary") && (n.op == "&&" || n.op == "||"));
}

// What a call returned may be nothing, and then it is not to be asked: the pointers that an expression goes
// through.
QList<const CodeNode *> Cutter::pointersIn(const CodeNode &node) const
{
    QList<const CodeNode *> found;
    node.each([&](const CodeNode &n) {
        const CodeNode *object = n.is("method") && !n.children.isEmpty() ? &n.children.first() : nullptr;
        const CodeType *t = object ? unit_.type(object->type) : nullptr;
        const bool member =
            object && object->is("member") &&
            (object->onThis || (!object->children.isEmpty() && !object->children.first().is("method")));
        if (t && t->form == CodeType::Pointer && !member && !object->is("this"))
            found << object;
        return true;
    });
    return found;
}

bool Cutter::mayBeAbsent(const CodeNode &node) const
{
    return !pointersIn(node).isEmpty();
}

bool Cutter::canHoist(const CodeNode &n, const Inside &) const
{
    const Piece p = pieceOf(n);
    return !n.macro && n.begin >= 0 && !n.is("lambda") && readsOnly(p.effects) && dependsOnTakeOnly(n) &&
           n.type >= 0 && effects_.keptFromMoving(n.type).isEmpty() && !effects_.mayTakeLong(n);
}

// `if (list->currentItem())`: whether it is there can be asked before.
bool Cutter::canAsk(const CodeNode &n, const Inside &inside) const
{
    const CodeType *t = unit_.type(n.type);
    const Piece p = pieceOf(n);
    return inside.asked && t && t->form == CodeType::Pointer && !n.macro && n.begin >= 0 &&
           !p.effects.isEmpty() && readsOnly(p.effects) && dependsOnTakeOnly(n) &&
           (!inside.maybe || !mayBeAbsent(n)) && !effects_.mayTakeLong(n);
}

bool Cutter::hoistAsked(const CodeNode &n, const Inside &inside)
{
    if (!canAsk(n, inside))
        return false;
    hoistAs(n, textOf(n) + " != nullptr", "bool", -1);
    return true;
}

QString Cutter::nothingOf(int type) const
{
    const CodeType *t = unit_.type(type);
    return !t || !t->number         ? typeName(type) + "()"
           : t->name == "bool"      ? QString("false")
           : t->name == "double"    ? QString("0.0")
           : t->canonical == "char" ? QString("'\\0'")
           : t->name.contains(':')  ? t->name + "()"
                                    : QString("0");
}

// Where it might not be reached, it is asked with care.
bool Cutter::hoist(const CodeNode &n, const Inside &inside)
{
    if (!canHoist(n, inside))
        return false;
    QStringList there;
    if (inside.maybe)
        for (const CodeNode *p : pointersIn(n))
            if (!there.contains(textOf(*p)))
                there.prepend(textOf(*p));
    const QString text = textOf(n);
    hoistAs(n, there.isEmpty() ? text : there.join(" && ") + " ? " + text + " : " + nothingOf(n.type),
            typeName(n.type), n.type);
    return true;
}

void Cutter::hoistAs(const CodeNode &n, const QString &value, const QString &type, int typeId)
{
    QString &name = hoisted_[value];
    if (name.isEmpty()) {
        name = nameFor(n);
        Handed h;
        h.name = h.field = name;
        h.type = type;
        h.typeId = typeId;
        h.value = value;
        out_.input << h;
    }
    out_.changes.append({n.begin, n.end, name});
}

} // namespace pipit
