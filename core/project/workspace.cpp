#include "core/project/workspace.h"

#include "core/base/files.h"
#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/codegen/wiring.h"
#include "core/userfiles/cpp_scan.h"

#include <QFileInfo>

namespace pipit
{

Result<Workspace> Workspace::open(const QString &path)
{
    auto place = findProject(path);
    if (!place)
        return place.problem();
    auto bytes = readFile(place->file);
    if (!bytes)
        return bytes.problem();
    auto project = parseProject(*bytes, place->file);
    if (!project)
        return project.problem();
    Workspace w;
    w.place_ = *place;
    w.project_ = *project;
    w.savedBytes_ = *bytes;
    w.files_ = UserFiles(place->folder);
    return w;
}

Result<Workspace> Workspace::create(const QString &folder)
{
    auto place = newProject(folder);
    if (!place)
        return place.problem();
    auto w = open(place->file);
    if (!w)
        return w;
    for (const GeneratedFile &f : userTemplates(w->project_))
        if (auto ok = writeFile(place->folder + '/' + f.name, f.bytes); !ok)
            return ok.problem();
    if (auto ok = w->generate(); !ok)
        return ok.problem();
    return w;
}

Outcome Workspace::apply(Edit edit)
{
    QList<FileEdit> done;
    for (const FileEdit &f : edit.files) {
        if (auto ok = files_.apply(f); !ok) {
            for (auto it = done.crbegin(); it != done.crend(); ++it)
                (void)files_.revert(*it);
            return ok;
        }
        done << f;
    }
    edit.before = project_;
    edit.stateBefore = state_;
    edit.stateAfter = state_ = ++lastState_;
    project_ = edit.after;
    undo_.append(std::move(edit));
    redo_.clear();
    return Done{};
}

Outcome Workspace::undo()
{
    if (undo_.isEmpty())
        return Problem{"There is nothing to undo", {}, {}};
    Edit e = undo_.takeLast();
    Outcome result = Done{};
    for (auto it = e.files.crbegin(); it != e.files.crend(); ++it)
        if (auto ok = files_.revert(*it); !ok)
            result = ok;
    project_ = e.before;
    state_ = e.stateBefore;
    redo_.append(std::move(e));
    return result;
}

Outcome Workspace::redo()
{
    if (redo_.isEmpty())
        return Problem{"There is nothing to redo", {}, {}};
    Edit e = redo_.takeLast();
    Outcome result = Done{};
    for (const FileEdit &f : e.files)
        if (auto ok = files_.apply(f); !ok)
            result = ok;
    project_ = e.after;
    state_ = e.stateAfter;
    undo_.append(std::move(e));
    return result;
}

namespace
{

Outcome checkNewName(const Project &p, const QString &name)
{
    if (!isIdentifier(name))
        return Problem{QStringLiteral("'%1' is no C++ name").arg(name.left(60)),
                       {},
                       "Use letters, digits and _, beginning with a letter"};
    if (p.objectNames().contains(name))
        return Problem{QStringLiteral("There is already a '%1'").arg(name), {}, "Choose another name"};
    for (const WindowNode &w : p.windows)
        if (w.className == name)
            return Problem{QStringLiteral("'%1' is the window's class").arg(name), {}, "Choose another name"};
    for (const Handler &h : p.handlers)
        if (h.name == name || h.functions().contains(name))
            return Problem{QStringLiteral("'%1' is a handler's name").arg(name), {}, "Choose another name"};
    return Done{};
}

Problem unknownObject(const Project &p, const QString &name)
{
    const QString near = nearestName(name, p.objectNames());
    return {QStringLiteral("There is no widget or timer '%1'").arg(name.left(60)),
            {},
            near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
}

bool removeFrom(WidgetNode &parent, const QString &name, QStringList &gone)
{
    for (qsizetype i = 0; i < parent.children.size(); ++i) {
        if (parent.children[i].name == name) {
            const std::function<void(const WidgetNode &)> collect = [&](const WidgetNode &n) {
                gone << n.name;
                for (const WidgetNode &c : n.children)
                    collect(c);
            };
            collect(parent.children[i]);
            parent.children.removeAt(i);
            return true;
        }
        if (removeFrom(parent.children[i], name, gone))
            return true;
    }
    return false;
}

} // namespace

Result<Json> propertyValue(const QString &className, const QString &property, const QString &text)
{
    if (property == "items" && (className == "QListWidget" || className == "QComboBox"))
        return Json::string(QString(text).replace("\\n", "\n"));
    QStringList names;
    for (const PropertyEntry &p : Catalog::get().propertiesOf(className)) {
        names << p.name;
        if (p.name != property)
            continue;
        if (p.type == "bool") {
            if (text != "true" && text != "false")
                return Problem{QStringLiteral("%1 is true or false, not '%2'").arg(property, text.left(60)),
                               {},
                               "Write true or false"};
            return Json::boolean(text == "true");
        }
        if (p.type == "int" || p.type == "double" || p.type == "uint") {
            bool ok = false;
            const double n = p.type == "double" ? text.toDouble(&ok) : text.toInt(&ok);
            if (!ok)
                return Problem{QStringLiteral("%1 is a number, not '%2'").arg(property, text.left(60)),
                               {},
                               "Write a number"};
            return Json::number(n);
        }
        if (!p.keys.isEmpty()) {
            for (const QString &key : text.split('|'))
                if (!p.keys.contains(key.trimmed()))
                    return Problem{QStringLiteral("%1 cannot be '%2'").arg(property, text.left(60)),
                                   {},
                                   "Choose from " + p.keys.join(", ")};
            return Json::string(text);
        }
        if (p.type != "QString")
            return Problem{QStringLiteral("%1 is a %2, which cannot be set yet").arg(property, p.type),
                           {},
                           "Set it in the window's constructor"};
        return Json::string(text);
    }
    const QString near = nearestName(property, names);
    return Problem{QStringLiteral("%1 has no property '%2'").arg(className, property.left(60)),
                   {},
                   near.isEmpty() ? "See 'pipit catalog " + className + "'" : "Nearest: " + near};
}

Outcome Workspace::addWidget(const QString &parentName, const QString &words, const QString &name,
                             const QList<Property> &properties)
{
    const QString cls = Catalog::get().classFor(words);
    if (cls == "QTimer")
        return addTimer(name, 1000);
    if (cls.isEmpty())
        return Problem{QStringLiteral("No widget is known as '%1'").arg(words.left(60)),
                       {},
                       "Use a class or a plain word, such as button, label, field, list"};
    if (auto ok = checkNewName(project_, name); !ok)
        return ok;
    Edit e{"add " + name, {}, project_, {}};
    WidgetNode w;
    w.className = cls;
    w.name = name;
    w.properties = properties;
    WidgetNode *parent = parentName.isEmpty() || parentName == "." ? &e.after.windows.first().root
                                                                   : e.after.widget(parentName);
    if (!parent)
        return unknownObject(project_, parentName);
    static const QStringList containers = {"QWidget", "QGroupBox", "QFrame"};
    if (!containers.contains(parent->className))
        return Problem{QStringLiteral("A %1 holds no widgets").arg(parent->className),
                       {},
                       "Add it to the window, a group, a frame or an area"};
    if (containers.contains(cls))
        w.layout = "column";
    if (parent->layout.isEmpty())
        parent->layout = "column";
    w.id = e.after.newId("w");
    parent = parentName.isEmpty() || parentName == "." ? &e.after.windows.first().root
                                                       : e.after.widget(parentName);
    parent->children.append(w);
    return apply(std::move(e));
}

Outcome Workspace::addTimer(const QString &name, int intervalMs)
{
    if (auto ok = checkNewName(project_, name); !ok)
        return ok;
    Edit e{"add " + name, {}, project_, {}};
    TimerNode t;
    t.id = e.after.newId("t");
    t.name = name;
    t.interval = intervalMs;
    e.after.windows.first().timers.append(t);
    return apply(std::move(e));
}

Outcome Workspace::setProperty(const QString &object, const QString &property, const QString &text)
{
    Edit e{"set " + property + " of " + object, {}, project_, {}};
    for (TimerNode &t : e.after.windows.first().timers) {
        if (t.name != object)
            continue;
        bool ok = false;
        const int n = text.toInt(&ok);
        if (property == "interval" && ok && n >= 0 && n <= 86'400'000)
            t.interval = n;
        else if (QStringList{"repeat", "precise", "autostart"}.contains(property) &&
                 (text == "true" || text == "false"))
            (property == "repeat"    ? t.repeat
             : property == "precise" ? t.precise
                                     : t.autostart) = text == "true";
        else
            return Problem{QStringLiteral("A timer cannot have %1=%2").arg(property.left(60), text.left(60)),
                           {},
                           "Set interval in milliseconds, or repeat, precise, autostart to true or false"};
        return apply(std::move(e));
    }
    WidgetNode *w = e.after.widget(object);
    if (!w)
        return unknownObject(project_, object);
    if (property == "layout") {
        if (!QStringList{"column", "row", "grid", "labelled"}.contains(text))
            return Problem{QStringLiteral("The layout '%1' is not known").arg(text.left(60)),
                           {},
                           "Use column, row, grid or labelled"};
        w->layout = text;
        return apply(std::move(e));
    }
    auto value = propertyValue(w->className, property, text);
    if (!value)
        return value.problem();
    w->setProperty(property, *value);
    return apply(std::move(e));
}

Outcome Workspace::remove(const QString &object)
{
    Edit e{"remove " + object, {}, project_, {}};
    QStringList gone;
    WindowNode &w = e.after.windows.first();
    if (object == w.root.name)
        return Problem{"The window itself cannot be removed", {}, "Remove the widgets in it"};
    if (w.timers.removeIf([&](const TimerNode &t) { return t.name == object; }) > 0)
        gone << object;
    else if (!removeFrom(w.root, object, gone))
        return unknownObject(project_, object);
    e.after.connections.removeIf([&](const Connection &c) {
        return gone.contains(c.from) || (c.targetKind != Connection::Target::Handler && gone.contains(c.to));
    });
    return apply(std::move(e));
}

Outcome Workspace::disconnect(const QString &id)
{
    const Connection *c = project_.connection(id);
    if (!c)
        return Problem{QStringLiteral("There is no connection '%1'").arg(id.left(60)),
                       {},
                       "See 'pipit show' for the ids"};
    Edit e{"disconnect " + c->subject() + " · " + c->what(), {}, project_, {}};
    e.after.connections.removeIf([&](const Connection &each) { return each.id == id; });
    return apply(std::move(e));
}

Outcome Workspace::setPacing(const QString &id, const Pacing &pacing)
{
    Edit e{"change the pacing of " + id, {}, project_, {}};
    for (Connection &c : e.after.connections)
        if (c.id == id) {
            if (c.sourceKind == Connection::Source::Event && pacing.kind != PacingKind::AtOnce)
                return Problem{"Only signals have a pacing", {}, "Leave events at once"};
            c.pacing = pacing;
            return apply(std::move(e));
        }
    return Problem{QStringLiteral("There is no connection '%1'").arg(id.left(60)), {}, {}};
}

Outcome Workspace::setEnabled(const QString &id, bool enabled)
{
    Edit e{(enabled ? "enable " : "disable ") + id, {}, project_, {}};
    for (Connection &c : e.after.connections)
        if (c.id == id) {
            c.enabled = enabled;
            return apply(std::move(e));
        }
    return Problem{QStringLiteral("There is no connection '%1'").arg(id.left(60)), {}, {}};
}

bool Workspace::dirty() const
{
    return state_ != savedState_ || !files_.dirtyFiles().isEmpty();
}

Outcome Workspace::save()
{
    auto saved = saveProject(project_, place_.file, savedBytes_);
    if (!saved)
        return saved.problem();
    savedBytes_ = *saved;
    savedState_ = state_;
    return files_.saveAll();
}

Outcome Workspace::generate()
{
    auto g = pipit::generate(project_, place_, files_);
    if (!g)
        return g.problem();
    return writeGenerated(*g, place_);
}

bool Workspace::projectChangedOnDisk() const
{
    auto now = readFile(place_.file);
    return now && *now != savedBytes_;
}

QStringList Workspace::refresh()
{
    QStringList changed = files_.refresh();
    if (projectChangedOnDisk())
        changed.prepend(QFileInfo(place_.file).fileName());
    return changed;
}

Outcome Workspace::reloadProject()
{
    auto again = open(place_.file);
    if (!again)
        return again.problem();
    if (projectBytes(again->project_) == projectBytes(project_)) {
        savedBytes_ = again->savedBytes_;
        return Done{};
    }
    Edit e{"load the project again", project_, again->project_, {}};
    savedBytes_ = again->savedBytes_;
    e.stateBefore = state_;
    e.stateAfter = state_ = savedState_ = ++lastState_;
    undo_.append(e);
    redo_.clear();
    project_ = again->project_;
    return Done{};
}

} // namespace pipit
