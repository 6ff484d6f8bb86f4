// Composing: removing and moving what stands in a window.
#include "core/edits/workspace.h"

#include "core/catalog/catalog.h"
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

Outcome Workspace::remove(const QString &object)
{
    return removeAll({object});
}

// With the connections that call it and its functions in the user's file: what nothing declares any more
// would not compile.
Outcome Workspace::removeHandler(Edit &e, const QString &name)
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
    }
    e.after.connections.removeIf([&](const Connection &c) {
        return (c.targetKind == Connection::Target::Handler && c.to == name) || c.from == jobName(h);
    });
    e.after.handlers.removeIf([&](const Handler &each) { return each.name == name; });
    return Done{};
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

Outcome Workspace::removeAll(const QStringList &objects)
{
    Edit e{"remove " + objects.join(", "), {}, project_, {}};
    Project &p = e.after;
    QStringList gone;
    for (const QString &object : objects) {
        if (gone.contains(object))
            continue;
        if (p.windowOf(object) < 0 && p.handler(object)) {
            if (auto ok = removeHandler(e, object); !ok)
                return ok;
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
            p.handlers.removeIf([&](const Handler &h) { return h.window == w.className; });
            p.windows.removeAt(at);
        } else if (w.timers.removeIf([&](const TimerNode &t) { return t.name == object; }) > 0 ||
                   w.objects.removeIf([&](const ObjectNode &o) { return o.name == object; }) > 0) {
            gone << object;
        } else if (!removeFrom(w.root, object, gone)) {
            return Problem{
                QStringLiteral("%1 belongs to a handler").arg(object), {}, "Change the handler's shape"};
        }
    }
    const QSet<QString> dead(gone.begin(), gone.end());
    p.connections.removeIf([&](const Connection &c) {
        return dead.contains(c.from) || (c.targetKind != Connection::Target::Handler && dead.contains(c.to));
    });
    for (const QString &name : std::as_const(gone))
        renameReferences(p, name, {});
    return apply(std::move(e));
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
        return Problem{QStringLiteral("A %1 holds no widgets").arg(to->knownClass()),
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
