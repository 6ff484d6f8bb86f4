// Copying and pasting widgets as the project's own text.
#include "core/edits/workspace.h"

#include "core/catalog/catalog.h"
#include "core/project/references.h"
#include "core/store/decoder.h"

#include <QSet>

namespace pipit
{

namespace
{

void namesIn(const WidgetNode &w, QStringList &out)
{
    out << w.name;
    for (const WidgetNode &c : w.children)
        namesIn(c, out);
}

// "boardButton" → "boardButton2"; "key_9" → "key_10".
QString freeName(const QString &name, const std::function<bool(const QString &)> &taken)
{
    qsizetype digits = name.size();
    while (digits > 1 && name[digits - 1].isDigit())
        --digits;
    const QString stem = name.left(digits);
    for (int n = std::max(2, QStringView(name).mid(digits).toInt() + 1);; ++n)
        if (const QString next = stem + QString::number(n); !taken(next))
            return next;
}

void renamed(WidgetNode &w, const QHash<QString, QString> &names, Project &p)
{
    w.name = names.value(w.name, w.name);
    w.id = p.newId("w");
    w.kept.line = 0;
    for (qsizetype i = 0; i < w.children.size(); ++i)
        renamed(w.children[i], names, p);
}

} // namespace

QByteArray Workspace::copy(const QStringList &objects) const
{
    // A widget inside another that is copied too comes along with it.
    QList<WidgetNode> chosen;
    QStringList all;
    for (const QString &name : objects)
        if (const WidgetNode *w = project_.widget(name);
            w && project_.parentOf(name) && !all.contains(name)) {
            QStringList inside;
            namesIn(*w, inside);
            chosen.removeIf([&](const WidgetNode &c) { return inside.contains(c.name); });
            chosen.append(*w);
            all += inside;
        }
    if (chosen.isEmpty())
        return {};
    Project part;
    part.name = project_.name;
    WindowNode w;
    w.className = "Copied";
    w.file = "copied";
    w.root.id = "w0";
    w.root.className = "QWidget";
    w.root.name = "copied";
    w.root.children = chosen;
    part.windows.append(w);
    const QSet<QString> names(all.begin(), all.end());
    for (const Connection &c : project_.connections)
        if (names.contains(c.from))
            part.connections.append(c);
    return projectBytes(part);
}

Result<QStringList> Workspace::paste(const QByteArray &text, const QString &parentWanted, int index)
{
    if (text.size() > 20'000'000)
        return Problem{"The clipboard is too large to paste", {}, "Copy and paste fewer widgets"};
    auto part = parseProject(text, "what was copied");
    if (!part)
        return Problem{"The clipboard has no widgets of a Pipit project", {}, part.problem().text()};
    const QList<WidgetNode> widgets = part->windows.first().root.children;
    if (widgets.isEmpty())
        return Problem{"The clipboard has no widgets", {}, "Copy widgets from the outline first"};
    const QString into =
        parentWanted.isEmpty() || parentWanted == "." ? project_.windows.first().root.name : parentWanted;
    Edit e{"paste", {}, project_, {}};
    Project &p = e.after;
    WidgetNode *parent = p.widget(into);
    if (!parent)
        return unknownObject(project_, into);
    if (!Catalog::holds(parent->knownClass()))
        return Problem{QStringLiteral("A %1 cannot contain widgets").arg(parent->knownClass()),
                       {},
                       "Paste into the window, a group, a frame or an area"};
    QStringList inside;
    for (const WidgetNode &w : widgets)
        namesIn(w, inside);
    QHash<QString, QString> names;
    QSet<QString> given;
    for (const QString &name : std::as_const(inside)) {
        const auto taken = [&](const QString &n) {
            return given.contains(n) || (n != name && inside.contains(n)) || !checkNewName(project_, n);
        };
        const QString next = taken(name) ? freeName(name, taken) : name;
        names.insert(name, next);
        given.insert(next);
    }
    QStringList pasted;
    QList<WidgetNode> made = widgets;
    for (qsizetype i = 0; i < made.size(); ++i) {
        renamed(made[i], names, p);
        pasted << made[i].name;
    }
    parent = p.widget(into); // ids were given since
    if (parent->layout.isEmpty() && !Catalog::get().inherits(parent->knownClass(), "QMenu"))
        parent->layout = "column";
    for (const WidgetNode &w : std::as_const(made))
        parent->children.insert(
            index < 0 || index > parent->children.size() ? parent->children.size() : index++, w);
    // References among what was pasted follow it; others stay where they lead somewhere.
    const auto named = p.named();
    for (auto it = names.begin(); it != names.end(); ++it)
        if (it.key() != it.value())
            for (const QString &root : std::as_const(pasted)) {
                Project one;
                WindowNode w;
                w.root = *p.widget(root);
                one.windows.append(w);
                renameReferences(one, it.key(), it.value());
                *p.widget(root) = one.windows.first().root;
            }
    for (const Reference &r : referencesIn(p))
        if (!named.contains(r.name))
            renameReferences(p, r.name, {});
    for (Connection c : std::as_const(part->connections)) {
        c.id = p.newId("c");
        c.kept.line = 0;
        c.from = names.value(c.from, c.from);
        if (c.targetKind != Connection::Target::Handler)
            c.to = names.value(c.to, c.to);
        const bool known = c.targetKind == Connection::Target::Handler ? p.handler(c.to) != nullptr
                                                                       : p.named().contains(c.to);
        if (known)
            p.connections.append(c);
    }
    if (auto ok = apply(std::move(e)); !ok)
        return ok.problem();
    return pasted;
}

} // namespace pipit
