// Composing: adding, setting, removing and moving what stands in a window.
#include "core/edits/workspace.h"

#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
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

QString parentName(const Project &p, const QString &name)
{
    return name.isEmpty() || name == "." ? p.windows.first().root.name : name;
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

// A property that a class of the user's declares; a null text resets it.
Result<Json> ownValue(const PropertyEntry &p, const QString &text)
{
    bool fits = true;
    if (text.isNull())
        return Json();
    if (p.type == "bool")
        return text == "true" || text == "false"
                   ? Result<Json>(Json::boolean(text == "true"))
                   : Result<Json>(
                         Problem{QStringLiteral("'%1' is no value for %2").arg(text.left(60), p.name),
                                 {},
                                 "Write true or false"});
    if (!p.keys.isEmpty())
        return enumerationValue(p, text);
    if (p.type != "int" && p.type != "double")
        return Json::string(text);
    const double number = p.type == "int" ? text.toInt(&fits) : text.toDouble(&fits);
    if (!fits)
        return Problem{QStringLiteral("'%1' is no value for %2").arg(text.left(60), p.name),
                       {},
                       p.type == "int" ? "Write a whole number" : "Write a number"};
    return Json::number(number);
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
            return Problem{QStringLiteral("The layout '%1' is not known").arg(text.left(60)),
                           {},
                           "Use column, row, grid or labelled"};
        w->layout = text;
        return Done{};
    }
    ObjectNode *o = w ? nullptr : p.object(object);
    if (o && !o->header.isEmpty() && property == "thread") {
        if (!text.isNull() && text != "true" && text != "false")
            return Problem{
                QStringLiteral("'%1' is no value for thread").arg(text.left(60)), {}, "Write true or false"};
        o->thread = text == "true";
        return Done{};
    }
    if (const OwnClass *own = p.ownClassOf(object))
        for (const PropertyEntry &mine : own->properties)
            if (mine.name == property) {
                auto value = ownValue(mine, text);
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
        return Problem{QStringLiteral("%1 is a handler's job and has nothing to set").arg(object), {}, {}};
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
    for (const Expansion &x : *all) {
        if (auto ok = checkNewName(p, x.name); !ok)
            return ok.problem();
        if (seen.contains(x.name))
            return Problem{QStringLiteral("The name '%1' would be made twice").arg(x.name), {}, {}};
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
            auto entry = propertyFor(cls, key);
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
        return Problem{QStringLiteral("A %1 holds no widgets").arg(parent->knownClass()),
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

// The class as the catalog knows it; of a class of the user's what it derives from, if need be by its header.
Result<QString> Workspace::knownClassFor(const AddRequest &r) const
{
    if (r.header.isEmpty()) {
        const QString cls = Catalog::get().classFor(r.words);
        return cls.isEmpty() ? Result<QString>(
                                   Problem{QStringLiteral("No widget is known as '%1'").arg(r.words.left(60)),
                                           {},
                                           "Use a class or a plain word, such as button, label, field, list"})
                             : Result<QString>(cls);
    }
    if (!r.base.isEmpty()) {
        const QString cls = ownBaseFor(r.base);
        return cls.isEmpty()
                   ? Result<QString>(Problem{QStringLiteral("No class is known as '%1'").arg(r.base.left(60)),
                                             {},
                                             "Say like object, like frame, or another class"})
                   : Result<QString>(cls);
    }
    auto bytes = readFile(place_.folder + '/' + r.header);
    if (!bytes)
        return Problem{QStringLiteral("There is no %1 in the project's folder").arg(r.header),
                       {},
                       "Write it first, or say what " + r.words + " derives from: like frame"};
    const QString base = baseInHeader(QString::fromUtf8(*bytes), r.words);
    const bool fits = base == "QObject" || Catalog::get().makes(base);
    if (fits)
        return base;
    return Problem{base.isEmpty()
                       ? QStringLiteral("%1 declares no class %2").arg(r.header, r.words)
                       : QStringLiteral("%1 derives from %2, which is not known").arg(r.words, base),
                   {},
                   base.isEmpty() ? "Write the class's name as it stands there"
                                  : "Say what it is like: like frame, like object"};
}

Result<QStringList> Workspace::add(const AddRequest &r, const QString &parentWanted, int index)
{
    const Catalog &catalog = Catalog::get();
    auto known = knownClassFor(r);
    if (!known)
        return known.problem();
    const QString cls = *known;
    if (r.thread && (catalog.isWidget(cls) || cls == "QTimer"))
        return Problem{QStringLiteral("A %1 stays on the loop's thread").arg(r.words),
                       {},
                       "Only objects that are no widgets can live on a thread of their own"};
    const QString into = parentName(project_, r.parent.isEmpty() ? parentWanted : r.parent);
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
        auto s = Selector::parse(selector);
        if (!s)
            return s.problem();
        for (const SelectorMatch &m : s->matches(project_))
            names << m.name;
        if (names.isEmpty() && !looksLikeSelector(selector) && !Catalog::get().has(selector))
            return unknownObject(project_, selector);
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
    const QString into = parentName(project_, parent);
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
