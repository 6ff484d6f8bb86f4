// Composing: adding and setting what stands in a window.
#include "core/edits/workspace.h"

#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/edits/own_values.h"
#include "core/project/expand.h"
#include "core/project/references.h"
#include "core/project/selector.h"
#include "core/project/values.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <QRegularExpression>

namespace pipit
{

namespace
{

// The property that a widget's text in quotes means.
QString textProperty(const QString &cls)
{
    for (const char *name : {"text", "title"})
        if (Catalog::get().property(cls, QLatin1String(name)))
            return QLatin1String(name);
    return QStringList{"QWidget", "QDialog", "QMainWindow"}.contains(cls) ? "windowTitle" : "";
}

Outcome setOnTimer(TimerNode &t, const QString &property, const QString &text)
{
    bool ok = false;
    const int n = text.toInt(&ok);
    if (property == "interval" && ok && n >= 0 && n <= 86'400'000)
        t.interval = n;
    else if (QStringList{"repeat", "precise", "autostart"}.contains(property) &&
             (text == "true" || text == "false"))
        (property == "repeat" ? t.repeat : property == "precise" ? t.precise : t.autostart) = text == "true";
    else
        return Problem{QStringLiteral("A timer cannot have %1=%2").arg(property.left(60), text.left(60)),
                       {},
                       "Set interval in milliseconds, or repeat, precise, autostart to true or false"};
    return Done{};
}

// Sets or, with a null text, resets.
Outcome setOn(Project &p, const QString &object, const QString &property, const QString &text)
{
    if (TimerNode *t = p.timer(object))
        return setOnTimer(*t, property, text);
    const QString cls = p.classOf(object);
    if (cls.isEmpty())
        return unknownObject(p, object);
    WidgetNode *w = p.widget(object);
    if (w && property == "layout") {
        if (!QStringList{"column", "row", "grid", "labelled"}.contains(text))
            return Problem{QStringLiteral("There is no layout '%1'").arg(text.left(60)),
                           {},
                           "Use column, row, grid or labelled"};
        w->layout = text;
        return Done{};
    }
    ObjectNode *o = w ? nullptr : p.object(object);
    if (o && !o->header.isEmpty() && property == "thread") {
        if (!text.isNull() && text != "true" && text != "false")
            return Problem{QStringLiteral("'%1' is not a value for thread").arg(text.left(60)),
                           {},
                           "Write true or false"};
        o->thread = text == "true";
        return Done{};
    }
    const OwnClass *own = p.ownClassOf(object);
    if (const PropertyEntry *mine = own ? own->property(property) : nullptr) {
        auto value = ownValue(*mine, text);
        if (!value)
            return value.problem();
        w ? w->setProperty(property, *value) : o->setProperty(property, *value);
        return Done{};
    }
    auto entry = propertyFor(cls, property);
    if (!entry)
        return entry.problem();
    Json value; // null: reset
    if (!text.isNull()) {
        auto made = propertyValue(cls, property, text);
        if (!made)
            return made.problem();
        value = *made;
    }
    if (w)
        w->setProperty((*entry)->name, value);
    else if (o)
        o->setProperty((*entry)->name, value);
    else
        return Problem{QStringLiteral("%1 is a handler's job and has no properties").arg(object), {}, {}};
    return Done{};
}

// The new widgets, without ids yet.
Result<QList<WidgetNode>> nodesFor(const Project &p, const AddRequest &r, const QString &cls)
{
    auto all = expandName(r.name);
    if (!all)
        return all.problem();
    QList<WidgetNode> nodes;
    QSet<QString> seen;
    const auto found =
        p.own && !r.header.isEmpty() ? p.own->constFind(r.words) : OwnClasses::const_iterator();
    const OwnClass *own = p.own && !r.header.isEmpty() && found != p.own->constEnd() ? &*found : nullptr;
    for (const Expansion &x : *all) {
        if (auto ok = checkNewName(p, x.name); !ok)
            return ok.problem();
        if (seen.contains(x.name))
            return Problem{QStringLiteral("The name '%1' would exist twice").arg(x.name), {}, {}};
        seen.insert(x.name);
        WidgetNode w;
        w.className = r.header.isEmpty() ? cls : r.words;
        w.name = x.name;
        w.base = r.header.isEmpty() ? QString() : cls;
        w.header = r.header;
        QList<std::pair<QString, QString>> values;
        if (const PlainWord *word = plainWord(r.words))
            values = word->properties;
        if (!r.text.isNull())
            values.append({textProperty(cls), QString(r.text).replace("{}", x.value)});
        values += r.properties;
        for (auto [key, text] : values) {
            text.replace("{}", x.value);
            if (key == "layout") {
                w.layout = text;
                continue;
            }
            if (key.isEmpty())
                return Problem{QStringLiteral("A %1 has no text").arg(plainWordFor(cls)), {}, {}};
            if (const PropertyEntry *mine = own ? own->property(key) : nullptr) {
                auto value = ownValue(*mine, text);
                if (!value)
                    return value.problem();
                w.setProperty(key, *value);
                continue;
            }
            auto entry = propertyFor(cls, key);
            if (!entry && !r.header.isEmpty() && !own)
                return Problem{
                    QStringLiteral("The properties of %1 are unknown until it is added").arg(r.words),
                    {},
                    "Add it first, then set " + key};
            if (!entry)
                return entry.problem();
            auto value = propertyValue(cls, key, text);
            if (!value)
                return value.problem();
            w.setProperty((*entry)->name, *value);
        }
        if (QStringList{"QWidget", "QGroupBox", "QFrame", "QDialog", "QMainWindow", "QScrollArea"}.contains(
                cls) &&
            w.layout.isEmpty() && w.property("frameShape") == nullptr)
            w.layout = "column";
        nodes.append(w);
    }
    return nodes;
}

WindowNode windowNode(const WidgetNode &root)
{
    WindowNode w;
    w.className = root.name.left(1).toUpper() + root.name.mid(1);
    for (const QChar c : root.name) {
        if (c.isUpper() && !w.file.isEmpty())
            w.file += '_';
        w.file += c.toLower();
    }
    w.root = root;
    return w;
}

// What is added goes to one of four places, by its kind.
Outcome addTimers(Edit &e, const AddRequest &r, int window)
{
    auto all = expandName(r.name);
    if (!all)
        return all.problem();
    for (const Expansion &x : *all) {
        if (auto ok = checkNewName(e.after, x.name); !ok)
            return ok;
        TimerNode t;
        t.id = e.after.newId("t");
        t.name = x.name;
        for (const auto &[key, text] : r.properties)
            if (auto ok = setOnTimer(t, key, text); !ok)
                return ok;
        e.after.windows[window].timers.append(t);
    }
    return Done{};
}

Outcome addWindows(Edit &e, const UserFiles &files, const QList<WidgetNode> &nodes)
{
    for (WidgetNode w : nodes) {
        w.id = e.after.newId("w");
        const WindowNode made = windowNode(w);
        if (auto ok = checkNewName(e.after, made.className); !ok || e.after.windowNamed(made.className) >= 0)
            return Problem{
                QStringLiteral("A window's class would be named '%1', which is taken").arg(made.className),
                {},
                "Choose another name"};
        e.after.windows.append(made);
        for (const GeneratedFile &f : windowTemplates(made))
            if (!files.exists(f.name))
                e.files.append({f.name, 0, {}, QString::fromUtf8(f.bytes)});
    }
    return Done{};
}

void addObjects(Edit &e, const QList<WidgetNode> &nodes, int window, bool thread)
{
    for (const WidgetNode &w : nodes)
        e.after.windows[window].objects.append(
            {e.after.newId("o"), w.className, w.name, w.base, w.header, thread, w.properties, {}});
}

Outcome addInto(Edit &e, const QString &into, const QString &cls, const QList<WidgetNode> &nodes, int index)
{
    WidgetNode *parent = e.after.widget(into);
    if (!parent)
        return unknownObject(e.after, into);
    if (!Catalog::holds(parent->knownClass()) && cls != "QMenu")
        return Problem{QStringLiteral("A %1 cannot contain widgets").arg(parent->knownClass()),
                       {},
                       "Add it to the window, a group, a frame or an area"};
    if (parent->layout.isEmpty() &&
        QStringList{"QWidget", "QGroupBox", "QFrame", "QDialog"}.contains(parent->knownClass()))
        parent->layout = "column";
    const bool last = index < 0 || index > parent->children.size();
    for (WidgetNode w : nodes) {
        w.id = e.after.newId("w");
        parent->children.insert(last ? parent->children.size() : index++, w);
    }
    return Done{};
}

} // namespace

Result<QStringList> Workspace::add(const AddRequest &r, const QString &parentWanted, int index)
{
    const Catalog &catalog = Catalog::get();
    auto known = knownClassFor(r);
    if (!known)
        return known.problem();
    const QString cls = *known;
    if (r.thread && (catalog.isWidget(cls) || cls == "QTimer"))
        return Problem{QStringLiteral("A %1 cannot live on its own thread").arg(r.words),
                       {},
                       "Only objects of your own classes that are not widgets can"};
    const QString into = project_.containerNamed(r.parent.isEmpty() ? parentWanted : r.parent);
    const int window = std::max(0, project_.windowOf(into));
    const QString word = r.words.simplified().toLower();
    const bool isWindow = word == "window" || word == "main window" ||
                          (cls == "QDialog" && r.header.isEmpty()) || cls == "QMainWindow";
    Edit e{"add " + r.name, {}, project_, {}};
    Outcome ok = Done{};
    if (cls == "QTimer" && r.header.isEmpty()) { // its properties are its own
        ok = addTimers(e, r, window);
    } else {
        auto nodes = nodesFor(project_, r, cls);
        if (!nodes)
            return nodes.problem();
        if (isWindow)
            ok = addWindows(e, files_, *nodes);
        else if (!catalog.isWidget(cls) && cls != "Spacer")
            addObjects(e, *nodes, window, r.thread);
        else
            ok = addInto(e, into, cls, *nodes, index);
    }
    if (!ok)
        return ok.problem();
    QStringList names;
    if (auto all = expandName(r.name))
        for (const Expansion &x : *all)
            names << x.name;
    if (auto done = apply(std::move(e)); !done)
        return done.problem();
    return names;
}

Outcome Workspace::addWidget(const QString &parent, const QString &words, const QString &name,
                             const QList<Property> &properties)
{
    AddRequest r;
    r.words = words;
    r.name = name;
    for (const Property &p : properties)
        r.properties.append({p.name, valueText(p.value)});
    auto made = add(r, parent);
    return made ? Outcome(Done{}) : Outcome(made.problem());
}

Outcome Workspace::addTimer(const QString &name, int intervalMs)
{
    AddRequest r;
    r.words = "timer";
    r.name = name;
    r.properties = {{"interval", QString::number(intervalMs)}};
    auto made = add(r, ".");
    return made ? Outcome(Done{}) : Outcome(made.problem());
}

Outcome Workspace::setProperty(const QString &object, const QString &property, const QString &text)
{
    Edit e{(text.isNull() ? "reset " : "set ") + property + " of " + object, {}, project_, {}};
    if (auto ok = setOn(e.after, object, property, text); !ok)
        return ok;
    return apply(std::move(e));
}

Result<QStringList> Workspace::setProperties(const QString &selector, const QString &property,
                                             const QString &text)
{
    QStringList names;
    if (looksLikeSelector(selector) || project_.classOf(selector).isEmpty()) {
        const auto named = withNames(selector, project_);
        if (!named)
            return named.problem();
        auto s = Selector::parse(*named);
        if (!s)
            return s.problem();
        for (const SelectorMatch &m : s->matches(project_))
            names << m.name;
    } else {
        names << selector;
    }
    if (names.isEmpty())
        return Problem{QStringLiteral("'%1' matches nothing").arg(selector.left(80)),
                       {},
                       "See 'pipit show' for the names"};
    Edit e{(text.isNull() ? "reset " : "set ") + property + " of " + selector, {}, project_, {}};
    for (const QString &n : std::as_const(names))
        if (auto ok = setOn(e.after, n, property, text); !ok)
            return ok.problem();
    if (auto ok = apply(std::move(e)); !ok)
        return ok.problem();
    return names;
}

Result<QStringList> Workspace::applySettings(const QList<SetRequest> &settings)
{
    Workspace trial = *this; // a copy is cheap: it shares what is not changed
    QStringList all;
    for (const SetRequest &s : settings) {
        auto names = trial.setProperties(s.subject, s.property, s.text);
        if (!names)
            return names.problem();
        all << *names;
    }
    if (all.isEmpty())
        return all;
    const SetRequest &first = settings.first();
    Edit e{(first.text.isNull() ? "reset " : "set ") + first.property + " of " + first.subject +
               (settings.size() > 1 ? " and more" : ""),
           {},
           trial.project(),
           {}};
    if (auto ok = apply(std::move(e)); !ok)
        return ok.problem();
    return all;
}

} // namespace pipit
