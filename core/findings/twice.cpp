#include "core/findings/twice.h"

#include "core/catalog/catalog.h"

#include <limits>

namespace pipit
{

namespace
{

// The keys that a term means, as condition code does: Return is either of the two.
QStringList keysMeant(const QString &word)
{
    return word == "Return" ? QStringList{"Return", "Enter"} : QStringList{word};
}

struct Range {
    double from, to;
    bool fromOpen, toOpen;
};

Range rangeOf(const ConditionTerm &t)
{
    constexpr double far = std::numeric_limits<double>::infinity();
    const double at = t.least.value_or(0);
    if (t.most)
        return {at, *t.most, false, false};
    if (t.word == "over" || t.word == "at least")
        return {at, far, t.word == "over", false};
    if (t.word == "under" || t.word == "at most")
        return {-far, at, false, t.word == "under"};
    return {at, at, false, false};
}

bool meet(const Range &a, const Range &b)
{
    const auto ends = [](const Range &first, const Range &second) { // before the second begins
        return first.to < second.from || (first.to == second.from && (first.toOpen || second.fromOpen));
    };
    return !ends(a, b) && !ends(b, a);
}

QStringList sorted(QStringList list)
{
    list.sort();
    return list;
}

bool exclude(const ConditionTerm &a, const ConditionTerm &b)
{
    using T = ConditionTerm;
    const auto modifiers = [](const T &t) { // a key alone is meant whatever is held with it
        return t.kind == T::Modifiers || (t.kind == T::Key && !t.modifiers.isEmpty());
    };
    if (modifiers(a) && modifiers(b) && sorted(a.modifiers) != sorted(b.modifiers))
        return true;
    if (a.kind == T::TextEmpty && b.kind == T::TextIs && a.object == b.object)
        return !a.negated && !b.negated && !b.word.isEmpty();
    if (a.kind != b.kind || a.object != b.object)
        return false;
    switch (a.kind) {
    case T::Key: {
        const QStringList others = keysMeant(b.word);
        const QStringList mine = keysMeant(a.word);
        return std::none_of(mine.begin(), mine.end(), [&](const QString &k) { return others.contains(k); });
    }
    case T::Button:
        return a.word != b.word;
    case T::TextEmpty:
    case T::Checked:
        return a.negated != b.negated;
    case T::TextIs:
        return a.negated == b.negated ? !a.negated && a.word != b.word : a.word == b.word;
    case T::Value:
        return !meet(rangeOf(a), rangeOf(b));
    default:
        return false;
    }
}

} // namespace

bool canBothHold(const Condition &one, const Condition &other)
{
    for (const ConditionTerm &a : one.terms)
        for (const ConditionTerm &b : other.terms)
            if (exclude(a, b) || exclude(b, a))
                return false;
    return true;
}

QString Twice::Pair::sentence() const
{
    const auto when = [](const Connection &c) {
        return c.when.isEmpty() ? c.id + " always" : QStringLiteral("%1 (%2)").arg(c.id, c.when);
    };
    QString text = QStringLiteral("%1 · %2 calls %3 twice").arg(source, second->what(), second->target());
    if (first->when != second->when)
        text += QStringLiteral(" where both %1 and %2 hold").arg(when(*first), when(*second));
    if (second->sourceKind == Connection::Source::Event)
        text += ", unless it returns true the first time";
    return text + '.';
}

QList<Twice::Pair> Twice::take(const Connection &c, const QStringList &sources)
{
    QList<Pair> pairs;
    if (!c.enabled)
        return pairs;
    const EventEntry *event = Catalog::get().event(c.event);
    const auto condition = [&](const Connection &each) {
        return parseCondition(each.when, event ? event->cppClass : QString());
    };
    const auto mine = condition(c);
    QSet<QString> said; // ids
    for (const QString &s : sources) {
        auto &before = taken_[QStringList{s, c.part, c.what(), c.target(), c.after ? "1" : ""}.join('|')];
        for (const Connection *each : std::as_const(before)) {
            if (each->id == c.id || said.contains(each->id))
                continue;
            const auto theirs = condition(*each);
            if (!mine || !theirs || !canBothHold(*mine, *theirs))
                continue;
            said.insert(each->id);
            bool idle = each->when == c.when && each->convert == c.convert && each->pacing == c.pacing &&
                        each->scope == c.scope;
            const auto all = reach_.sources(*each);
            for (const QString &one : sources)
                idle = idle && all && all->contains(one);
            pairs.append({each, &c, s, idle});
        }
        before.append(&c);
    }
    return pairs;
}

} // namespace pipit
