// Verbs that show and check a project, and what a class offers.
#include "cli/editing.h"

#include "core/catalog/catalog.h"
#include "core/catalog/sentences.h"
#include "core/edits/mend.h"
#include "core/sentences/sentence.h"

namespace pipit::cli
{

namespace
{

struct New {
    QString folder;

    void takes(Words &words)
    {
        words.word("DIR", folder, Words::Needed, "A folder that is empty or does not exist");
    }
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
    int run() const;
};

int Show::run() const
{
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    const Project &p = w->project();
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
        print(h.name + ", " + shapeSentence(h.shape) + ", in " + h.file);
    return fine;
}

struct Lint {
    QString project;
    bool fix = false, json = false;

    void takes(Words &words)
    {
        words.word("PROJECT", project, Words::Needed, "Its folder or file");
        words.flag("--fix", fix, "Mend what one step mends");
        words.flag("--json", json);
    }
    int run() const;
};

int Lint::run() const
{
    auto w = Workspace::open(project);
    if (!w)
        return fail(w.problem());
    auto found = findingsOf(w->project(), w->files());
    if (fix) {
        for (int round = 0; round < 100; ++round) { // one may hide or bring another
            const auto it = std::find_if(found.begin(), found.end(),
                                         [](const Finding &f) { return f.mend != Finding::Mend::None; });
            if (it == found.end())
                break;
            if (auto ok = mend(*w, *it); !ok)
                return fail(ok.problem());
            if (!json)
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
        if (!json)
            print(severityWord(f.severity) + ": " + f.message + (f.fix.isEmpty() ? QString() : ' ' + f.fix));
    }
    if (json)
        printJson(rows);
    else if (found.isEmpty())
        print("The wiring has no findings.");
    return found.isEmpty() ? fine : findings;
}

struct CatalogVerb {
    QString className;
    bool json = false;

    void takes(Words &words)
    {
        words.word("CLASS", className, Words::MayBeLeftOut,
                   "A class or a plain word; none lists the classes");
        words.flag("--json", json);
    }
    int run() const;
};

int CatalogVerb::run() const
{
    const Catalog &c = Catalog::get();
    if (className.isEmpty()) {
        QJsonArray rows;
        for (const QString &name : c.classes()) {
            rows.append(QJsonObject{{"class", name}, {"word", plainWordFor(name)}});
            if (!json)
                print(name.leftJustified(20) + plainWordFor(name));
        }
        if (json)
            printJson(rows);
        return fine;
    }
    const QString cls = c.classFor(className);
    if (cls.isEmpty())
        return fail({QStringLiteral("No class is known as '%1'").arg(className), {}, "See 'pipit catalog'"});
    QJsonArray signalRows, eventRows;
    if (!json)
        print(cls + ", " + c.lineage(cls).mid(1).join(" < "));
    for (const SignalEntry &s : c.signalsOf(cls)) {
        signalRows.append(QJsonObject{{"signal", s.signature},
                                      {"owner", s.owner},
                                      {"sentence", s.sentence},
                                      {"often", s.often},
                                      {"order", orderSentence(c.lineage(cls), s.name())},
                                      {"mistake", s.mistake}});
        if (!json)
            print("  " + s.signature.leftJustified(36) + (s.owner == cls ? "" : "from " + s.owner + ". ") +
                  s.sentence);
    }
    for (const EventEntry &e : c.eventsOf(cls)) {
        eventRows.append(QJsonObject{
            {"event", e.words}, {"type", e.type}, {"sentence", e.sentence}, {"handled", e.handled}});
        if (!json)
            print("  " + e.words.leftJustified(36) + e.sentence);
    }
    QJsonArray propertyRows;
    if (!json)
        print("properties");
    for (const PropertyEntry &p : c.propertiesOf(cls)) {
        propertyRows.append(QJsonObject{{"property", p.name},
                                        {"type", p.type},
                                        {"default", p.defaultValue},
                                        {"keys", QJsonArray::fromStringList(p.keys)},
                                        {"owner", p.owner}});
        if (!json)
            print("  " + p.name.leftJustified(36) + (p.keys.isEmpty() ? p.type : p.keys.join(", ")));
    }
    if (json)
        printJson(QJsonObject{
            {"class", cls}, {"signals", signalRows}, {"events", eventRows}, {"properties", propertyRows}});
    return fine;
}

} // namespace

void addProjectVerbs(Registry &r)
{
    r.add<New>("new", "Make a project with a first window");
    r.add<Show>("show", "Print a project's widgets, connections and handlers");
    r.add<Lint>("lint", "Check the wiring");
}

void addCatalogVerb(Registry &r)
{
    r.add<CatalogVerb>("catalog", "What a class offers");
}

} // namespace pipit::cli
