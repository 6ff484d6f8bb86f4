// Findings about keys, drags, pairs of events, and widgets that cannot be used.
#include "core/catalog/catalog.h"
#include "core/findings/checker.h"
#include "core/findings/keys.h"
#include "core/project/condition.h"

namespace pipit
{

void Checker::keys()
{
    for (const WindowNode &w : p_.windows) {
        QHash<QString, KeyUse> seen;
        for (const KeyUse &use : shortcutsIn(w)) {
            if (const auto it = seen.constFind(use.keys); it != seen.constEnd() && it->owner != use.owner)
                say("key-conflict", Severity::Warning, use.owner,
                    QStringLiteral("%1, and %2: neither is certain to be heard.")
                        .arg(use.sentence, it->sentence),
                    "Give one of them another key.", 0);
            seen.insert(use.keys, use);
        }
    }
    for (const Connection &c : p_.connections) {
        if (c.event != "key press")
            continue;
        for (const QString &note : keyNotes(p_, c))
            if (note.contains("is heard first"))
                say("shadowed-key", Severity::Warning, c.id,
                    QStringLiteral("%1 · %2 (%3): %4").arg(c.subject(), c.what(), c.when, note),
                    "Use another key, or connect the shortcut instead.", c.kept.line);
    }
}

void Checker::drags()
{
    QSet<QString> offered; // what can be dragged from somewhere in the project
    bool views = false;
    p_.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (const QString type = w.textOf("dragType"); !type.isEmpty())
            offered.insert(type);
        const Json *drag = w.property("dragEnabled");
        views = views || (drag && drag->type() == Json::Bool && drag->toBool());
    });
    for (const One &one : ones_) {
        if (one.c->event != "drop" && one.c->event != "drag enter")
            continue;
        const WidgetNode *w = p_.widget(one.source);
        const Json *accepts = w ? w->property("acceptDrops") : nullptr;
        if (w && (!accepts || !accepts->toBool()) && !code_.does(one.source, {"setAcceptDrops"})) {
            Finding &f =
                say("drop-not-accepted", Severity::Error, one.c->id,
                    QStringLiteral("%1 · %2 never comes: %1 takes no drops.").arg(one.source, one.c->event),
                    "Set acceptDrops.", one.c->kept.line);
            f.mend = Finding::Mend::SetProperty;
            f.where = one.source;
            f.with = QStringList{"acceptDrops", "true"};
        }
        auto condition = parseCondition(one.c->when, "QDropEvent");
        if (!condition)
            continue;
        for (const ConditionTerm &t : condition->terms) {
            const bool own = t.kind == ConditionTerm::MimeType && t.word.startsWith("application/x-");
            if (own && !offered.contains(t.word) && !views && !code_.mentioned.contains("QDrag"))
                say("drag-source-missing", Severity::Warning, one.c->id,
                    QStringLiteral("%1 waits for a drop of %2, but nothing here can be dragged as that.")
                        .arg(one.source, t.word),
                    QStringLiteral("Set dragType=%1 where it is dragged from.").arg(t.word),
                    one.c->kept.line);
        }
    }
}

void Checker::pairs()
{
    struct Pair {
        const char *first, *second, *says;
    };
    static constexpr Pair pairs[] = {
        {"drag enter", "drop", "lets a drag in, but nothing is done with a drop"},
        {"mouse enter", "mouse leave", "notices that the pointer comes, but not that it goes"},
    };
    for (auto it = heard_.constBegin(); it != heard_.constEnd(); ++it)
        for (const Pair &pair : pairs)
            if (it->contains(QLatin1String(pair.first)) && !it->contains(QLatin1String(pair.second)))
                say("half-pair", Severity::Hint, it.key(),
                    QStringLiteral("%1 %2.").arg(it.key(), QLatin1String(pair.says)),
                    QStringLiteral("Connect %1 too, or leave it if that is meant.")
                        .arg(QLatin1String(pair.second)),
                    0);
    for (const WindowNode &w : p_.windows)
        for (const TimerNode &t : w.timers) {
            const bool started = called(t.name, "start") || code_.does(t.name, {"start"});
            const bool stopped = called(t.name, "stop") || code_.does(t.name, {"stop", "setSingleShot"});
            if (started && !stopped && t.repeat && !t.autostart)
                say("half-pair", Severity::Hint, t.name,
                    QStringLiteral("%1 is started, but never stopped.").arg(t.name),
                    "Connect something to its stop slot, or leave it if that is meant.", t.kept.line);
        }
}

void Checker::enabledness()
{
    const auto check = [&](const QString &name, const Json *enabled, int line) {
        if (!enabled || enabled->type() != Json::Bool || enabled->toBool() || heard_.value(name).isEmpty())
            return;
        if (called(name, "setEnabled") || called(name, "setDisabled") ||
            code_.does(name, {"setEnabled", "setDisabled"}))
            return;
        Finding &f = say(
            "disabled-source", Severity::Warning, name,
            QStringLiteral("%1 is disabled and nothing enables it, so what is connected to it never comes.")
                .arg(name),
            "Enable it, or connect something to its setEnabled slot.", line);
        f.mend = Finding::Mend::SetProperty;
        f.with = QStringList{"enabled", "true"};
    };
    p_.eachWidget(
        [&](const WidgetNode &w, const WidgetNode *) { check(w.name, w.property("enabled"), w.kept.line); });
    for (const WindowNode &w : p_.windows)
        for (const ObjectNode &o : w.objects)
            check(o.name, o.property("enabled"), o.kept.line);
}

} // namespace pipit
