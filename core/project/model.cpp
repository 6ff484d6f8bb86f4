#include "core/project/model.h"

#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

const Json *valueIn(const QList<Property> &list, const QString &wanted)
{
    for (const Property &p : list)
        if (p.name == wanted)
            return &p.value;
    return nullptr;
}

void setIn(QList<Property> &list, const QString &wanted, const Json &value)
{
    if (value.type() == Json::Null) {
        list.removeIf([&](const Property &p) { return p.name == wanted; });
        return;
    }
    for (Property &p : list)
        if (p.name == wanted) {
            p.value = value;
            return;
        }
    list.append({wanted, value});
}

QString textIn(const QList<Property> &list, const QString &wanted)
{
    const Json *v = valueIn(list, wanted);
    return v && v->type() == Json::String ? v->toString() : QString();
}

} // namespace

const Json *WidgetNode::property(const QString &wanted) const
{
    return valueIn(properties, wanted);
}
void WidgetNode::setProperty(const QString &wanted, const Json &value)
{
    setIn(properties, wanted, value);
}
QString WidgetNode::textOf(const QString &wanted) const
{
    return textIn(properties, wanted);
}

const Json *ObjectNode::property(const QString &wanted) const
{
    return valueIn(properties, wanted);
}
void ObjectNode::setProperty(const QString &wanted, const Json &value)
{
    setIn(properties, wanted, value);
}
QString ObjectNode::textOf(const QString &wanted) const
{
    return textIn(properties, wanted);
}

QString Pacing::text() const
{
    switch (kind) {
    case PacingKind::AtOnce:
        return "at once";
    case PacingKind::NextTurn:
        return "next turn";
    case PacingKind::AfterPause:
        return QStringLiteral("after a pause of %1 ms").arg(ms);
    case PacingKind::AtMostEvery:
        return QStringLiteral("at most every %1 ms").arg(ms);
    }
    return {};
}

Result<Pacing> Pacing::parse(const QString &text)
{
    const QString t = text.simplified().toLower();
    if (t.isEmpty() || t == "at once")
        return Pacing{};
    if (t == "next turn")
        return Pacing{PacingKind::NextTurn, 0};
    static const QRegularExpression timed("^(after a pause of|at most every) (\\d{1,6}) ?ms$");
    if (const auto m = timed.match(t); m.hasMatch() && m.captured(2).toInt() > 0)
        return Pacing{m.captured(1).startsWith("after") ? PacingKind::AfterPause : PacingKind::AtMostEvery,
                      m.captured(2).toInt()};
    return Problem{"The pacing '" + text + "' is unknown",
                   {},
                   "Write 'at once', 'next turn', 'after a pause of 300 ms' or 'at most every 100 ms'"};
}

QString shapeWord(Shape shape)
{
    return shape == Shape::OneGo ? "one-go" : shape == Shape::Steps ? "steps" : "background";
}

QString shapeSentence(Shape shape)
{
    return shape == Shape::OneGo ? "in one go" : shape == Shape::Steps ? "in steps" : "in the background";
}

QString functionName(const QString &handler, Part part)
{
    static const QHash<Part, QString> endings = {
        {Part::Take, "Take"},   {Part::Work, "Work"}, {Part::Add, "Add"}, {Part::Show, "Show"},
        {Part::Begin, "Begin"}, {Part::Step, "Step"}, {Part::End, "End"}};
    return handler + endings.value(part);
}

QList<HandlerFunction> Handler::functions() const
{
    QList<HandlerFunction> all;
    const auto add = [&](std::initializer_list<Part> parts) {
        for (const Part p : parts)
            all.append({p, function(p)});
    };
    switch (shape) {
    case Shape::OneGo:
        add({Part::Whole});
        break;
    case Shape::Steps:
        add({Part::Begin, Part::Step, Part::End});
        break;
    case Shape::Background:
        add({Part::Take, Part::Work});
        if (batches)
            add({Part::Add});
        add({Part::Show});
        break;
    }
    return all;
}

QStringList Handler::functionNames() const
{
    QStringList names;
    for (const HandlerFunction &f : functions())
        names << f.name;
    return names;
}

bool Handler::hasOwn(const QString &type) const
{
    const QString capital = name.left(1).toUpper() + name.mid(1);
    return type == capital + "Input" || type == capital + "Result" || type == capital + "State";
}

QStringList Handler::ownTypes() const
{
    QStringList all = shape == Shape::Background ? QStringList{input, result}
                      : shape == Shape::Steps    ? QStringList{state}
                                                 : QStringList();
    all.removeIf([this](const QString &type) { return !hasOwn(type); });
    return all;
}

QString jobClass(const Handler &h)
{
    return h.shape == Shape::Steps ? QStringLiteral("QTimer") : QStringLiteral("QFutureWatcherBase");
}

