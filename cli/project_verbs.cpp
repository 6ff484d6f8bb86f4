// Verbs that show and check a project, and what a class offers.
#include "cli/editing.h"

#include "core/catalog/catalog.h"
#include "core/edits/mend.h"
#include "core/project/selector.h"
#include "core/project/values.h"
#include "core/sentences/sentence.h"
#include <QSet>

namespace pipit::cli
{

namespace
{

struct New {
    QString folder;

    void takes(Words &words) { words.word("DIR", folder, Words::Needed, "A new or empty folder"); }
    int run() const;
};

int New::run() const
{
    auto made = Workspace::create(folder);
    if (!made)
        return fail(made.problem());
    print("Made " + made->place().file);
    return fine;
}

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

struct Show : OfProject {
    QString name;

    void takes(Words &words)
    {
        OfProject::takes(words);
        words.word("NAME", name, Words::MayBeLeftOut,
                   "Only the connections of this widget, object or handler");
    }
    int run() const;
};

// What one thing sends, and what calls or reaches it.
int showOne(const Project &p, const QString &name, bool json)
{
    QStringList sends, gets;
    for (const Connection &c : p.connections) {
        auto s = c.select.isEmpty() ? Result<Selector>(Problem{}) : Selector::parse(c.select);
        bool from = c.from == name;
        if (s)
            for (const SelectorMatch &m : s->matches(p))
                from = from || m.name == name;
        const QString sentence = c.id + ' ' + sentenceFor(c);
        if (from)
            sends << sentence;
        if (c.to == name)
            gets << sentence;
    }
    const Handler *h = p.handler(name);
    if (!h && p.classOf(name).isEmpty())
        return fail(unknownObject(p, name));
    if (json) {
        printJson(QJsonObject{{"name", name},
                              {"sends", QJsonArray::fromStringList(sends)},
                              {"gets", QJsonArray::fromStringList(gets)}});
        return fine;
    }
    if (h)
        print(handlerSentence(*h));
    else if (const WidgetNode *w = p.widget(name))
        print(widgetSentence(*w, p.windows.first().root.name == name));
    else if (const ObjectNode *o = p.object(name))
        print(objectSentence(*o));
    else if (const TimerNode *t = p.timer(name))
        print(timerSentence(*t));
    for (const auto &[words, all] : {std::pair{"sends", sends}, {"gets", gets}})
        for (const QString &one : all)
            print(QString::fromLatin1(words).leftJustified(7) + one);
    if (sends.isEmpty() && gets.isEmpty())
        print("It has no connections.");
    return fine;
}

int Show::run() const
{
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    const Project &p = w->project();
    if (!name.isEmpty())
        return showOne(p, name, json);
    if (json) {
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
        print(handlerSentence(h));
    return fine;
}

struct Lint {
    QString project;
    bool fix = false, json = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed, "The project's folder or file");
        words.flag("--fix", fix, "Apply the safe one-step fixes");
        words.flag("--json", json);
    }
    int run() const;
};

int Lint::run() const
{
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    w->takeOwnClasses(readOwnClasses(w->place(), w->project()));
    auto found = findingsOf(w->project(), w->files());
    if (fix) {
        for (int round = 0; round < 100; ++round) { // one may hide or bring another
            const auto it = std::find_if(found.begin(), found.end(), [](const Finding &f) {
                return f.mend != Finding::Mend::None && !f.costs;
            });
            if (it == found.end())
                break;
            const Connection *c = w->project().connection(it->where);
            const QString gone = c && it->mend == Finding::Mend::RemoveConnection
                                     ? QStringLiteral(" Removed %1: %2.").arg(c->id, sentenceFor(*c))
                                     : QString();
            if (auto ok = mend(*w, *it); !ok)
                return fail(ok.problem());
            if (!json)
                print("mended: " + it->message + gone);
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
        if (!json)
            print(severityWord(f.severity) + ": " + f.message + (f.fix.isEmpty() ? QString() : ' ' + f.fix));
    }
    if (json)
        printJson(rows);
    else if (found.isEmpty())
        print("There are no findings.");
    const bool more = std::any_of(found.begin(), found.end(),
                                  [](const Finding &f) { return f.severity != Finding::Severity::Hint; });
    return more ? findings : fine;
}

} // namespace

void addProjectVerbs(Registry &r)
{
    r.add<New>("new", "Create a project with one window", "pipit new harbour-tickets");
    r.add<Show>("show", "Print a project's widgets, connections and handlers",
                "pipit show harbour-tickets buyButton");
    r.add<Lint>("lint", "Check the connections of a project", "pipit lint harbour-tickets --fix");
}

} // namespace pipit::cli
