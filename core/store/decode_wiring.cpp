// Reading connections and handlers.
#include "core/store/decoder.h"

namespace pipit
{

// A type name as generated code may hold it: no punctuation that could end a declaration.
void Decoder::type(const QString &t, int line)
{
    static const QRegularExpression form("^[A-Za-z_][A-Za-z0-9_:<>, *&]{0,120}$");
    if (!problem_ && !form.match(t).hasMatch())
        fail(QStringLiteral("\"%1\" is not a type that Pipit can generate").arg(t.left(60)),
             "Use a type's name, such as int or const QString &", line);
}

// A word of a few that are known; empty or absent means the first.
static bool oneOf(const QString &word, const QStringList &known)
{
    return word.isEmpty() || known.contains(word);
}

void Decoder::source(const Json &from, Connection &c)
{
    if (from.find("select")) {
        c.select = text(from, "select", "\"from\"");
        c.part = text(from, "part", "\"from\"", false);
    } else {
        const QString subject = text(from, "object", "\"from\"");
        c.from = subject.section('.', 0, 0);
        c.part = subject.section('.', 1);
    }
    static const QRegularExpression part("^[A-Za-z]{0,40}$");
    if (!problem_ && !part.match(c.part).hasMatch())
        fail(QStringLiteral("There is no part \"%1\"").arg(c.part.left(60)),
             "Use viewport, selection, or the name of a button", from.line());
}

void Decoder::occasion(const Json &on, Connection &c)
{
    if (!on.find("event")) {
        c.signal = text(on, "signal", "\"on\"");
        c.when = text(on, "when", "\"on\"", false);
        return;
    }
    c.sourceKind = Connection::Source::Event;
    c.event = text(on, "event", "\"on\"");
    c.when = text(on, "when", "\"on\"", false);
    c.after = flag(on, "after", false);
    const QString scope = text(on, "scope", "\"on\"", false);
    if (!problem_ && !oneOf(scope, {"widget", "window", "application"}))
        fail(QStringLiteral("There is no scope \"%1\"").arg(scope.left(60)),
             "Use widget, window or application", on.line());
    c.scope = scope == "window"        ? Connection::Scope::Window
              : scope == "application" ? Connection::Scope::Application
                                       : Connection::Scope::Widget;
    c.drop = text(on, "accepts", "\"on\"", false);
    if (!problem_ && !oneOf(c.drop, {"copy", "move", "copy or move"}))
        fail(QStringLiteral("A drop cannot accept \"%1\"").arg(c.drop.left(60)),
             "Use copy, move, or copy or move", on.line());
}

void Decoder::target(const Json &to, Connection &c)
{
    if (to.find("handler")) {
        c.to = text(to, "handler", "\"to\"");
    } else if (to.find("open")) {
        c.targetKind = Connection::Target::Open;
        c.to = text(to, "open", "\"to\"");
    } else {
        const bool slot = to.find("slot");
        c.targetKind = slot ? Connection::Target::Slot : Connection::Target::Signal;
        c.to = text(to, "object", "\"to\"");
        c.toMember = text(to, slot ? "slot" : "signal", "\"to\"");
    }
}

Connection Decoder::connection(const Json &o)
{
    Connection c;
    c.kept = keep(o, {"id", "from", "on", "to", "convert", "pacing", "enabled"});
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
    source(from, c);
    occasion(on, c);
    target(to, c);
    c.convert = text(o, "convert", "A connection", false);
    if (auto pacing = Pacing::parse(text(o, "pacing", "A connection", false)); pacing)
        c.pacing = *pacing;
    else
        fail(pacing.problem().what, pacing.problem().remedy, o.line());
    if (c.sourceKind == Connection::Source::Event && c.pacing.kind != PacingKind::AtOnce)
        fail("An event connection has a pacing, which only signals can have", "Remove \"pacing\"", o.line());
    c.enabled = flag(o, "enabled", true);
    return c;
}

// How many at once, and with whom it queues.
void Decoder::pacing(const Json &o, Handler &h)
{
    h.workers = integer(o, "workers", h.workers, 1, Handler::mostWorkers);
    h.queue = text(o, "queue", "A handler", false);
    if (!problem_ && !h.queue.isEmpty() && !isIdentifier(h.queue))
        fail(QStringLiteral("The queue name \"%1\" is not a C++ name").arg(h.queue.left(60)),
             "Use letters, digits and underscores", o.line());
    if (!problem_ && !h.queue.isEmpty() && h.shape == Shape::Background && h.again == "together")
        fail(QStringLiteral("%1 has a queue, but several runs at once").arg(h.name),
             "Remove \"queue\", or use queue, turn, ignore or restart", o.line());
}

Handler Decoder::handler(const Json &o)
{
    Handler h;
    h.kept = keep(o, {"id", "name", "kind", "arguments", "source", "shape", "file", "window", "input",
                      "result", "again", "workers", "queue", "batches", "declines", "state"});
    h.id = id(o, "A handler");
    h.name = text(o, "name", "A handler");
    name(h.name, "The handler name", o.line());
    const QString kind = text(o, "kind", "A handler");
    if (!problem_ && kind != "signal" && kind != "event")
        fail(QStringLiteral("There is no handler kind \"%1\"").arg(kind.left(60)), "Use signal or event",
             o.line());
    h.kind = kind == "event" ? HandlerKind::Event : HandlerKind::Signal;
    if (const Json *a = o.find("arguments"); a && is(*a, Json::Array, "\"arguments\""))
        for (const Json &t : a->items())
            if (is(t, Json::String, "An argument's type")) {
                h.arguments << t.toString();
                type(t.toString(), t.line());
            }
    if (const Json *source = o.find("source"); source && source->type() == Json::String) {
        h.source = source->toString();
        type(h.source, source->line());
    } else if (flag(o, "source", false)) {
        h.source = "QWidget";
    }
    h.window = text(o, "window", "A handler", false);
    const QString shape = text(o, "shape", "A handler", false);
    if (!problem_ && !QStringList{"", "one-go", "steps", "background"}.contains(shape))
        fail(QStringLiteral("There is no shape \"%1\"").arg(shape.left(60)),
             "Use one-go, steps or background", o.line());
    h.shape = shape == "background" ? Shape::Background : shape == "steps" ? Shape::Steps : Shape::OneGo;
    h.file = text(o, "file", "A handler", false);
    static const QRegularExpression base("^[A-Za-z0-9_]{1,100}\\.cpp$");
    if (!problem_ && !h.file.isEmpty() && !base.match(h.file).hasMatch())
        fail(QStringLiteral("The handler's file \"%1\" is not allowed").arg(h.file.left(60)),
             "Name a .cpp file in the project's folder, without a path", o.line());
    for (auto [key, member] : {std::pair{"input", &h.input}, {"result", &h.result}, {"state", &h.state}})
        if (const QString t = text(o, key, "A handler", false); !t.isEmpty()) {
            *member = t;
            type(t, o.line());
        }
    if (const QString again = text(o, "again", "A handler", false); !again.isEmpty()) {
        if (!QStringList{"ignore", "queue", "turn", "restart", "together"}.contains(again))
            fail(QStringLiteral("\"again\" is \"%1\"").arg(again.left(60)),
                 "Use ignore, queue, turn, restart or together", o.line());
        h.again = again;
    }
    pacing(o, h);
    h.batches = flag(o, "batches", false) && h.shape == Shape::Background && h.result != "void";
    h.declines = flag(o, "declines", false);
    return h;
}

} // namespace pipit
