#include "core/project/model.h"

#include "link/near.h"

#include <QRegularExpression>
#include <QSet>

namespace pipit
{

const Json *WidgetNode::property(const QString &wanted) const
{
    for (const Property &p : properties)
        if (p.name == wanted)
            return &p.value;
    return nullptr;
}

void WidgetNode::setProperty(const QString &wanted, const Json &value)
{
    for (Property &p : properties)
        if (p.name == wanted) {
            p.value = value;
            return;
        }
    properties.append({wanted, value});
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
    return Problem{"The pacing '" + text + "' is not known",
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

QStringList Handler::functions() const
{
    switch (shape) {
    case Shape::Background:
        return {name + "Take", name + "Work", name + "Show"};
    case Shape::Steps:
        return {name + "Begin", name + "Step", name + "End"};
    case Shape::OneGo:
        break;
    }
    return {name};
}

namespace
{

template <class Node> Node *findWidget(Node &node, const QString &name)
{
    if (node.name == name)
        return &node;
    for (auto &child : node.children)
        if (Node *found = findWidget<Node>(child, name))
            return found;
    return nullptr;
}

const WidgetNode *findConst(const WidgetNode &node, const QString &name)
{
    if (node.name == name)
        return &node;
    for (const auto &child : node.children)
        if (const WidgetNode *found = findConst(child, name))
            return found;
    return nullptr;
}

void visitWidgets(const WidgetNode &node, const WidgetNode *parent,
                  const std::function<void(const WidgetNode &, const WidgetNode *)> &visit)
{
    visit(node, parent);
    for (const auto &child : node.children)
        visitWidgets(child, &node, visit);
}

} // namespace

const WidgetNode *Project::widget(const QString &wanted) const
{
    for (const auto &w : windows)
        if (const WidgetNode *found = findConst(w.root, wanted))
            return found;
    return nullptr;
}

WidgetNode *Project::widget(const QString &wanted)
{
    if (!std::as_const(*this).widget(wanted))
        return nullptr;
    for (auto &w : windows)
        if (WidgetNode *found = findWidget(w.root, wanted))
            return found;
    return nullptr;
}

const TimerNode *Project::timer(const QString &wanted) const
{
    for (const auto &w : windows)
        for (const auto &t : w.timers)
            if (t.name == wanted)
                return &t;
    return nullptr;
}

const Handler *Project::handler(const QString &wanted) const
{
    for (const auto &h : handlers)
        if (h.name == wanted)
            return &h;
    return nullptr;
}

Handler *Project::handler(const QString &wanted)
{
    for (auto &h : handlers)
        if (h.name == wanted)
            return &h;
    return nullptr;
}

const Connection *Project::connection(const QString &id) const
{
    for (const auto &c : connections)
        if (c.id == id)
            return &c;
    return nullptr;
}

QString Project::classOf(const QString &objectName) const
{
    if (const WidgetNode *w = widget(objectName))
        return w->className;
    return timer(objectName) ? QStringLiteral("QTimer") : QString();
}

QStringList Project::objectNames() const
{
    QStringList names;
    eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (!w.name.isEmpty())
            names << w.name;
    });
    for (const auto &w : windows)
        for (const auto &t : w.timers)
            names << t.name;
    return names;
}

QHash<QString, QString> Project::classesByName() const
{
    QHash<QString, QString> classes;
    eachWidget([&](const WidgetNode &w, const WidgetNode *) { classes.insert(w.name, w.className); });
    for (const auto &w : windows)
        for (const auto &t : w.timers)
            classes.insert(t.name, QStringLiteral("QTimer"));
    return classes;
}

void Project::eachWidget(const std::function<void(const WidgetNode &, const WidgetNode *)> &visit) const
{
    for (const auto &w : windows)
        visitWidgets(w.root, nullptr, visit);
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

QString nearestName(const QString &name, const QStringList &candidates)
{
    QString best;
    int least = std::max(2, int(name.size()) / 3) + 1;
    if (name.size() > 200)
        return {};
    for (const QString &c : candidates)
        if (c.size() <= 200)
            if (const int d = link::nameDistance(name, c); d < least) {
                least = d;
                best = c;
            }
    return best;
}

} // namespace pipit
