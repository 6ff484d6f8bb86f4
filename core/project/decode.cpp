// Reading a project file: from the JSON tree to the model, checking as it goes.
#include "core/project/store.h"

#include "core/base/files.h"

#include <QDir>
#include <QFileInfo>
#include <QRegularExpression>
#include <QSet>

#include <optional>

namespace pipit
{

namespace
{

// Keeps the first problem; everything after it is skipped.
class Decoder
{
public:
    explicit Decoder(QString file) : file_(std::move(file)) {}

    Result<Project> decode(const Json &root);

private:
    using Known = QStringList;

    void fail(const QString &what, const QString &remedy, int line)
    {
        if (!problem_)
            problem_ = Problem{what, file_, remedy, line};
    }
    bool is(const Json &j, Json::Type type, const QString &what)
    {
        if (j.type() == type)
            return true;
        fail(QStringLiteral("%1 must be %2, but is %3").arg(what, typeWord(type), typeWord(j.type())),
             "Correct this value", j.line());
        return false;
    }
    QString text(const Json &o, const QString &key, const QString &what, bool needed = true)
    {
        const Json *j = o.find(key);
        if (!j) {
            if (needed)
                fail(QStringLiteral("%1 has no \"%2\"").arg(what, key), "Add it", o.line());
            return {};
        }
        return is(*j, Json::String, QStringLiteral("\"%1\" of %2").arg(key, what)) ? j->toString()
                                                                                   : QString();
    }
    bool flag(const Json &o, const QString &key, bool byDefault)
    {
        const Json *j = o.find(key);
        return j && is(*j, Json::Bool, '"' + key + '"') ? j->toBool() : byDefault;
    }
    int integer(const Json &o, const QString &key, int byDefault, int least, int most)
    {
        const Json *j = o.find(key);
        if (!j || !is(*j, Json::Number, '"' + key + '"'))
            return byDefault;
        const double n = j->toNumber();
        if (n != double(qint64(n)) || n < least || n > most)
            fail(QStringLiteral("\"%1\" must be a whole number from %2 to %3").arg(key).arg(least).arg(most),
                 "Correct this value", j->line());
        return problem_ ? byDefault : int(n);
    }
    template <class Each> void list(const Json &o, const QString &key, Each &&each)
    {
        const Json *j = o.find(key);
        if (!j || !is(*j, Json::Array, '"' + key + '"'))
            return;
        for (const Json &item : j->items())
            if (!problem_ && is(item, Json::Object, "An item of \"" + key + '"'))
                each(item);
    }
    Kept keep(const Json &o, const Known &known)
    {
        Kept k;
        k.line = o.line();
        for (const auto &[key, value] : o.members()) {
            if (k.order.contains(key))
                fail(QStringLiteral("The key \"%1\" stands twice").arg(key), "Keep one of them",
                     value.line());
            k.order << key;
            if (!known.contains(key))
                k.extra.append({key, value});
        }
        return k;
    }
    void name(const QString &n, const QString &what, int line)
    {
        if (problem_)
            return;
        if (!isIdentifier(n))
            fail(QStringLiteral("%1 \"%2\" is no C++ name").arg(what, n.left(60)),
                 "Use letters, digits and _, beginning with a letter", line);
        else if (names_.contains(n))
            fail(QStringLiteral("The name \"%1\" is used twice").arg(n), "Give one of them another name",
                 line);
        names_.insert(n);
    }
    QString id(const Json &o, const QString &what)
    {
        const QString s = text(o, "id", what);
        static const QRegularExpression form("^[a-z]{1,4}[0-9]{1,9}$");
        if (!problem_ && !form.match(s).hasMatch())
            fail(QStringLiteral("The id \"%1\" is malformed").arg(s.left(60)),
                 "Use a letter and a number, as in c7", o.line());
        if (!problem_ && ids_.contains(s))
            fail(QStringLiteral("The id \"%1\" is used twice").arg(s), "Give one of them another id",
                 o.line());
        ids_.insert(s);
        return s;
    }
    WidgetNode widget(const Json &o, int depth);
    WindowNode window(const Json &o);
    TimerNode timer(const Json &o);
    Connection connection(const Json &o);
    Handler handler(const Json &o);
    void type(const QString &t, int line);