QString jobName(const Handler &h)
{
    return h.shape == Shape::Background ? h.name + "Job"
           : h.shape == Shape::Steps    ? h.name + "Steps"
                                        : QString();
}

namespace
{

const WidgetNode *findWidget(const WidgetNode &node, const QString &name)
{
    if (node.name == name)
        return &node;
    for (const auto &child : node.children)
        if (const WidgetNode *found = findWidget(child, name))
            return found;
    return nullptr;
}

// The way down to a widget as indices, so that only the nodes on it are copied when it is written.
bool wayTo(const WidgetNode &node, const QString &name, QList<qsizetype> &way)
{
    if (node.name == name)
        return true;
    for (qsizetype i = 0; i < node.children.size(); ++i) {
        way.append(i);
        if (wayTo(node.children[i], name, way))
            return true;
        way.removeLast();
    }
    return false;
}

const WidgetNode *findParent(const WidgetNode &node, const QString &name)
{
    for (const auto &child : node.children) {
        if (child.name == name)
            return &node;
        if (const WidgetNode *found = findParent(child, name))
            return found;
    }
    return nullptr;
}

void visitWidgets(const WidgetNode &node, const WidgetNode *parent,
                  const std::function<void(const WidgetNode &, const WidgetNode *)> &visit)
{
    visit(node, parent);
    for (const auto &child : node.children)
        visitWidgets(child, &node, visit);
}

template <class List> auto *namedIn(List &list, const QString &wanted)
{
    for (auto &each : list)
        if (each.name == wanted)
            return &each;
    return static_cast<decltype(&list.first())>(nullptr);
}

template <class List> bool hasName(const List &list, const QString &wanted)
{
    return std::any_of(list.begin(), list.end(), [&](const auto &each) { return each.name == wanted; });
}

} // namespace

const WidgetNode *Project::widget(const QString &wanted) const
{
    for (const auto &w : windows)
        if (const WidgetNode *found = findWidget(w.root, wanted))
            return found;
    return nullptr;
}

WidgetNode *Project::widget(const QString &wanted)
{
    for (qsizetype i = 0; i < windows.size(); ++i) {
        QList<qsizetype> way;
        if (!wayTo(std::as_const(windows)[i].root, wanted, way))
            continue;
        WidgetNode *node = &windows[i].root;
        for (const qsizetype step : way)
            node = &node->children[step];
        return node;
    }
    return nullptr;
}

const WidgetNode *Project::parentOf(const QString &widget) const
{
    for (const auto &w : windows)
        if (const WidgetNode *found = findParent(w.root, widget))
            return found;
    return nullptr;
}

const TimerNode *Project::timer(const QString &wanted) const
{
    for (const auto &w : windows)
        if (const TimerNode *t = namedIn(w.timers, wanted))
            return t;
    return nullptr;
}

TimerNode *Project::timer(const QString &wanted)
{
    for (qsizetype i = 0; i < windows.size(); ++i)
        if (hasName(std::as_const(windows)[i].timers, wanted))
            return namedIn(windows[i].timers, wanted);
    return nullptr;
}

const ObjectNode *Project::object(const QString &wanted) const
{
    for (const auto &w : windows)
        if (const ObjectNode *o = namedIn(w.objects, wanted))
            return o;
    return nullptr;
}

ObjectNode *Project::object(const QString &wanted)
{
    for (qsizetype i = 0; i < windows.size(); ++i)
        if (hasName(std::as_const(windows)[i].objects, wanted))
            return namedIn(windows[i].objects, wanted);
    return nullptr;
}

const Handler *Project::handler(const QString &wanted) const
{
    return namedIn(handlers, wanted);
}

Handler *Project::handler(const QString &wanted)
{
    return hasName(std::as_const(handlers), wanted) ? namedIn(handlers, wanted) : nullptr;
}

const Connection *Project::connection(const QString &id) const
{
    for (const auto &c : connections)
        if (c.id == id)
            return &c;
    return nullptr;
}

Connection *Project::connection(const QString &id)
{
    for (qsizetype i = 0; i < connections.size(); ++i)
        if (std::as_const(connections)[i].id == id)
            return &connections[i];
    return nullptr;
}

const OwnClass *Project::ownClassOf(const QString &name) const
{
    if (!own)
        return nullptr;
    const WidgetNode *w = widget(name);
    const ObjectNode *o = w ? nullptr : object(name);
    if (w ? w->header.isEmpty() : !o || o->header.isEmpty())
        return nullptr;
    const auto it = own->constFind(w ? w->className : o->className);
    return it == own->constEnd() ? nullptr : &*it;
}

QStringList Project::ownHeaders() const
{
    QStringList all;
    eachWidget([&](const WidgetNode &w, const WidgetNode *) { all << w.header; });
    for (const auto &w : windows)
        for (const auto &o : w.objects)
            all << o.header;
    all.removeAll(QString());
    all.removeDuplicates();
    all.sort();
    return all;
}

