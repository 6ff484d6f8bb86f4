// Verbs that read and change a project.
#include "cli/project_words.h"

#include "core/build/clangd.h"
#include "core/catalog/catalog.h"
#include "core/catalog/sentences.h"
#include "core/moves/move.h"
#include "core/project/findings.h"
#include "core/project/names.h"
#include "core/project/rename.h"
#include "core/project/sentence.h"
#include "core/project/workspace.h"

namespace pipit::cli
{

namespace
{

void showWidget(const WidgetNode &w, int depth)
{
    print(QString(depth * 2, QLatin1Char(32)) + widgetSentence(w, depth == 0 && w.className == "QWidget"));
    for (const WidgetNode &c : w.children)
        showWidget(c, depth + 1);
}

QJsonObject row(const QString &id, const QString &name, const QString &cls, const QJsonValue &parent,
                const WindowNode &window)
{
    return {{"id", id}, {"name", name}, {"class", cls}, {"parent", parent}, {"window", window.root.name}};
}

QJsonObject factsOf(const Project &p, const QString &file)
{
    QJsonArray objects, connections, handlers;
    for (const WindowNode &window : p.windows) {
        const std::function<void(const WidgetNode &, const WidgetNode *)> visit =
            [&](const WidgetNode &n, const WidgetNode *parent) {
                objects.append(
                    row(n.id, n.name, n.className, parent ? QJsonValue(parent->name) : QJsonValue(), window));
                for (const WidgetNode &c : n.children)
                    visit(c, &n);
            };
        visit(window.root, nullptr);
        for (const TimerNode &t : window.timers) {
            QJsonObject o = row(t.id, t.name, "QTimer", {}, window);
            o["interval_ms"] = t.interval;
            objects.append(o);
        }
        for (const ObjectNode &o : window.objects)
            objects.append(row(o.id, o.name, o.className, {}, window));
    }
    for (const Connection &c : p.connections)
        connections.append(
            QJsonObject{{"id", c.id},
                        {"source", c.subject()},
                        {c.sourceKind == Connection::Source::Event ? "event" : "signal", c.what()},
                        {"target", c.target()},
                        {"condition", c.when.isEmpty() ? QJsonValue() : QJsonValue(c.when)},
                        {"pacing", c.pacing.text()},
                        {"enabled", c.enabled},
                        {"sentence", sentenceFor(c)}});
    for (const Handler &h : p.handlers)
        handlers.append(QJsonObject{{"id", h.id},
                                    {"name", h.name},
                                    {"shape", shapeWord(h.shape)},
                                    {"file", h.file},
                                    {"arguments", QJsonArray::fromStringList(h.arguments)}});
    return {{"name", p.name},
            {"file", file},
            {"objects", objects},
            {"connections", connections},
            {"handlers", handlers}};
}

int show(const Words &words)
{
    auto w = Workspace::open(q(words.project));
    if (!w)
        return fail(w.problem());
    const Project &p = w->project();
    if (words.json) {
        printJson(factsOf(p, w->place().file));
        return fine;
    }
    for (const WindowNode &window : p.windows) {
        showWidget(window.root, 0);
        for (const TimerNode &t : window.timers)
            print(timerSentence(t));
        for (const ObjectNode &o : window.objects)
            print(objectSentence(o));
        print("");
    }
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
    auto found = findingsOf(w->project(), w->files());
    if (words.fix) {
        for (int round = 0; round < 100; ++round) { // one may hide or bring another
            const auto it = std::find_if(found.begin(), found.end(),
                                         [](const Finding &f) { return f.mend != Finding::Mend::None; });
            if (it == found.end())
                break;
            if (auto ok = mend(*w, *it); !ok)
                return fail(ok.problem());
            if (!words.json)
                print("mended: " + it->message);
            found = findingsOf(w->project(), w->files());
        }
        if (auto ok = w->save(); !ok)
            return fail(ok.problem());
        (void)w->generate();
    }
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

Result<std::pair<QString, QString>> assignment(const std::string &one)
{
    const QString text = q(one);
    if (!text.contains('='))
        return Problem{"'" + text + "' is no property", {}, "Write name=value"};
    QString value = text.section('=', 1);
    if (value.isNull())
        value = "";
    return std::pair{text.section('=', 0, 0), value};
}

int add(const Words &words)
{
    AddRequest r;
    r.words = q(words.b);
    r.name = q(words.c);
    r.base = q(words.base);
    r.header = q(words.header);
    for (const std::string &one : words.list) {
        auto pair = assignment(one);
        if (!pair)
            return fail(pair.problem());
        r.properties.append(*pair);
    }
    return edit(words.project, [&](Workspace &w) -> Outcome {
        auto made = w.add(r, q(words.a));
        if (!made)
            return made.problem();
        if (made->size() > 1)
            print(QStringLiteral("Added %1: %2.").arg(made->size()).arg(made->join(", ")));
        for (const QString &n : *made)
            if (hidesMember(n, w.project().windows.first().root.className))
                print("Note: " + n + " hides a function of the window's class.");
        return Done{};
    });
}

int set(const Words &words)
{
    return edit(words.project, [&](Workspace &w) -> Outcome {
        for (const std::string &one : words.list) {
            auto pair = assignment(one);
            if (!pair)
                return pair.problem();
            auto done = w.setProperties(q(words.a), pair->first, words.reset ? QString() : pair->second);
            if (!done)
                return done.problem();
            if (done->size() > 1)
                print(QStringLiteral("Set %1 of %2: %3.")
                          .arg(pair->first)
                          .arg(done->size())
                          .arg(done->join(", ")));
        }
        return Done{};
    });
}

int rename(const Words &words)
{
    auto w = Workspace::open(q(words.project));
    if (!w)
        return fail(w.problem());
    const RenameRequest request{q(words.a), q(words.b), words.all};
    auto places = wordsToRename(*w, request);
    if (!places)
        return fail(places.problem());
    WordVerdicts verdicts;
    if (!words.textOnly && !clangdProgram().isEmpty() && !places->isEmpty()) {
        auto said = askClangd(w->place(), w->project(), w->files(), *places, false);
        if (said)
            verdicts = *said;
        else
            print("Note: " + said.problem().text());
    }
    auto plan = planRename(*w, request, verdicts);
    if (!plan)
        return fail(plan.problem());
    for (const auto &[from, to] : plan->names)
        print(from + " becomes " + to);
    for (const RenamePlace &p : plan->places)
        print(QStringLiteral("  %1:%2: %3").arg(p.file).arg(p.line).arg(p.after));
    for (const QString &note : plan->notes)
        print("Note: " + note);
    if (words.look)
        return fine;
    if (auto ok = w->apply(plan->edit); !ok)
        return fail(ok.problem());
    if (auto ok = w->save(); !ok)
        return fail(ok.problem());
    if (auto ok = w->generate(); !ok)
        print("Note: " + ok.problem().text());
    return fine;
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
        signalRows.append(QJsonObject{{"signal", s.signature},
                                      {"owner", s.owner},
                                      {"sentence", s.sentence},
                                      {"often", s.often},
                                      {"order", orderSentence(c.lineage(cls), s.name())},
                                      {"mistake", s.mistake}});
        if (!words.json)
            print("  " + s.signature.leftJustified(36) + (s.owner == cls ? "" : "from " + s.owner + ". ") +
                  s.sentence);
    }
    for (const EventEntry &e : c.eventsOf(cls)) {
        eventRows.append(QJsonObject{
            {"event", e.words}, {"type", e.type}, {"sentence", e.sentence}, {"handled", e.handled}});
        if (!words.json)
            print("  " + e.words.leftJustified(36) + e.sentence);
    }
    QJsonArray propertyRows;
    if (!words.json)
        print("properties");
    for (const PropertyEntry &p : c.propertiesOf(cls)) {
        propertyRows.append(QJsonObject{{"property", p.name},
                                        {"type", p.type},
                                        {"default", p.defaultValue},
                                        {"keys", QJsonArray::fromStringList(p.keys)},
                                        {"owner", p.owner}});
        if (!words.json)
            print("  " + p.name.leftJustified(36) + (p.keys.isEmpty() ? p.type : p.keys.join(", ")));
    }
    if (words.json)
        printJson(QJsonObject{
            {"class", cls}, {"signals", signalRows}, {"events", eventRows}, {"properties", propertyRows}});
    return fine;
}

} // namespace

void addProjectVerbs(Registry &r)
{
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
    sub->add_flag("--fix", w->fix, "Mend what one step mends");
    sub->add_flag("--json", w->json);

    w = words();
    sub = verb(r, "add", "Add widgets, windows, timers, actions, devices", w, add);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("PARENT", w->a, "What it goes into; . is the window")->required();
    sub->add_option("CLASS", w->b, "A class or a plain word, as in button")->required();
    sub->add_option("NAME", w->c, "A name, or several as in key_{0..9}")->required();
    sub->add_option("PROPERTY", w->list, "name=value; {} stands for what the name's braces stand for");
    sub->add_option("--like", w->base, "What a class of your own derives from");
    sub->add_option("--from", w->header, "The header that declares it");

    w = words();
    sub = verb(r, "set", "Set properties of one or several", w, set);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("NAME", w->a, "A name or a selector, as in '#key_*'")->required();
    sub->add_option("PROPERTY", w->list, "name=value")->required();
    sub->add_flag("--reset", w->reset, "Back to the default; write name=");

    w = words();
    sub = verb(r, "rename", "Rename, with your code following", w, rename);
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("OLD", w->a, "A name, or with --all a regular expression")->required();
    sub->add_option("NEW", w->b, "The new name; $1 stands for a group")->required();
    sub->add_flag("--all", w->all, "All names that fit a regular expression");
    sub->add_flag("--look", w->look, "Only show what would change");
    sub->add_flag("--text-only", w->textOnly, "Go by the text, also where clangd is installed");

    w = words();
    sub = verb(r, "move", "Put a widget into another place", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) {
            return ws.move(q(x.a), q(x.b), x.c.empty() ? -1 : q(x.c).toInt());
        });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("NAME", w->a)->required();
    sub->add_option("PARENT", w->b, "What it goes into; . is the window")->required();
    sub->add_option("INDEX", w->c, "Its place there, from 0; the last if left out");

    w = words();
    sub = verb(r, "remove", "Remove a widget, timer or window with its connections", w, [](const Words &x) {
        return edit(x.project, [&](Workspace &ws) { return ws.remove(q(x.a)); });
    });
    sub->add_option("PROJECT", w->project)->required();
    sub->add_option("NAME", w->a)->required();

    w = words();
    sub = verb(r, "catalog", "What a class offers", w, catalog);
    sub->add_option("CLASS", w->a, "A class or a plain word; none lists the classes");
    sub->add_flag("--json", w->json);
}

} // namespace pipit::cli
