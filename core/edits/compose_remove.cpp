// Composing: removing and moving what stands in a window.
#include "core/edits/workspace.h"

#include "core/catalog/catalog.h"
#include "core/project/reach.h"
#include "core/project/references.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

bool removeFrom(WidgetNode &parent, const QString &name, QStringList &gone)
{
    for (qsizetype i = 0; i < parent.children.size(); ++i) {
        const WidgetNode &child = std::as_const(parent).children[i];
        if (child.name == name) {
            const std::function<void(const WidgetNode &)> collect = [&](const WidgetNode &n) {
                gone << n.name;
                for (const WidgetNode &c : n.children)
                    collect(c);
            };
            collect(child);
            parent.children.removeAt(i);
            return true;
        }
        if (child.children.isEmpty())
            continue;
        WidgetNode copy = child;
        if (removeFrom(copy, name, gone)) {
            parent.children[i] = copy;
            return true;
        }
    }
    return false;
}

} // namespace

Result<Removed> Workspace::remove(const QString &object)
{
    return removeAll({object});
}

QStringList Removed::sentences(const QStringList &named) const
{
    QStringList all;
    const auto listed = [&](const QStringList &names, const char *words) {
        QStringList others;
        for (const QString &name : names)
            if (!named.contains(name))
                others << name;
        if (!others.isEmpty())
            all << QString::fromLatin1(words) + others.join(", ");
    };
    listed(objects, "Also removed: ");
    listed(handlers, "Removed, because nothing calls them any more: ");
    for (const QString &function : functions)
        all << "Code removed: " + function;
    QStringList wires;
    for (const Connection &c : connections)
        wires << c.id + ' ' + c.brief();
    if (!wires.isEmpty())
        all << (wires.size() == 1 ? "Connection removed: " : "Connections removed: ") + wires.join(", ");
    for (const QString &reference : references)
        all << reference;
    for (const Connection &c : emptied)
        all << QStringLiteral("%1 %2 stays, but its selector has no matches any more").arg(c.id, c.brief());
    return all;
}

// With the connections that call it and its functions in the user's file: what nothing declares any more
// would not compile.
Outcome Workspace::removeHandler(Edit &e, const QString &name, Removed &removed)
{
    const Handler h = *e.after.handler(name);
    auto text = files_.text(h.file);
    if (!text)
        return text.problem();
    const QStringList functions = h.functionNames();
    for (const Definition &d : definitionsIn(*text)) {
        if (!functions.contains(d.name))
            continue;
        qsizetype from = d.begin, to = d.bodyClose + 1;
        if (to < text->size() && text->at(to) == '\n')
            ++to;
        if (from > 0 && text->at(from - 1) == '\n') // the blank line before it
            --from;
        e.files.append({h.file, from, text->mid(from, to - from), {}});
        removed.functions
            << QStringLiteral("%1:%2 %3").arg(h.file).arg(lineAt(*text, d.headBegin)).arg(d.name);
    }
    const QString job = jobName(h);
    if (!job.isEmpty())
        removed.objects << job;
    removed.handlers << name;
    e.after.handlers.removeIf([&](const Handler &each) { return each.name == name; });
    return Done{};
}

// The connections of all that is gone, and what else named it.
void Workspace::removeTraces(Edit &e, Removed &removed) const
{
    Project &p = e.after;
    const QSet<QString> dead(removed.objects.begin(), removed.objects.end());
    const QSet<QString> handlers(removed.handlers.begin(), removed.handlers.end());
    p.connections.removeIf([&](const Connection &c) {
        const bool calls = c.targetKind == Connection::Target::Handler;
        const bool gone = dead.contains(c.from) || (calls ? handlers : dead).contains(c.to);
        if (gone)
            removed.connections << c;
        return gone;
    });
    for (const Reference &r : referencesIn(p))
        if (dead.contains(r.name) && !dead.contains(r.owner))
            removed.references
                << QStringLiteral("%1 names no %2 any more (%3)").arg(r.owner, r.property, r.name);
    for (const QString &name : std::as_const(removed.objects))
        renameReferences(p, name, {});
    if (std::none_of(p.connections.begin(), p.connections.end(),
                     [](const Connection &c) { return !c.select.isEmpty(); }))
        return;
    const Reach before(e.before), after(p);
    for (const Connection &c : std::as_const(p.connections)) {
        if (c.select.isEmpty())
            continue;
        const auto had = before.sources(c), has = after.sources(c);
        if (had && has && !had->isEmpty() && has->isEmpty())
            removed.emptied << c;
    }
}