    QString file_;
    std::optional<Problem> problem_;
    QSet<QString> names_, ids_;
};

// A type name as generated code may hold it: no punctuation that could end a declaration.
void Decoder::type(const QString &t, int line)
{
    static const QRegularExpression form("^[A-Za-z_][A-Za-z0-9_:<>, *&]{0,120}$");
    if (!problem_ && !form.match(t).hasMatch())
        fail(QStringLiteral("\"%1\" is no type that can stand in generated code").arg(t.left(60)),
             "Use a type's name, such as int or const QString &", line);
}

WidgetNode Decoder::widget(const Json &o, int depth)
{
    WidgetNode w;
    w.kept = keep(o, {"id", "class", "name", "layout", "properties", "children"});
    w.id = id(o, "A widget");
    w.className = text(o, "class", "A widget");
    if (!problem_ && !isIdentifier(w.className))
        fail(QStringLiteral("The class \"%1\" is no C++ name").arg(w.className.left(60)),
             "Name a widget class", o.line());
    w.name = text(o, "name", "A widget");
    name(w.name, "The widget name", o.line());
    w.layout = text(o, "layout", "A widget", false);
    if (!problem_ && !QStringList{"", "column", "row", "grid", "labelled"}.contains(w.layout))
        fail(QStringLiteral("The layout \"%1\" is not known").arg(w.layout.left(60)),
             "Use column, row, grid or labelled", o.line());
    if (const Json *p = o.find("properties"); p && is(*p, Json::Object, "\"properties\""))
        for (const auto &[key, value] : p->members()) {
            if (!isIdentifier(key))
                fail(QStringLiteral("The property \"%1\" is no C++ name").arg(key.left(60)), "Correct it",
                     value.line());
            if (value.type() == Json::Null || value.type() == Json::Array || value.type() == Json::Object)
                fail(QStringLiteral("The property \"%1\" must be a text, a number, true or false").arg(key),
                     "Correct this value", value.line());
            w.properties.append({key, value});
        }
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
    w.kept = keep(o, {"class", "file", "root", "timers"});
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
    return w;
}

Connection Decoder::connection(const Json &o)
{
    Connection c;
    c.kept = keep(o, {"id", "from", "on", "to", "pacing", "enabled"});
    c.id = id(o, "A connection");
    const Json empty = Json::object();
    const auto part = [&](const QString &key) -> const Json & {
        const Json *j = o.find(key);
        if (j && is(*j, Json::Object, QStringLiteral("\"%1\" of a connection").arg(key)))
            return *j;
        if (!j)
            fail(QStringLiteral("Connection %1 has no \"%2\"").arg(c.id, key), "Add it", o.line());
        return empty;
    };
    const Json &from = part("from"), &on = part("on"), &to = part("to");
    if (problem_)
        return c;
    const QString subject = text(from, "object", "\"from\"");
    c.from = subject.section('.', 0, 0);
    c.part = subject.section('.', 1);
    if (const Json *e = on.find("event"); e) {
        c.sourceKind = Connection::Source::Event;
        c.event = text(on, "event", "\"on\"");
        c.when = text(on, "when", "\"on\"", false);
    } else {
        c.signal = text(on, "signal", "\"on\"");
    }
    if (to.find("handler")) {
        c.to = text(to, "handler", "\"to\"");
    } else {
        const bool slot = to.find("slot");
        c.targetKind = slot ? Connection::Target::Slot : Connection::Target::Signal;
        c.to = text(to, "object", "\"to\"");
        c.toMember = text(to, slot ? "slot" : "signal", "\"to\"");
    }
    if (auto pacing = Pacing::parse(text(o, "pacing", "A connection", false)); pacing)
        c.pacing = *pacing;
    else
        fail(pacing.problem().what, pacing.problem().remedy, o.line());
    if (c.sourceKind == Connection::Source::Event && c.pacing.kind != PacingKind::AtOnce)
        fail("An event connection has a pacing, which only signals can have", "Remove \"pacing\"", o.line());
    c.enabled = flag(o, "enabled", true);
    return c;
}

Handler Decoder::handler(const Json &o)
{
    Handler h;
    h.kept =
        keep(o, {"id", "name", "kind", "arguments", "source", "shape", "file", "input", "result", "again"});
    h.id = id(o, "A handler");
    h.name = text(o, "name", "A handler");
    name(h.name, "The handler name", o.line());
    const QString kind = text(o, "kind", "A handler");
    if (!problem_ && kind != "signal" && kind != "event")
        fail(QStringLiteral("The handler kind \"%1\" is not known").arg(kind.left(60)), "Use signal or event",
             o.line());
    h.kind = kind == "event" ? HandlerKind::Event : HandlerKind::Signal;
    if (const Json *a = o.find("arguments"); a && is(*a, Json::Array, "\"arguments\""))
        for (const Json &t : a->items())
            if (is(t, Json::String, "An argument's type")) {
                h.arguments << t.toString();
                type(t.toString(), t.line());
            }
    h.takesSource = flag(o, "source", false);
    const QString shape = text(o, "shape", "A handler", false);
    if (!problem_ && !QStringList{"", "one-go", "steps", "background"}.contains(shape))
        fail(QStringLiteral("The shape \"%1\" is not known").arg(shape.left(60)), "Use one-go or background",
             o.line());
    if (shape == "steps")
        fail("The shape \"steps\" cannot be built by this version", "Use one-go or background", o.line());
    h.shape = shape == "background" ? Shape::Background : Shape::OneGo;
    h.file = text(o, "file", "A handler", false);
    static const QRegularExpression base("^[A-Za-z0-9_]{1,100}\\.cpp$");
    if (!problem_ && !h.file.isEmpty() && !base.match(h.file).hasMatch())
        fail(QStringLiteral("The handler's file \"%1\" is not allowed").arg(h.file.left(60)),
             "Name a .cpp file in the project's folder, without a path", o.line());
    for (auto [key, member] : {std::pair{"input", &h.input}, {"result", &h.result}})
        if (const QString t = text(o, key, "A handler", false); !t.isEmpty()) {
            *member = t;
            type(t, o.line());
        }
    if (const QString again = text(o, "again", "A handler", false); !again.isEmpty()) {
        if (!QStringList{"ignore", "queue", "restart"}.contains(again))
            fail(QStringLiteral("\"again\" is \"%1\"").arg(again.left(60)), "Use ignore, queue or restart",
                 o.line());
        h.again = again;
    }
    return h;
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
    if (!problem_ && p.windows.size() > 1)
        fail("The project has several windows, which this version cannot build", "Keep one window",
             p.windows[1].kept.line);
    for (const QString &used : std::as_const(ids_)) { // a hand-written file may not know its next id
        static const QRegularExpression digits("[0-9]+$");
        p.nextId = std::max(p.nextId, digits.match(used).captured().toInt() + 1);
    }
    if (problem_)
        return *problem_;
    for (Handler &h : p.handlers)
        if (h.file.isEmpty())
            h.file = p.windows.first().file + ".cpp";
    return p;
}

} // namespace

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
        return Problem{"There is no such project", path, "Check the path, or make one with 'pipit new'"};
    if (info.isFile())
        return ProjectPlace{info.absolutePath(), info.absoluteFilePath()};
    const QDir dir(info.absoluteFilePath());
    const QStringList found = dir.entryList({"*.pipit"}, QDir::Files);
    if (found.isEmpty())
        return Problem{"The folder holds no project file", path, "Make one with 'pipit new'"};
    if (found.size() > 1)
        return Problem{"The folder holds several project files: " + found.join(", "), path,
                       "Name one of them"};
    return ProjectPlace{dir.path(), dir.filePath(found.first())};
}

} // namespace pipit