QString Project::classOf(const QString &objectName) const
{
    if (objectName.isEmpty())
        return {};
    if (const WidgetNode *w = widget(objectName))
        return w->knownClass();
    if (timer(objectName))
        return QStringLiteral("QTimer");
    if (const ObjectNode *o = object(objectName))
        return o->knownClass();
    for (const Handler &h : handlers)
        if (h.shape != Shape::OneGo && jobName(h) == objectName)
            return jobClass(h);
    return {};
}

QStringList Project::objectNames() const
{
    QStringList names;
    eachWidget([&](const WidgetNode &w, const WidgetNode *) { names << w.name; });
    for (const auto &w : windows) {
        for (const auto &t : w.timers)
            names << t.name;
        for (const auto &o : w.objects)
            names << o.name;
    }
    for (const Handler &h : handlers)
        if (h.shape != Shape::OneGo)
            names << jobName(h);
    return names;
}

QHash<QString, Project::Named> Project::named() const
{
    QHash<QString, Named> all;
    for (int i = 0; i < windows.size(); ++i) {
        const WindowNode &w = windows[i];
        visitWidgets(w.root, nullptr, [&](const WidgetNode &n, const WidgetNode *) {
            all.insert(n.name, {n.knownClass(), i});
        });
        for (const auto &t : w.timers)
            all.insert(t.name, {QStringLiteral("QTimer"), i});
        for (const auto &o : w.objects)
            all.insert(o.name, {o.knownClass(), i});
    }
    for (const Handler &h : handlers)
        if (h.shape != Shape::OneGo)
            all.insert(jobName(h), {jobClass(h), windowOfHandler(h)});
    return all;
}

int Project::windowOf(const QString &objectName) const
{
    for (int i = 0; i < windows.size(); ++i) {
        const WindowNode &w = windows[i];
        if (findWidget(w.root, objectName) || hasName(w.timers, objectName) || hasName(w.objects, objectName))
            return i;
    }
    for (const Handler &h : handlers)
        if (h.shape != Shape::OneGo && jobName(h) == objectName)
            return windowOfHandler(h);
    return -1;
}

int Project::windowNamed(const QString &className) const
{
    for (int i = 0; i < windows.size(); ++i)
        if (windows[i].className == className)
            return i;
    return -1;
}

int Project::windowOfHandler(const Handler &h) const
{
    return h.window.isEmpty() ? 0 : std::max(0, windowNamed(h.window));
}

void Project::eachWidget(const std::function<void(const WidgetNode &, const WidgetNode *)> &visit) const
{
    for (const auto &w : windows)
        visitWidgets(w.root, nullptr, visit);
}

QSet<QString> checkableNames(const Project &project)
{
    QSet<QString> names;
    const auto look = [&](const auto &node) {
        const QString cls = node.knownClass();
        const Json *set = node.property("checkable");
        if (set ? set->type() == Json::Bool && set->toBool() : cls == "QCheckBox" || cls == "QRadioButton")
            names.insert(node.name);
    };
    project.eachWidget([&](const WidgetNode &w, const WidgetNode *) { look(w); });
    for (const WindowNode &w : project.windows)
        for (const ObjectNode &o : w.objects)
            look(o);
    return names;
}

bool isIdentifier(const QString &name)
{
    static const QRegularExpression form("^[A-Za-z][A-Za-z0-9_]{0,199}$");
    static const QSet<QString> keywords = {
        "alignas",       "alignof",     "and",        "asm",          "auto",
        "bool",          "break",       "case",       "catch",        "char",
        "class",         "compl",       "concept",    "const",        "constexpr",
        "continue",      "decltype",    "default",    "delete",       "do",
        "double",        "else",        "enum",       "explicit",     "export",
        "extern",        "false",       "float",      "for",          "friend",
        "goto",          "if",          "inline",     "int",          "long",
        "mutable",       "namespace",   "new",        "noexcept",     "not",
        "nullptr",       "operator",    "or",         "private",      "protected",
        "public",        "register",    "requires",   "return",       "short",
        "signed",        "sizeof",      "static",     "struct",       "switch",
        "template",      "this",        "throw",      "true",         "try",
        "typedef",       "typeid",      "typename",   "union",        "unsigned",
        "using",         "virtual",     "void",       "volatile",     "while",
        "xor",           "signals",     "slots",      "emit",         "foreach",
        "consteval",     "constinit",   "co_await",   "co_return",    "co_yield",
        "char8_t",       "char16_t",    "char32_t",   "wchar_t",      "and_eq",
        "bitand",        "bitor",       "not_eq",     "or_eq",        "xor_eq",
        "static_assert", "static_cast", "const_cast", "dynamic_cast", "reinterpret_cast",
        "thread_local",  "main"};
    return form.match(name).hasMatch() && !keywords.contains(name) && !name.contains("__");
}

} // namespace pipit
