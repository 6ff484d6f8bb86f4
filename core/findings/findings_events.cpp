// Findings about keys, drags, pairs of events, and widgets that cannot be used.
#include "core/catalog/catalog.h"
#include "core/findings/checker.h"
#include "core/findings/keys.h"
#include "core/project/condition.h"

namespace pipit
{

QString Checker::Group::words() const
{
    if (!many())
        return sources.first();
    return QStringLiteral("%1 of %2 (%3%4)")
        .arg(sources.size())
        .arg(c->subject(), sources.mid(0, 3).join(", "), sources.size() > 3 ? " …" : "");
}

QList<Checker::Group> Checker::groups(const std::function<bool(const One &)> &concerns) const
{
    QList<Group> all;
    QSet<QString> taken;
    for (const One &one : ones_) {
        if (taken.contains(one.source) || !concerns(one))
            continue;
        taken.insert(one.source);
        if (all.isEmpty() || all.last().c != one.c)
            all.append(Group{one.c, {}});
        all.last().sources << one.source;
    }
    return all;
}

void Checker::keys()
{
    for (const WindowNode &w : p_.windows) {
        QHash<QString, KeyUse> seen;
        for (const KeyUse &use : shortcutsIn(w)) {
            if (const auto it = seen.constFind(use.keys); it != seen.constEnd() && it->owner != use.owner)
                say("key-conflict", Severity::Warning, use.owner,
                    QStringLiteral("%1, and %2. Which one gets the key is undefined.")
                        .arg(use.sentence, it->sentence),
                    "Change the key of one of them.", 0);
            seen.insert(use.keys, use);
        }
    }
    for (const Connection &c : p_.connections) {
        if (c.event != "key press")
            continue;
        for (const QString &note : keyNotes(p_, c))
            if (note.contains("gets the key first"))
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
    const auto drops = [](const One &one) { return one.c->event == "drop" || one.c->event == "drag enter"; };
    const auto refuses = [&](const One &one) {
        const WidgetNode *w = p_.widget(one.source);
        const Json *accepts = w ? w->property("acceptDrops") : nullptr;
        return drops(one) && w && (!accepts || !accepts->toBool()) &&
               !code_.does(one.source, {"setAcceptDrops"});
    };
    for (const Group &g : groups(refuses)) {
        Finding &f =
            say("drop-not-accepted", Severity::Error, g.where(),
                QStringLiteral("%1 · %2 never comes: %3.")
                    .arg(g.words(), g.c->event,
                         g.many() ? "they accept no drops" : g.sources.first() + " accepts no drops"),
                "Set acceptDrops.", g.c->kept.line);
        f.mend = Finding::Mend::SetProperty;
        f.with = QStringList{"acceptDrops", "true"} + g.sources;
    }
    for (const Connection &c : p_.connections) {
        auto condition = parseCondition(c.when, "QDropEvent");
        if ((c.event != "drop" && c.event != "drag enter") || !condition)
            continue;
        for (const ConditionTerm &t : condition->terms) {
            const bool own = t.kind == ConditionTerm::MimeType && t.word.startsWith("application/x-");
            if (own && !offered.contains(t.word) && !views && !code_.mentioned.contains("QDrag"))
                say("drag-source-missing", Severity::Warning, c.id,
                    QStringLiteral(
                        "%1 expects a drop of %2, but nothing in the project can be dragged as that.")
                        .arg(c.subject(), t.word),
                    QStringLiteral("Set dragType=%1 on the drag's source.").arg(t.word), c.kept.line);
        }
    }
}

void Checker::pairs()
{
    struct Pair {
        const char *first, *second, *says, *say;
    };
    static constexpr Pair pairs[] = {
        {"drag enter", "drop", "accepts a drag enter, but has no drop handler",
         "accept a drag enter, but have no drop handler"},
        {"mouse enter", "mouse leave", "handles mouse enter, but not mouse leave",
         "handle mouse enter, but not mouse leave"},
    };
    for (const Pair &pair : pairs)
        for (const Group &g : groups([&](const One &one) {
                 return one.c->event == QLatin1String(pair.first) &&
                        !hears(one.source, QLatin1String(pair.second));
             }))
            say("half-pair", Severity::Hint, g.where(),
                QStringLiteral("%1 %2.").arg(g.words(), QLatin1String(g.many() ? pair.say : pair.says)),
                QStringLiteral("Connect %1 too, or leave it if this is intended.")
                    .arg(QLatin1String(pair.second)),
                g.many() ? g.c->kept.line : 0);
    for (const WindowNode &w : p_.windows)
        for (const TimerNode &t : w.timers) {
            const bool started = called(t.name, "start") || code_.does(t.name, {"start"});
            const bool stopped = called(t.name, "stop") || code_.does(t.name, {"stop", "setSingleShot"});
            if (started && !stopped && t.repeat && !t.autostart)
                say("half-pair", Severity::Hint, t.name,
                    QStringLiteral("%1 is started, but never stopped.").arg(t.name),
                    "Connect a signal to its stop slot, or leave it if this is intended.", t.kept.line);
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
            QStringLiteral("%1 is disabled and nothing enables it, so its connections never run.").arg(name),
            "Enable it, or connect a signal to its setEnabled slot.", line);
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
