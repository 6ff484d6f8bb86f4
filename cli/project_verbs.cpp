// Verbs that read and change a project: new, show, lint, add, set, connect, disconnect, shape,
// catalog.
#include "cli/verbs.h"

#include "core/catalog/catalog.h"
#include "core/moves/move.h"
#include "core/project/findings.h"
#include "core/project/sentence.h"
#include "core/project/workspace.h"

#include <memory>

namespace pipit::cli
{

namespace
{

// Options of one verb, kept alive until it runs.
struct Words {
    std::string project, a, b, c, when, pacing;
    std::vector<std::string> list;
    bool json = false;
};

using Run = std::function<int(const Words &)>;

CLI::App *verb(Registry &r, const std::string &name, const std::string &text, const std::shared_ptr<Words> &w,
               Run run)
{
    CLI::App *sub = r.app.add_subcommand(name, text);
    sub->callback([&r, w, run = std::move(run)] { r.chosen = [w, run] { return run(*w); }; });
    return sub;
}

// Opens, edits, saves and generates.
int edit(const std::string &path, const std::function<Outcome(Workspace &)> &what)
{
    auto w = Workspace::open(q(path));
    if (!w)
        return fail(w.problem());
    if (auto ok = what(*w); !ok)
        return fail(ok.problem());
    if (auto ok = w->save(); !ok)
        return fail(ok.problem());
    if (auto ok = w->generate(); !ok) // the wiring may be unfinished; the edit itself is saved
        print("Note: " + ok.problem().text());
    return fine;
}

void showWidget(const WidgetNode &w, int depth)
{
    QString text;
    for (const Property &p : w.properties)
        if (p.name == "text" || p.name == "windowTitle" || p.name == "title")
            text = " saying \"" + p.value.toString() + '"';
    print(QString(depth * 2, ' ') + w.name + ", a " + plainWordFor(w.className) + text);
    for (const WidgetNode &c : w.children)
        showWidget(c, depth + 1);
}

int show(const Words &words)
{
    auto w = Workspace::open(q(words.project));
    if (!w)
        return fail(w.problem());
    const Project &p = w->project();
    if (words.json) {
        QJsonArray widgets, connections, handlers;
        p.eachWidget([&](const WidgetNode &n, const WidgetNode *parent) {
            widgets.append(QJsonObject{{"id", n.id},
                                       {"name", n.name},
                                       {"class", n.className},
                                       {"parent", parent ? QJsonValue(parent->name) : QJsonValue()}});
        });
        for (const TimerNode &t : p.windows.first().timers)
            widgets.append(QJsonObject{{"id", t.id},
                                       {"name", t.name},
                                       {"class", "QTimer"},
                                       {"parent", QJsonValue()},
                                       {"interval_ms", t.interval}});
        for (const Connection &c : p.connections)
            connections.append(
                QJsonObject{{"id", c.id},
                            {"source", c.subject()},
                            {c.sourceKind == Connection::Source::Event ? "event" : "signal", c.what()},
                            {"target", c.target()},
                            {"pacing", c.pacing.text()},
                            {"enabled", c.enabled}});
        for (const Handler &h : p.handlers)
            handlers.append(QJsonObject{{"id", h.id},
                                        {"name", h.name},
                                        {"shape", shapeWord(h.shape)},
                                        {"file", h.file},
                                        {"arguments", QJsonArray::fromStringList(h.arguments)}});
        printJson(QJsonObject{{"name", p.name},
                              {"file", w->place().file},
                              {"objects", widgets},
                              {"connections", connections},
                              {"handlers", handlers}});
        return fine;
    }
    showWidget(p.windows.first().root, 0);
    for (const TimerNode &t : p.windows.first().timers)
        print(QStringLiteral("%1, a timer every %2 ms").arg(t.name).arg(t.interval));
    print("");
    for (const Connection &c : p.connections)
        print(c.id.leftJustified(5) + sentenceFor(c));
    print("");
    for (const Handler &h : p.handlers)
        print(h.name + ", " + shapeSentence(h.shape) + ", in " + h.file);
    return fine;
}

int lint(const Words &words)
{
    auto w = Workspace::open(q(words.project));
    if (!w)
        return fail(w.problem());
    const auto found = findingsOf(w->project(), w->files());
    QJsonArray rows;
    for (const Finding &f : found) {
        rows.append(QJsonObject{{"id", f.id},
                                {"severity", severityWord(f.severity)},
                                {"where", f.where},
                                {"message", f.message},
                                {"fix", f.fix.isEmpty() ? QJsonValue() : QJsonValue(f.fix)}});
        if (!words.json)
            print(severityWord(f.severity) + ": " + f.message + (f.fix.isEmpty() ? QString() : ' ' + f.fix));
    }
    if (words.json)
        printJson(rows);
    else if (found.isEmpty())
        print("The wiring has no findings.");
    return found.isEmpty() ? fine : findings;
}

int add(const Words &words)
{
    const QString cls = Catalog::get().classFor(q(words.b));
    QList<Property> properties;
    for (const std::string &one : words.list) {
        const QString text = q(one);
        const QString name = text.section('=', 0, 0);
        if (!text.contains('='))
            return fail({"'" + text + "' is no property", {}, "Write name=value"});
        if (cls == "QTimer")
            continue;
        auto value = propertyValue(cls, name, text.section('=', 1));
        if (!value)
            return fail(value.problem());
        properties.append({name, *value});
    }
    return edit(words.project, [&](Workspace &w) -> Outcome {
        if (auto ok = w.addWidget(q(words.a), q(words.b), q(words.c), properties); !ok)
            return ok;
        if (cls == "QTimer")
            for (const std::string &one : words.list)
                if (auto ok = w.setProperty(q(words.c), q(one).section('=', 0, 0), q(one).section('=', 1));
                    !ok)
                    return ok;
        return Done{};
    });
}

int connectVerb(const Words &words)
{
    auto pacing = Pacing::parse(q(words.pacing));
    if (!pacing)
        return fail(pacing.problem());
    return edit(words.project, [&](Workspace &w) -> Outcome {
        auto done = w.connect({q(words.a), q(words.b), q(words.when), q(words.c), *pacing});
        if (!done)
            return done.problem();
        const Connection *c = w.project().connection(done->connection);
        print(c->id + ": " + sentenceFor(*c) +
              (done->stubAdded
                   ? ". Its stub is at the end of " + w.project().handler(done->handler)->file + '.'
                   : "."));
        return Done{};
    });
}

int shape(const Words &words)
{
    const QString word = q(words.b);
    const Shape to = word == "background" ? Shape::Background : word == "steps" ? Shape::Steps : Shape::OneGo;
    return edit(words.project, [&](Workspace &w) -> Outcome {
        auto move = planMove(w, w.files(), q(words.a), to);
        if (!move)
            return move.problem();
        for (const QString &s : move->sentences)
            print(s);
        return w.apply(move->edit);
    });
}

int catalog(const Words &words)
{
    const Catalog &c = Catalog::get();
    if (words.a.empty()) {
        QJsonArray rows;
        for (const QString &name : c.classes()) {
            rows.append(QJsonObject{{"class", name}, {"word", plainWordFor(name)}});
            if (!words.json)
                print(name.leftJustified(20) + plainWordFor(name));
        }
        if (words.json)
            printJson(rows);
        return fine;
    }
    const QString cls = c.classFor(q(words.a));
    if (cls.isEmpty())
        return fail({QStringLiteral("No class is known as '%1'").arg(q(words.a)), {}, "See 'pipit catalog'"});
    QJsonArray signalRows, eventRows;
    if (!words.json)
        print(cls + ", " + c.lineage(cls).mid(1).join(" < "));
    for (const SignalEntry &s : c.signalsOf(cls)) {
        signalRows.append(QJsonObject{{"signal", s.signature}, {"owner", s.owner}, {"sentence", s.sentence}});
        if (!words.json)
            print("  " + s.signature.leftJustified(36) + (s.owner == cls ? "" : "from " + s.owner + ". ") +
                  s.sentence);
    }
    for (const EventEntry &e : c.eventsOf(cls)) {
        eventRows.append(QJsonObject{{"event", e.words}, {"type", e.type}, {"sentence", e.sentence}});
        if (!words.json)
            print("  " + e.words.leftJustified(36) + e.sentence);
    }
    if (words.json)
        printJson(QJsonObject{{"class", cls}, {"signals", signalRows}, {"events", eventRows}});
    return fine;
}

} // namespace

void addProjectVerbs(Registry &r)
{
    const auto words = [] { return std::make_shared<Words>(); };
    auto w = words();
    verb(r, "new", "Make a project with a first window", w,
         [](const Words &x) {
             auto made = Workspace::create(q(x.project));
             if (!made)
                 return fail(made.problem());
             print("Made " + made->place().file);
             return fine;
         })
        ->add_option("DIR", w->project, "A folder that is empty or does not exist")
        ->required();

    w = words();
    auto *sub = verb(r, "show", "Print a project's widgets, connections and handlers", w, show);
    sub->add_option("PROJECT", w->project, "Its folder or file")->required();
    sub->add_flag("--json", w->json);

    w = words();
    sub = verb(r, "lint", "Check the wiring", w, lint);
    sub->add_option("PROJECT", w->project, "Its folder or file")->required();
    sub->add_flag("--json", w->json);

    w = words();
    sub = verb(r, "add", "Add a widget or a timer", w, add);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("PARENT", w->a, "What it goes into; . is the window")->required();
    sub->add_option("CLASS", w->b, "A class or a plain word, as in button")->required();
    sub->add_option("NAME", w->c)->required();
    sub->add_option("PROPERTY", w->list, "name=value");

    w = words();
    sub = verb(r, "set", "Set properties of a widget or timer", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) -> Outcome {
            for (const std::string &one : x.list)
                if (auto ok = ws.setProperty(q(x.a), q(one).section('=', 0, 0), q(one).section('=', 1)); !ok)
                    return ok;
            return Done{};
        });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("NAME", w->a)->required();
    sub->add_option("PROPERTY", w->list, "name=value")->required();

    w = words();
    sub = verb(r, "connect", "Connect a signal or an event to a handler or slot", w, connectVerb);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("SOURCE", w->a)->required();
    sub->add_option("SIGNAL", w->b, "A signal, as in clicked, or an event, as in 'key press'")->required();
    sub->add_option("TARGET", w->c, "A handler, new or existing, or object.slot")->required();
    sub->add_option("--pacing", w->pacing, "'next turn', 'after a pause of 300 ms', 'at most every 100 ms'");
    sub->add_option("--when", w->when, "Only for this key or button, as in 'key Return'");

    w = words();
    sub = verb(r, "disconnect", "Remove a connection", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) { return ws.disconnect(q(x.a)); });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("ID", w->a, "As 'pipit show' prints it")->required();

    w = words();
    sub = verb(r, "shape", "Change how a handler runs", w, shape);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("HANDLER", w->a)->required();
    sub->add_option("SHAPE", w->b)->required()->check(CLI::IsMember({"one-go", "steps", "background"}));

    w = words();
    sub = verb(r, "catalog", "What a class offers", w, catalog);
    sub->add_option("CLASS", w->a, "A class or a plain word; none lists the classes");
    sub->add_flag("--json", w->json);
}

} // namespace pipit::cli
