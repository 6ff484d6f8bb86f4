// Reading a project file: from the JSON tree to the model, checking as it goes.
#include "core/base/files.h"
#include "core/store/decoder.h"
#include "core/store/store.h"

#include <QDir>
#include <QFileInfo>

namespace pipit
{

QList<Property> Decoder::properties(const Json &o)
{
    QList<Property> found;
    if (const Json *p = o.find("properties"); p && is(*p, Json::Object, "\"properties\""))
        for (const auto &[key, value] : p->members()) {
            static const QRegularExpression form("^[A-Za-z_]\\w{0,199}$"); // default is one too
            if (!form.match(key).hasMatch())
                fail(QStringLiteral("The property \"%1\" is not a C++ name").arg(key.left(60)), "Correct it",
                     value.line());
            if (value.type() == Json::Null || value.type() == Json::Array || value.type() == Json::Object)
                fail(QStringLiteral("The property \"%1\" must be a text, a number, true or false").arg(key),
                     "Correct this value", value.line());
            found.append({key, value});
        }
    return found;
}

// What says that a class is the user's.
void Decoder::ownClass(const Json &o, const char *what, QString &base, QString &header)
{
    base = text(o, "base", what, false);
    header = text(o, "header", what, false);
    static const QRegularExpression path("^[A-Za-z0-9_]{1,100}\\.(h|hpp)$");
    if (problem_)
        return;
    if (!header.isEmpty() && !path.match(header).hasMatch())
        fail(QStringLiteral("The header \"%1\" is not allowed").arg(header.left(60)),
             "Name a .h file in the project's folder, without a path", o.line());
    else if (base.isEmpty() != header.isEmpty())
        fail("A class of your own needs both \"base\" and \"header\"", "Add the missing one", o.line());
    else if (!base.isEmpty() && !isIdentifier(base))
        fail(QStringLiteral("The base class \"%1\" is not a C++ name").arg(base.left(60)), "Name a class",
             o.line());
}

ObjectNode Decoder::object(const Json &o)
{
    ObjectNode n;
    n.kept = keep(o, {"id", "class", "name", "base", "header", "thread", "properties"});
    n.id = id(o, "An object");
    n.className = text(o, "class", "An object");
    if (!problem_ && !isIdentifier(n.className))
        fail(QStringLiteral("The class \"%1\" is not a C++ name").arg(n.className.left(60)), "Name a class",
             o.line());
    n.name = text(o, "name", "An object");
    name(n.name, "The object name", o.line());
    ownClass(o, "An object", n.base, n.header);
    n.thread = flag(o, "thread", false);
    if (!problem_ && n.thread && n.header.isEmpty())
        fail(QStringLiteral("\"%1\" cannot live on a thread of its own").arg(n.name),
             "Only objects of your own classes can; remove \"thread\"", o.line());
    n.properties = properties(o);
    return n;
}

WidgetNode Decoder::widget(const Json &o, int depth)
{
    WidgetNode w;
    w.kept = keep(o, {"id", "class", "name", "base", "header", "layout", "properties", "children"});
    w.id = id(o, "A widget");
    w.className = text(o, "class", "A widget");
    if (!problem_ && !isIdentifier(w.className))
        fail(QStringLiteral("The class \"%1\" is not a C++ name").arg(w.className.left(60)),
             "Name a widget class", o.line());
    w.name = text(o, "name", "A widget");
    ownClass(o, "A widget", w.base, w.header);
    name(w.name, "The widget name", o.line());
    w.layout = text(o, "layout", "A widget", false);
    if (!problem_ && !QStringList{"", "column", "row", "grid", "labelled"}.contains(w.layout))
        fail(QStringLiteral("There is no layout \"%1\"").arg(w.layout.left(60)),
             "Use column, row, grid or labelled", o.line());
    w.properties = properties(o);
    if (depth > 60)
        fail("Widgets are nested too deeply", "Nest at most 60 levels", o.line());
    else
        list(o, "children", [&](const Json &c) { w.children.append(widget(c, depth + 1)); });
    return w;
}

TimerNode Decoder::timer(const Json &o)
{
    TimerNode t;
    t.kept = keep(o, {"id", "name", "interval", "repeat", "precise", "autostart"});
    t.id = id(o, "A timer");
    t.name = text(o, "name", "A timer");
    name(t.name, "The timer name", o.line());
    t.interval = integer(o, "interval", 1000, 0, 86'400'000);
    t.repeat = flag(o, "repeat", true);
    t.precise = flag(o, "precise", false);
    t.autostart = flag(o, "autostart", true);
    return t;
}

WindowNode Decoder::window(const Json &o)
{
    WindowNode w;
    w.kept = keep(o, {"class", "file", "root", "timers", "objects"});
    w.className = text(o, "class", "A window");
    name(w.className, "The window class", o.line());
    w.file = text(o, "file", "A window");
    static const QRegularExpression base("^[A-Za-z0-9_]{1,100}$");
    if (!problem_ && !base.match(w.file).hasMatch())
        fail(QStringLiteral("The file name \"%1\" is not allowed").arg(w.file.left(60)),
             "Use letters, digits and _ only, without a path or ending", o.line());
    if (const Json *root = o.find("root"); root && is(*root, Json::Object, "\"root\""))
        w.root = widget(*root, 0);
    else
        fail("A window has no \"root\"", "Add it", o.line());
    list(o, "timers", [&](const Json &t) { w.timers.append(timer(t)); });
    list(o, "objects", [&](const Json &n) { w.objects.append(object(n)); });
    return w;
}

Result<Project> Decoder::decode(const Json &root)
{
    Project p;
    if (!is(root, Json::Object, "The file"))
        return *problem_;
    const Json *format = root.find("pipit");
    if (!format || format->type() != Json::Number)
        return Problem{"The file has no format version in \"pipit\"", file_,
                       "Open a project file made by Pipit", 1};
    if (format->toNumber() != Project::version)
        return Problem{QStringLiteral("The file has format version %1; this Pipit reads version %2")
                           .arg(format->toNumber())
                           .arg(Project::version),
                       file_, "Open it with the version that wrote it", format->line()};
    p.kept = keep(root, {"pipit", "name", "next_id", "windows", "connections", "handlers"});
    p.name = text(root, "name", "The project");
    p.nextId = integer(root, "next_id", 1, 1, 999'999'999);
    list(root, "windows", [&](const Json &o) { p.windows.append(window(o)); });
    list(root, "connections", [&](const Json &o) { p.connections.append(connection(o)); });
    list(root, "handlers", [&](const Json &o) { p.handlers.append(handler(o)); });
    if (!problem_ && p.windows.isEmpty())
        fail("The project has no window", "Add one to \"windows\"", 1);
    for (const QString &used : std::as_const(ids_)) { // a hand-written file may not know its next id
        static const QRegularExpression digits("[0-9]+$");
        p.nextId = std::max(p.nextId, digits.match(used).captured().toInt() + 1);
    }
    if (problem_)
        return *problem_;
    for (Handler &h : p.handlers)
        if (h.file.isEmpty())
            h.file = p.windowFor(h).sourceFile();
    return p;
}

Result<Project> parseProject(const QByteArray &bytes, const QString &file)
{
    auto root = Json::parse(bytes, file);
    if (!root)
        return root.problem();
    return Decoder(file).decode(*root);
}

Result<Project> loadProject(const QString &file)
{
    auto bytes = readFile(file);
    if (!bytes)
        return bytes.problem();
    return parseProject(*bytes, file);
}

Result<ProjectPlace> findProject(const QString &path)
{
    const QFileInfo info(path);
    if (!info.exists())
        return Problem{"There is no such project", path, "Check the path, or create one with 'pipit new'"};
    if (info.isFile())
        return ProjectPlace{info.absolutePath(), info.absoluteFilePath()};
    const QDir dir(info.absoluteFilePath());
    const QStringList found = dir.entryList({"*.pipit"}, QDir::Files);
    if (found.isEmpty())
        return Problem{"The folder has no project file", path, "Create one with 'pipit new'"};
    if (found.size() > 1)
        return Problem{"The folder has several project files: " + found.join(", "), path, "Name one of them"};
    return ProjectPlace{dir.path(), dir.filePath(found.first())};
}

} // namespace pipit
