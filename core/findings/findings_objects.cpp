// Findings about what stands in the windows.
#include "core/catalog/catalog.h"
#include "core/findings/checker.h"
#include "core/findings/names.h"
#include "core/project/references.h"
#include "core/project/values.h"

namespace pipit
{

namespace
{

template <class Node> bool isTrue(const Node *n, const char *property)
{
    const Json *v = n ? n->property(QLatin1String(property)) : nullptr;
    return v && v->type() == Json::Bool && v->toBool();
}

} // namespace

void Checker::source(const QString &name, const QString &cls, const WidgetNode *w, const ObjectNode *o,
                     int line)
{
    const Catalog &c = Catalog::get();
    const auto quiet = [&](const QString &signal) {
        if (!code_.connected.contains(name))
            say("nothing-connected", Severity::Warning, name,
                QStringLiteral("Nothing is connected to %1 · %2.").arg(name, signal),
                "Connect it to a handler.", line);
    };
    const QSet<QString> heard = heard_.value(name);
    if (c.inherits(cls, "QDialogButtonBox") && heard.isEmpty())
        return quiet("accepted");
    const bool button = c.inherits(cls, "QPushButton") || c.inherits(cls, "QToolButton");
    if (!heard.isEmpty())
        return;
    const bool checkable = w ? isTrue(w, "checkable") : isTrue(o, "checkable");
    if (checkable && code_.mentioned.contains(name))
        return; // its state is read
    if (button) {
        if (!w->textOf("menu").isEmpty() || !w->textOf("dragType").isEmpty())
            return;
        if (const QString group = w->textOf("group"); !group.isEmpty() && !heard_.value(group).isEmpty())
            return;
        quiet(checkable ? "toggled" : "clicked");
    } else if (cls == "QAction") {
        for (const Reference &r :
             std::as_const(references_)) // a menu or bar that listens for all of its actions
            if (r.name == name && (hears(r.owner, "triggered") || hears(r.owner, "actionTriggered")))
                return;
        quiet(checkable ? "toggled" : "triggered");
    } else if (cls == "QTimer") {
        quiet("timeout");
    }
}

void Checker::sources()
{
    p_.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        source(w.name, w.knownClass(), &w, nullptr, w.kept.line);
        const bool view = Catalog::get().inherits(w.knownClass(), "QAbstractItemView");
        if (view && Catalog::get().property(w.knownClass(), "model") && w.textOf("model").isEmpty() &&
            !code_.does(w.name, {"setModel"}))
            say("missing-model", Severity::Warning, w.name,
                QStringLiteral("%1 has no model to show.").arg(w.name),
                "Add a model and name it, or set one in code.", w.kept.line);
        if ((hears(w.name, "toggled")) && Catalog::get().property(w.knownClass(), "checkable") &&
            !isTrue(&w, "checkable") && !QStringList{"QCheckBox", "QRadioButton"}.contains(w.knownClass()) &&
            !code_.does(w.name, {"setCheckable"})) {
            Finding &f =
                say("not-checkable", Severity::Warning, w.name,
                    QStringLiteral("%1 · toggled is never emitted: %1 is not checkable.").arg(w.name),
                    "Make it checkable, or connect clicked.", w.kept.line);
            f.mend = Finding::Mend::SetProperty;
            f.with = QStringList{"checkable", "true"};
        }
    });
    for (const WindowNode &w : p_.windows) {
        for (const TimerNode &t : w.timers)
            source(t.name, "QTimer", nullptr, nullptr, t.kept.line);
        for (const ObjectNode &o : w.objects)
            source(o.name, o.knownClass(), nullptr, &o, o.kept.line);
    }
}

void Checker::timers()
{
    for (const WindowNode &w : p_.windows)
        for (const TimerNode &t : w.timers) {
            if (t.interval < 10 && t.repeat) {
                Finding &f =
                    say("timer-too-fast", Severity::Warning, t.name,
                        QStringLiteral("%1 fires every %2 ms, which keeps the event loop busy.")
                            .arg(t.name)
                            .arg(t.interval),
                        "Give it 10 ms or more, or do the work in steps or in the background.", t.kept.line);
                f.mend = Finding::Mend::SetProperty;
                f.with = QStringList{"interval", "100"};
            }
            const bool started = t.autostart || called(t.name, "start") || code_.does(t.name, {"start"});
            if (!started && !heard_.value(t.name).isEmpty()) {
                Finding &f =
                    say("timer-never-started", Severity::Warning, t.name,
                        QStringLiteral("%1 is never started.").arg(t.name),
                        "Start it with the window, or connect a signal to its start slot.", t.kept.line);
                f.mend = Finding::Mend::SetProperty;
                f.with = QStringList{"autostart", "true"};
            }
        }
}

void Checker::names()
{
    const QString base = p_.windows.first().root.className;
    QStringList all = p_.objectNames();
    QHash<QString, QString> byCase;
    for (const QString &n : std::as_const(all)) {
        if (const QString other = byCase.value(n.toLower()); !other.isEmpty())
            say("near-name", Severity::Hint, n,
                QStringLiteral("%1 and %2 differ by case only.").arg(n, other), "Rename one of them.", 0);
        byCase.insert(n.toLower(), n);
    }
    for (const Handler &h : p_.handlers)
        all += h.functionNames();
    for (const WindowNode &w : p_.windows)
        all.removeAll(w.root.name); // no member
    for (const QString &n : std::as_const(all))
        if (hidesMember(n, base))
            say("hides-member", Severity::Warning, n,
                QStringLiteral("%1 hides a function of the window's class of the same name.").arg(n),
                "Rename it.", 0);
}

void Checker::references()
{
    const auto named = p_.named();
    for (const Reference &r : std::as_const(references_))
        if (const QString text = complaint(r, named, p_); !text.isEmpty()) {
            const QString near = nearestName(r.name, reach_.names());
            say("broken-reference", Severity::Error, r.owner, text,
                near.isEmpty() ? QString() : QStringLiteral("Did you mean %1?").arg(near), r.line);
        }
}

void Checker::windows()
{
    for (qsizetype i = 1; i < p_.windows.size(); ++i) {
        const QString name = p_.windows[i].root.name;
        const bool shown = opened_.contains(name) || called(name, "show") || called(name, "open") ||
                           called(name, "exec") || called(name, "setVisible") ||
                           code_.does(name, {"show", "open", "exec", "setVisible"});
        if (!shown)
            say("window-never-opened", Severity::Warning, name, QStringLiteral("Nothing opens %1.").arg(name),
                QStringLiteral("Connect a signal that opens it, such as boardButton · clicked opens %1.")
                    .arg(name),
                p_.windows[i].root.kept.line);
    }
}

} // namespace pipit
