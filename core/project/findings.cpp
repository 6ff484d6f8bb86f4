#include "core/project/findings.h"

#include "core/catalog/catalog.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

namespace pipit
{

namespace
{

using Severity = Finding::Severity;

// The signal that a person expects to do something, for classes that exist to be used.
QString mainSignal(const QString &cls)
{
    const Catalog &c = Catalog::get();
    if (c.inherits(cls, "QPushButton") || c.inherits(cls, "QToolButton"))
        return "clicked";
    return cls == "QTimer" ? "timeout" : QString();
}

void sources(const Project &p, QList<Finding> &out)
{
    QSet<QString> heard;
    for (const Connection &c : p.connections)
        heard.insert(c.from);
    const auto check = [&](const QString &name, const QString &cls, int line) {
        const QString signal = mainSignal(cls);
        if (!signal.isEmpty() && !heard.contains(name))
            out.append({"nothing-connected", Severity::Warning, name,
                        QStringLiteral("Nothing is connected to %1 · %2.").arg(name, signal),
                        QStringLiteral("Connect it to a handler."), line});
    };
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) { check(w.name, w.className, w.kept.line); });
    for (const WindowNode &w : p.windows)
        for (const TimerNode &t : w.timers)
            check(t.name, "QTimer", t.kept.line);
}

void connections(const Project &p, QList<Finding> &out)
{
    QStringList handlerNames;
    for (const Handler &h : p.handlers)
        handlerNames << h.name;
    const QStringList objects = p.objectNames();
    const QHash<QString, QString> classes = p.classesByName();
    const QSet<QString> handlerSet(handlerNames.begin(), handlerNames.end());
    QSet<QString> seen;
    for (const Connection &c : p.connections) {
        const auto unknown = [&](const QString &id, const QString &what, const QString &near) {
            out.append({id, Severity::Error, c.id,
                        QStringLiteral("%1 · %2 calls %3: %4.").arg(c.subject(), c.what(), c.target(), what),
                        near.isEmpty() ? QString() : QStringLiteral("Did you mean %1?").arg(near),
                        c.kept.line});
        };
        const QString cls = classes.value(c.from);
        if (cls.isEmpty()) {
            unknown("unknown-name", QStringLiteral("there is no widget or timer '%1'").arg(c.from),
                    nearestName(c.from, objects));
        } else if (c.sourceKind == Connection::Source::Signal && Catalog::get().has(cls) &&
                   Catalog::get().signalsNamed(cls, c.signal).isEmpty()) {
            QStringList names;
            for (const SignalEntry &s : Catalog::get().signalsOf(cls))
                names << s.name();
            unknown("unknown-signal", QStringLiteral("a %1 has no signal '%2'").arg(cls, c.signal),
                    nearestName(c.signal, names));
        } else if (c.sourceKind == Connection::Source::Event && !Catalog::get().event(c.event)) {
            unknown("unknown-event", QStringLiteral("there is no event '%1'").arg(c.event), {});
        }
        if (c.targetKind == Connection::Target::Handler && !handlerSet.contains(c.to))
            unknown("unknown-handler", QStringLiteral("there is no handler '%1'").arg(c.to),
                    nearestName(c.to, handlerNames));
        if (c.targetKind != Connection::Target::Handler && !classes.contains(c.to))
            unknown("unknown-name", QStringLiteral("there is no widget '%1'").arg(c.to),
                    nearestName(c.to, objects));
        const QString key = c.subject() + '|' + c.what() + '|' + c.when + '|' + c.target();
        if (seen.contains(key))
            out.append({"duplicate-connection", Severity::Warning, c.id,
                        QStringLiteral("%1 · %2 calls %3 twice.").arg(c.subject(), c.what(), c.target()),
                        "Remove one of the two connections.", c.kept.line});
        seen.insert(key);
    }
}

void handlers(const Project &p, UserFiles &files, QList<Finding> &out)
{
    QSet<QString> called;
    for (const Connection &c : p.connections)
        if (c.targetKind == Connection::Target::Handler)
            called.insert(c.to);
    QHash<QString, QList<Definition>> scanned; // each file once
    for (const Handler &h : p.handlers) {
        if (!called.contains(h.name))
            out.append({"dead-handler", Severity::Warning, h.name,
                        QStringLiteral("No connection calls %1.").arg(h.name), "Connect something to it.",
                        h.kept.line});
        auto text = files.text(h.file);
        if (!text) {
            out.append({"unreadable-file", Severity::Error, h.name, text.problem().text(), {}, h.kept.line});
            continue;
        }
        if (!scanned.contains(h.file))
            scanned.insert(h.file, definitionsIn(*text));
        const QList<Definition> &definitions = scanned[h.file];
        for (const QString &f : h.functions()) {
            const bool free = h.shape == Shape::Background && f.endsWith("Work");
            const QString cls = free ? QString() : p.windows.first().className;
            QStringList others;
            bool found = false;
            for (const Definition &d : definitions) {
                found = found || (d.name == f && (d.className == cls || d.className.endsWith("::" + cls)));
                others << d.name;
            }
            if (found)
                continue;
            QString near = nearestName(f, others);
            if (p.handler(near))
                near.clear();
            out.append({"missing-handler", Severity::Error, h.name,
                        QStringLiteral("%1 has no definition of %2%3.")
                            .arg(h.file, free ? QString() : cls + "::", f),
                        near.isEmpty()
                            ? QStringLiteral("Add its stub.")
                            : QStringLiteral("Did you mean %1? Rename it, or add the stub.").arg(near),
                        h.kept.line});
        }
    }
}

} // namespace

QString severityWord(Severity s)
{
    return s == Severity::Error ? "error" : s == Severity::Warning ? "warning" : "hint";
}

QList<Finding> findingsOf(const Project &project, UserFiles &files)
{
    QList<Finding> out;
    connections(project, out);
    handlers(project, files, out);
    sources(project, out);
    return out;
}

} // namespace pipit