QStringList Workspace::usesInCode(const QStringList &names)
{
    QStringList uses;
    for (const QString &file : userSources(place_.folder, project_)) {
        const auto text = files_.text(file);
        if (!text)
            continue;
        const QString code = codeOnly(*text);
        for (const QString &name : names) {
            const QRegularExpression word("\\b" + QRegularExpression::escape(name) + "\\b");
            if (const auto m = word.match(code); m.hasMatch())
                uses << QStringLiteral("%1:%2 still uses %3")
                            .arg(file)
                            .arg(lineAt(*text, m.capturedStart()))
                            .arg(name);
        }
    }
    return uses;
}

Result<Removed> Workspace::removeAll(const QStringList &objects)
{
    Edit e{"remove " + objects.join(", "), project_, project_, {}};
    Project &p = e.after;
    Removed removed;
    QStringList &gone = removed.objects;
    for (const QString &object : objects) {
        if (gone.contains(object))
            continue;
        if (p.windowOf(object) < 0 && p.handler(object)) {
            if (auto ok = removeHandler(e, object, removed); !ok)
                return ok.problem();
            continue;
        }
        const int at = p.windowOf(object);
        if (at < 0)
            return unknownObject(project_, object);
        WindowNode &w = p.windows[at];
        if (object == w.root.name && at == 0)
            return Problem{"The window itself cannot be removed", {}, "Remove the widgets in it"};
        if (object == w.root.name) {
            const auto named = p.named();
            for (auto it = named.begin(); it != named.end(); ++it)
                if (it->window == at)
                    gone << it.key();
            p.handlers.removeIf([&](const Handler &h) {
                if (h.window != w.className)
                    return false;
                removed.handlers << h.name;
                return true;
            });
            p.windows.removeAt(at);
        } else if (w.timers.removeIf([&](const TimerNode &t) { return t.name == object; }) > 0 ||
                   w.objects.removeIf([&](const ObjectNode &o) { return o.name == object; }) > 0) {
            gone << object;
        } else if (!removeFrom(w.root, object, gone)) {
            return Problem{
                QStringLiteral("%1 belongs to a handler").arg(object), {}, "Change the handler's shape"};
        }
    }
    removeTraces(e, removed);
    if (auto ok = apply(std::move(e)); !ok)
        return ok.problem();
    return removed;
}

Outcome Workspace::move(const QString &widget, const QString &parent, int index)
{
    const WidgetNode *node = project_.widget(widget);
    if (!node)
        return unknownObject(project_, widget);
    const WidgetNode *from = project_.parentOf(widget);
    if (!from)
        return Problem{"A window itself cannot be moved", {}, "Move the widgets in it"};
    const QString into = project_.containerNamed(parent);
    const WidgetNode *to = project_.widget(into);
    if (!to)
        return unknownObject(project_, into);
    if (project_.windowOf(into) != project_.windowOf(widget))
        return Problem{"A widget cannot be moved into another window", {}, "Copy and paste it there"};
    if (!Catalog::holds(to->knownClass()))
        return Problem{QStringLiteral("A %1 cannot contain widgets").arg(to->knownClass()),
                       {},
                       "Move it into the window, a group, a frame or an area"};
    const std::function<bool(const WidgetNode &)> holds = [&](const WidgetNode &n) {
        return n.name == into || std::any_of(n.children.begin(), n.children.end(), holds);
    };
    if (holds(*node))
        return Problem{"A widget cannot be moved into itself", {}, "Choose another place"};
    Edit e{"move " + widget, {}, project_, {}};
    WidgetNode moved = *node;
    if (from->name == into && index >= 0) { // its own place will be gone by then
        for (int i = 0; i < from->children.size(); ++i)
            if (from->children[i].name == widget && i < index)
                --index;
    }
    QStringList gone;
    removeFrom(e.after.windows[project_.windowOf(widget)].root, widget, gone);
    WidgetNode *target = e.after.widget(into);
    for (const char *cell : {"row", "column"})
        if (from->name != into)
            moved.setProperty(cell, Json());
    target->children.insert(index < 0 || index > target->children.size() ? target->children.size() : index,
                            moved);
    if (target->layout.isEmpty() &&
        QStringList{"QWidget", "QGroupBox", "QFrame", "QDialog"}.contains(target->knownClass()))
        target->layout = "column";
    return apply(std::move(e));
}

} // namespace pipit
