// Writing a project file: one item a line, keys in the order in which the file had them.
#include "core/store/store.h"

#include "core/base/files.h"

#include <QDir>
#include <QFileInfo>
#include <QRegularExpression>

namespace pipit
{

using namespace Qt::StringLiterals;

namespace
{

// Whether what the file had of these keys comes first among them, in the same order.
bool asKnown(const QList<Json::Member> &known, const QStringList &order)
{
    qsizetype next = 0;
    for (const QString &key : order) {
        const bool here =
            std::any_of(known.begin(), known.end(), [&](const auto &m) { return m.first == key; });
        if (here && known[next++].first != key)
            return false;
    }
    return true;
}

// The known keys in the file's order, new ones after them in ours, unknown ones where they stood.
Json ordered(QList<Json::Member> known, const Kept &kept)
{
    if (kept.extra.isEmpty() && asKnown(known, kept.order))
        return Json::object(std::move(known));
    Json all = Json::object();
    for (const auto &[k, v] : known)
        all.set(k, v);
    for (const auto &[k, v] : kept.extra)
        all.set(k, v);
    Json result = Json::object();
    for (const QString &key : kept.order)
        if (const Json *v = all.find(key))
            result.set(key, *v);
    for (const auto &[k, v] : all.members())
        if (!kept.order.contains(k))
            result.set(k, v);
    return result;
}

Json strings(const QStringList &list)
{
    Json a = Json::array();
    for (const QString &s : list)
        a.append(Json::string(s));
    return a;
}

Json properties(const QList<Property> &list)
{
    Json o = Json::object();
    for (const Property &p : list)
        o.set(p.name, p.value);
    return o;
}

Json sourceOf(const Connection &c)
{
    Json from = Json::object();
    if (c.select.isEmpty()) {
        from.set(u"object"_s, Json::string(c.subject()));
        return from;
    }
    from.set(u"select"_s, Json::string(c.select));
    if (!c.part.isEmpty())
        from.set(u"part"_s, Json::string(c.part));
    return from;
}

Json occasionOf(const Connection &c)
{
    Json on = Json::object();
    const bool event = c.sourceKind == Connection::Source::Event;
    on.set(event ? "event" : "signal", Json::string(c.what()));
    if (!c.when.isEmpty())
        on.set(u"when"_s, Json::string(c.when));
    if (c.after)
        on.set(u"after"_s, Json::boolean(true));
    if (c.scope != Connection::Scope::Widget)
        on.set(u"scope"_s, Json::string(c.scope == Connection::Scope::Window ? "window" : "application"));
    if (!c.drop.isEmpty())
        on.set(u"accepts"_s, Json::string(c.drop));
    return on;
}

Json targetOf(const Connection &c)
{
    Json to = Json::object();
    switch (c.targetKind) {
    case Connection::Target::Handler:
        to.set(u"handler"_s, Json::string(c.to));
        break;
    case Connection::Target::Open:
        to.set(u"open"_s, Json::string(c.to));
        break;
    case Connection::Target::Slot:
    case Connection::Target::Signal:
        to.set(u"object"_s, Json::string(c.to));
        to.set(c.targetKind == Connection::Target::Slot ? "slot" : "signal", Json::string(c.toMember));
        break;
    }
    return to;
}

Json encode(const Connection &c)
{
    QList<Json::Member> known{{u"id"_s, Json::string(c.id)},
                              {u"from"_s, sourceOf(c)},
                              {u"on"_s, occasionOf(c)},
                              {u"to"_s, targetOf(c)}};
    if (!c.convert.isEmpty())
        known.append({u"convert"_s, Json::string(c.convert)});
    if (c.pacing.kind != PacingKind::AtOnce || c.kept.order.contains(u"pacing"_s))
        known.append({u"pacing"_s, Json::string(c.pacing.text())});
    if (!c.enabled || c.kept.order.contains(u"enabled"_s))
        known.append({u"enabled"_s, Json::boolean(c.enabled)});
    return ordered(known, c.kept);
}

Json encode(const Handler &h)
{
    QList<Json::Member> known{{u"id"_s, Json::string(h.id)},
                              {u"name"_s, Json::string(h.name)},
                              {u"kind"_s, Json::string(h.kind == HandlerKind::Event ? "event" : "signal")}};
    if (!h.arguments.isEmpty() || h.kept.order.contains(u"arguments"_s))
        known.append({u"arguments"_s, strings(h.arguments)});
    if (!h.source.isEmpty())
        known.append({u"source"_s, Json::string(h.source)});
    known.append({u"shape"_s, Json::string(shapeWord(h.shape))});
    known.append({u"file"_s, Json::string(h.file)});
    if (!h.window.isEmpty())
        known.append({u"window"_s, Json::string(h.window)});
    if (h.shape == Shape::Background) {
        known.append({u"input"_s, Json::string(h.input)});
        known.append({u"result"_s, Json::string(h.result)});
    }
    if (h.shape == Shape::Steps)
        known.append({u"state"_s, Json::string(h.state)});
    if (h.shape != Shape::OneGo) {
        known.append({u"again"_s, Json::string(h.again)});
        if (h.isTogether())
            known.append({u"workers"_s, Json::number(h.workers)});
        if (h.isQueued())
            known.append({u"queue"_s, Json::string(h.queue)});
        if (h.batches || h.kept.order.contains(u"batches"_s))
            known.append({u"batches"_s, Json::boolean(h.batches)});
        if (h.declines || h.kept.order.contains(u"declines"_s))
            known.append({u"declines"_s, Json::boolean(h.declines)});
    }
    return ordered(known, h.kept);
}

Json encode(const ObjectNode &n)
{
    QList<Json::Member> known{{u"id"_s, Json::string(n.id)},
                              {u"class"_s, Json::string(n.className)},
                              {u"name"_s, Json::string(n.name)}};
    if (!n.header.isEmpty()) {
        known.append({u"base"_s, Json::string(n.base)});
        known.append({u"header"_s, Json::string(n.header)});
    }
    if (n.thread || n.kept.order.contains(u"thread"_s))
        known.append({u"thread"_s, Json::boolean(n.thread)});
    if (!n.properties.isEmpty() || n.kept.order.contains(u"properties"_s))
        known.append({u"properties"_s, properties(n.properties)});
    return ordered(known, n.kept);
}

Json encode(const TimerNode &t)
{
    return ordered({{u"id"_s, Json::string(t.id)},
                    {u"name"_s, Json::string(t.name)},
                    {u"interval"_s, Json::number(t.interval)},
                    {u"repeat"_s, Json::boolean(t.repeat)},
                    {u"precise"_s, Json::boolean(t.precise)},
                    {u"autostart"_s, Json::boolean(t.autostart)}},
                   t.kept);
}

QByteArray quoted(const QString &key)
{
    return Json::string(key).compact();
}

// A member whose value is a list of items, each on a line of its own.
QByteArray itemLines(const QString &key, const QList<QByteArray> &items, const QByteArray &indent)
{
    if (items.isEmpty())
        return indent + quoted(key) + ": []";
    QByteArray out = indent + quoted(key) + ": [";
    for (qsizetype i = 0; i < items.size(); ++i)
        out += (i ? ",\n" : "\n") + items[i];
    return out + '\n' + indent + ']';
}

QByteArray widgetLine(const WidgetNode &w, const QByteArray &indent);

// Puts the children where "children" stands in the object's one line.
QByteArray withChildren(const Json &head, const QList<WidgetNode> &children, const QByteArray &indent)
{
    QByteArray line = indent + '{';
    bool first = true;
    for (const auto &[k, v] : head.members()) {
        line += (first ? "" : ", ") + quoted(k) + ": ";
        first = false;
        if (k != "children") {
            line += v.compact();
            continue;
        }
        line += '[';
        for (qsizetype i = 0; i < children.size(); ++i)
            line += (i ? ",\n" : "\n") + widgetLine(children[i], indent + "  ");
        line += '\n' + indent + ']';
    }
    return line + '}';
}

QByteArray widgetLine(const WidgetNode &w, const QByteArray &indent)
{
    QList<Json::Member> known{{u"id"_s, Json::string(w.id)},
                              {u"class"_s, Json::string(w.className)},
                              {u"name"_s, Json::string(w.name)}};
    if (!w.base.isEmpty()) {
        known.append({u"base"_s, Json::string(w.base)});
        known.append({u"header"_s, Json::string(w.header)});
    }
    if (!w.layout.isEmpty() || w.kept.order.contains(u"layout"_s))
        known.append({u"layout"_s, Json::string(w.layout)});
    if (!w.properties.isEmpty() || w.kept.order.contains(u"properties"_s))
        known.append({u"properties"_s, properties(w.properties)});
    if (!w.children.isEmpty())
        known.append({u"children"_s, Json::array()});
    return withChildren(ordered(known, w.kept), w.children, indent);
}

QByteArray windowText(const WindowNode &w, const QByteArray &indent)
{
    QList<Json::Member> known{{u"class"_s, Json::string(w.className)},
                              {u"file"_s, Json::string(w.file)},
                              {u"root"_s, Json::object()},
                              {u"timers"_s, Json::array()}};
    if (!w.objects.isEmpty() || w.kept.order.contains(u"objects"_s))
        known.append({u"objects"_s, Json::array()});
    const Json head = ordered(known, w.kept);
    const auto items = [&](const auto &nodes) {
        QList<QByteArray> lines;
        for (const auto &n : nodes)
            lines << indent + "    " + encode(n).compact();
        return lines;
    };
    QByteArray out = indent + "{\n";
    bool first = true;
    for (const auto &[k, v] : head.members()) {
        out += first ? "" : ",\n";
        first = false;
        if (k == "root") {
            out += indent + "  \"root\":\n" + widgetLine(w.root, indent + "    ");
        } else if (k == "timers") {
            out += itemLines(k, items(w.timers), indent + "  ");
        } else if (k == "objects") {
            out += itemLines(k, items(w.objects), indent + "  ");
        } else {
            out += indent + "  " + quoted(k) + ": " + v.compact();
        }
    }
    return out + '\n' + indent + '}';
}

template <class Node> QList<QByteArray> lines(const QList<Node> &nodes)
{
    QList<QByteArray> items;
    for (const Node &n : nodes)
        items << "    " + encode(n).compact();
    return items;
}

} // namespace

QByteArray projectBytes(const Project &p)
{
    const Json head = ordered({{u"pipit"_s, Json::number(Project::version)},
                               {u"name"_s, Json::string(p.name)},
                               {u"next_id"_s, Json::number(p.nextId)},
                               {u"windows"_s, Json::array()},
                               {u"connections"_s, Json::array()},
                               {u"handlers"_s, Json::array()}},
                              p.kept);
    QByteArray out = "{\n";
    bool first = true;
    for (const auto &[k, v] : head.members()) {
        out += first ? "" : ",\n";
        first = false;
        if (k == "windows") {
            QList<QByteArray> items;
            for (const WindowNode &w : p.windows)
                items << windowText(w, "    ");
            out += itemLines(k, items, "  ");
        } else if (k == "connections") {
            out += itemLines(k, lines(p.connections), "  ");
        } else if (k == "handlers") {
            out += itemLines(k, lines(p.handlers), "  ");
        } else {
            out += "  " + quoted(k) + ": " + v.compact();
        }
    }
    return out + "\n}\n";
}

Result<QByteArray> saveProject(const Project &project, const QString &file, const QByteArray &knownBytes)
{
    const QByteArray bytes = projectBytes(project);
    if (QFileInfo::exists(file)) {
        auto onDisk = readFile(file);
        if (!onDisk)
            return onDisk.problem();
        if (*onDisk != knownBytes)
            return Problem{"The file was changed on disk since Pipit read it", file,
                           "Load it again, or save under another name. Nothing was overwritten"};
        if (*onDisk == bytes)
            return bytes;
    }
    if (auto ok = writeFile(file, bytes); !ok)
        return ok.problem();
    return bytes;
}

Result<ProjectPlace> newProject(const QString &folder)
{
    const QFileInfo info(QDir::cleanPath(folder));
    if (info.exists() && (!info.isDir() || !QDir(info.absoluteFilePath()).isEmpty()))
        return Problem{"A new project needs a new or empty folder", folder, "Name another folder"};
    QString base = info.fileName().toLower();
    base.replace(QRegularExpression("[^a-z0-9]+"), "_");
    base.remove(QRegularExpression("^_+|_+$"));
    QString className;
    for (const QString &word : base.split('_', Qt::SkipEmptyParts))
        className += word.left(1).toUpper() + word.mid(1);
    if (!isIdentifier(className))
        return Problem{"The folder's name cannot be used as a class name", folder,
                       "Begin the name with a letter, as in ferry-desk"};
    if (auto made = makeFolder(info.absoluteFilePath()); !made)
        return made.problem();
    Project p;
    p.name = info.fileName();
    WindowNode w;
    w.className = className;
    w.file = base;
    w.root.id = p.newId("w");
    w.root.className = "QWidget";
    w.root.name = className.left(1).toLower() + className.mid(1);
    if (!isIdentifier(w.root.name) || w.root.name == className)
        w.root.name += "Window";
    w.root.layout = "column";
    w.root.setProperty("windowTitle", Json::string(className));
    p.windows.append(w);
    const QString file = info.absoluteFilePath() + '/' + info.fileName() + ".pipit";
    if (auto saved = saveProject(p, file, {}); !saved)
        return saved.problem();
    return ProjectPlace{info.absoluteFilePath(), file};
}

} // namespace pipit
