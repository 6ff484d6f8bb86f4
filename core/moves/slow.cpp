// What may take long.
#include "core/moves/effects.h"
#include "core/moves/library.h"

#include <algorithm>
#include <functional>

namespace pipit
{

bool Effects::mayTakeLong(const CodeNode &node) const
{
    if (node.isLoop())
        return !isOnlyShowing(node);
    if (node.is("call") || node.is("method") || node.is("operator") || node.is("construct")) {
        const CodeDecl *d = unit_.decl(node.decl);
        if (d && !d->own && takesLong(unit_, *d))
            return true;
        if (const CodeFunction *f = d && d->own ? unit_.functionOf(node.decl) : nullptr;
            f && takesLongWithin(node.decl, {&f->body}))
            return true;
        const int held = node.children.isEmpty() ? -1 : root(node.children.first());
        if (ownFunctions_.contains(held) && !node.is("construct") &&
            takesLongWithin(held, ownFunctions_.value(held)))
            return true;
    }
    return std::any_of(node.children.begin(), node.children.end(),
                       [this](const CodeNode &c) { return mayTakeLong(c); });
}

// What calls itself may take long, if it does more than show.
bool Effects::takesLongWithin(int function, const QList<const CodeNode *> &bodies) const
{
    if (const auto known = slow_.constFind(function); known != slow_.constEnd())
        return *known;
    const auto isShown = [](const Effect &e) { return e.kind == Effect::WritesWidget; };
    if (slowOpen_.contains(function)) {
        bool shows = false;
        for (const CodeNode *b : bodies) {
            const QList<Effect> effects = of(*b);
            shows = shows || std::any_of(effects.begin(), effects.end(), isShown);
        }
        return !shows;
    }
    slowOpen_.insert(function);
    const bool slow =
        std::any_of(bodies.begin(), bodies.end(), [this](const CodeNode *b) { return mayTakeLong(*b); });
    slowOpen_.remove(function);
    if (slowOpen_.isEmpty() || slow)
        slow_.insert(function, slow);
    return slow;
}

// A loop whose every statement is about widgets, different ones each time round: it fills a list, or reads
// one.
bool Effects::isOnlyShowing(const CodeNode &loop) const
{
    const Locals inside = locals(loop);
    const QSet<int> changing = inside.declares + inside.writes;
    bool any = false, all = true, searches = false, leaves = false;
    const auto shows = [&](const CodeNode &n) {
        const QList<Effect> effects = of(n);
        return std::any_of(effects.begin(), effects.end(), [&](const Effect &e) {
            if (e.kind == Effect::WritesWidget || e.kind == Effect::Creates)
                return true;
            return e.kind == Effect::ReadsWidget && e.node && locals(*e.node).reads.intersects(changing);
        });
    };
    const std::function<void(const CodeNode &)> look = [&](const CodeNode &n) {
        if (n.is("block") || n.is("if") || n.is("switch") || n.is("case") || n.is("try") || n.is("catch")) {
            for (const CodeNode &c : n.children)
                if (c.role == "condition")
                    searches = searches || !shows(c);
                else if (c.role != "variable" && c.role != "init")
                    look(c);
        } else if (n.isLoop()) {
            if (const CodeNode *body = n.child("body"))
                look(*body);
        } else if (!n.is("declare") && !n.is("break") && !n.is("continue") && !n.is("return") &&
                   !n.is("empty")) {
            const bool it = shows(n) && !std::any_of(n.children.begin(), n.children.end(),
                                                     [this](const CodeNode &c) { return mayTakeLong(c); });
            any = any || it;
            all = all && it;
        } else if (n.is("declare")) {
            all = all && !mayTakeLong(n);
        } else {
            leaves = leaves || n.is("break") || n.is("return");
        }
    };
    if (const CodeNode *body = loop.child("body"))
        look(*body);
    return any && all && !(searches && leaves) && asksForLittle(loop);
}

// What it asks is stored where it is asked: a text is, how wide it is must be measured.
bool Effects::asksForLittle(const CodeNode &node) const
{
    bool little = true;
    node.each([&](const CodeNode &n) {
        const CodeDecl *d = n.is("method") ? unit_.decl(n.decl) : nullptr;
        little = little && (!d || d->own || !d->isConst || costsLittle(unit_, *d));
        return little;
    });
    return little;
}

} // namespace pipit
