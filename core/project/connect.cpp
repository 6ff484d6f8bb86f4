// Making a connection, and the handler and stub that it needs.
#include "core/project/workspace.h"

#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/codegen/reach.h"
#include "core/codegen/wiring.h"
#include "core/project/condition.h"
#include "core/project/convert.h"
#include "core/project/keys.h"
#include "core/project/selector.h"
#include "core/userfiles/cpp_scan.h"

#include <optional>

namespace pipit
{

namespace
{

struct Choice {
    std::optional<SignalEntry> signal;
    const EventEntry *event = nullptr;
    QString stored; // as the connection names it
};

Result<Choice> chooseSource(const Reach &reach, const QString &name, const QString &part, const QString &what)
{
    const Catalog &catalog = Catalog::get();
    const QString cls = reach.classOf(name, part);
    const auto found = catalog.signalsNamed(cls, what);
    if (found.size() == 1) {
        const bool overloaded = catalog.signalsNamed(cls, found.first().name()).size() > 1;
        return Choice{found.first(), nullptr, overloaded ? found.first().signature : found.first().name()};
    }
    if (found.size() > 1) {
        QStringList all;
        for (const SignalEntry &s : found)
            all << s.signature;
        return Problem{QStringLiteral("%1 has several signals '%2'").arg(name, what),
                       {},
                       "Name one of them: " + all.join(", ")};
    }
    if (const EventEntry *e = catalog.event(what.simplified().toLower()); e && catalog.isWidget(cls))
        return Choice{std::nullopt, e, e->words};
    if (auto own = reach.signal(name, part, what); own)
        return Choice{*own, nullptr, own->signature};
    QStringList names;
    for (const SignalEntry &s : catalog.signalsOf(cls))
        names << s.name();
    for (const EventEntry &e : catalog.eventsOf(cls))
        names << e.words;
    const QString near = nearestName(what, names);
    return Problem{QStringLiteral("%1, a %2, has no signal or event '%3'").arg(name, cls, what.left(60)),
                   {},
                   near.isEmpty() ? "See 'pipit catalog " + cls + "'" : "Nearest: " + near};
}

// The nearest class that all sources have in common.
QString commonClass(const Reach &reach, const QStringList &sources, const QString &part)
{
    QStringList line = Catalog::get().lineage(reach.classOf(sources.first(), part));
    for (const QString &s : sources) {
        const QStringList other = Catalog::get().lineage(reach.classOf(s, part));
        line.removeIf([&](const QString &cls) { return !other.contains(cls); });
    }
    return line.isEmpty() ? QString() : line.first();
}

// A new handler's own signature: what the first connection to it can give.
Handler newHandler(Project &p, const QString &name, int window, const QString &cls, const Choice &choice,
                   bool several, const QString &convert)
{
    Handler h;
    h.id = p.newId("h");
    h.name = name;
    if (window > 0)
        h.window = p.windows[window].className;
    h.file = p.windows[window].sourceFile();
    if (choice.event) {
        h.kind = HandlerKind::Event;
        h.arguments = {cls + " *", choice.event->cppClass + " *"};
        return h;
    }
    const QString signal = choice.signal->name();
    if (signal != "clicked" && signal != "triggered") // a plain button's tick is of no use
        h.arguments = choice.signal->types();
    for (const Conversion &c : conversions())
        if (!convert.isEmpty() && h.arguments.size() == 1 && c.from == h.arguments[0] &&
            c.words == convertChoice(convert).words) {
            h.arguments = QStringList{c.to};
            break;
        }
    if (several)
        h.source = cls;
    return h;
}

Outcome fits(const Handler &h, const QString &cls, const Choice &choice, const QString &convert)
{
    const auto no = [](const QString &why, const QString &remedy) {
        return Problem{"The handler does not fit: " + why, {}, remedy};
    };
    const QString another = "Choose another handler or a new name";
    if ((h.kind == HandlerKind::Event) != (choice.event != nullptr))
        return no(QStringLiteral("%1 is %2 handler")
                      .arg(h.name, h.kind == HandlerKind::Event ? "an event" : "a signal"),
                  another);
    if (choice.event) {
        if (h.arguments.size() == 2 && h.arguments[1] == choice.event->cppClass + " *" &&
            Catalog::get().inherits(cls, h.arguments[0].chopped(2)))
            return Done{};
        return no(QStringLiteral("%1 takes (%2)").arg(h.name, h.arguments.join(", ")), another);
    }
    if (h.shape == Shape::Background)
        return Done{};
    if (!h.source.isEmpty() && !Catalog::get().inherits(cls, h.source))
        return no(QStringLiteral("%1 wants a %2 as its source, but this is a %3").arg(h.name, h.source, cls),
                  another);
    const QStringList given = choice.signal->types();
    if (h.arguments.size() <= given.size() && given.mid(0, h.arguments.size()) == h.arguments)
        return Done{};
    const QString why = QStringLiteral("%1 takes (%2), %3 gives (%4)")
                            .arg(h.name, h.arguments.join(", "), choice.signal->name(), given.join(", "));
    const Conversion *how =
        h.arguments.size() == 1 && !given.isEmpty() ? conversionFor(given[0], h.arguments[0]) : nullptr;
    if (!how)
        return no(why, another);
    if (convertChoice(convert).words == how->words)
        return Done{};
    return no(why, QStringLiteral("Say how: ', as %1%2'").arg(how->words, how->mayFail ? " else skip" : ""));
}

// What a connection on a drag or a drop needs of its target.
void acceptDrops(Project &p, const Choice &choice, const QStringList &sources)
{
    if (!choice.event || !QStringList{"drag enter", "drag move", "drop"}.contains(choice.event->words))
        return;
    for (const QString &s : sources)
        if (WidgetNode *w = p.widget(s))
            w->setProperty("acceptDrops", Json::boolean(true));
}

Outcome checkOptions(const ConnectRequest &r, const Choice &choice)
{
    if (choice.event && r.pacing.kind != PacingKind::AtOnce)
        return Problem{"Only signals have a pacing", {}, "Leave it out for an event"};
    if (!choice.event && (r.after || r.scope != Connection::Scope::Widget || !r.drop.isEmpty()))
        return Problem{"Only events can be heard afterwards, in a window, or accept a drop",
                       {},
                       "Leave it out for a signal"};
    if (r.scope != Connection::Scope::Widget && choice.event->cppClass != "QKeyEvent")
        return Problem{"Only keys can be heard in the whole window or application", {}, "Leave it out"};
    if (!r.drop.isEmpty() && choice.event->words != "drop")
        return Problem{"Only a drop accepts something", {}, "Leave it out, or connect drop"};
    auto condition = parseCondition(r.when, choice.event ? choice.event->cppClass : QString());
    if (!condition)
        return Problem{
            "For " + choice.stored + ' ' + condition.problem().what, {}, condition.problem().remedy};
    return Done{};
}

} // namespace

Result<Connected> Workspace::connect(const ConnectRequest &r)
{
    const Reach reach(project_);
    const bool selector = looksLikeSelector(r.source) || (!reach.find(r.source.section('.', 0, 0)) &&
                                                          Catalog::get().has(r.source.trimmed()));
    Connected done;
    QList<SelectorMatch> all;
    QString part;
    if (selector) {
        auto s = Selector::parse(r.source);
        if (!s)
            return s.problem();
        all = s->matches(project_);
        if (all.isEmpty())
            return Problem{QStringLiteral("'%1' matches nothing").arg(r.source.left(80)),
                           {},
                           "See 'pipit show' for the names"};
    } else {
        part = r.source.section('.', 1);
        all = {{r.source.section('.', 0, 0), {}}};
        if (!reach.find(all[0].name))
            return unknownObject(project_, all[0].name);
        if (!Reach::hasPart(reach.classOf(all[0].name), part))
            return Problem{
                QStringLiteral("%1 has no part '%2'").arg(all[0].name, part.left(60)),
                {},
                "Use viewport for scrolling views, selection for lists, a button for a button box"};
    }
    // Which of them have it, and as what; those that have not are left over.
    std::optional<Choice> choice;
    QStringList sources;
    QHash<QString, QString> stars;
    Problem first;
    for (const SelectorMatch &m : std::as_const(all)) {
        auto one = chooseSource(reach, m.name, part, r.what);
        if (!one) {
            if (done.leftovers.isEmpty())
                first = one.problem();
            done.leftovers << m.name;
            continue;
        }
        if (!choice)
            choice = *one;
        sources << m.name;
        stars.insert(m.name, m.star);
    }
    if (!choice)
        return first;
    if (auto ok = checkOptions(r, *choice); !ok)
        return ok.problem();
    done.matches = sources;

    Edit e{"connect " + r.source + " · " + r.what, {}, project_, {}};
    Connection c;
    c.part = part;
    if (choice->event)
        c.sourceKind = Connection::Source::Event;
    (choice->event ? c.event : c.signal) = choice->stored;
    c.when = conditionText(*parseCondition(r.when, choice->event ? choice->event->cppClass : QString()));
    c.pacing = r.pacing;
    c.after = r.after;
    c.scope = r.scope;
    c.drop = r.drop;
    c.convert = r.convert;
    c.enabled = r.enabled;
    acceptDrops(e.after, *choice, sources);
    const bool each = selector && r.target.contains('*');

    if (r.opens || r.target.contains('.')) {
        c.id = e.after.newId("c");
        (selector ? c.select : c.from) = selector ? r.source : sources.first();
        c.to = r.target.section('.', 0, 0);
        c.toMember = r.target.section('.', 1);
        c.targetKind = r.opens ? Connection::Target::Open : Connection::Target::Slot;
        if (!r.opens)
            for (const SignalEntry &s : Catalog::get().signalsOf(reach.classOf(c.to)))
                if (s.name() == c.toMember)
                    c.targetKind = Connection::Target::Signal;
        if (choice->event)
            return Problem{
                "An event can only go to a handler", {}, "Connect it to a handler that calls the slot"};
        Project trial = e.after; // whether it can be generated, without what else is unfinished
        trial.connections = {c};
        const Reach after(trial);
        for (int w = 0; w < trial.windows.size(); ++w)
            if (auto ok = wiringFor(after, w, place_); !ok)
                return ok.problem();
        e.after.connections.append(c);
        done.connection = c.id;
        done.connections = {c.id};
        if (auto ok = apply(std::move(e)); !ok)
            return ok.problem();
        return done;
    }
    QHash<QString, QString> appended; // stubs, by file
    const auto toHandler = [&](const QString &name, const QStringList &from) -> Outcome {
        const QString cls = commonClass(reach, from, part);
        if (const Handler *h = e.after.handler(name)) {
            const int home = e.after.windowOfHandler(*h);
            for (const QString &s : from)
                if (home != 0 && reach.find(s)->window != home)
                    return Problem{QStringLiteral("%1 belongs to another window than %2").arg(name, s),
                                   {},
                                   "Connect it to a handler of its own window, or of the first"};
            for (const QString &s : from)
                if (auto ok = fits(*h, reach.classOf(s, part), *choice, r.convert); !ok)
                    return ok;
            return Done{};
        }
        if (!isIdentifier(name))
            return Problem{QStringLiteral("'%1' is no C++ name").arg(name.left(60)),
                           {},
                           "Use letters, digits and _, beginning with a letter"};
        if (auto ok = checkNewName(e.after, name); !ok)
            return ok;
        int window = reach.find(from.first())->window;
        for (const QString &s : from) // what a dialog came to is its opener's business
            if (reach.find(s)->window != window || e.after.windows[window].root.name == s)
                window = 0;
        Handler made = newHandler(e.after, name, window, cls, *choice, from.size() > 1, r.convert);
        auto text = files_.text(made.file);
        if (!text)
            return text.problem();
        const auto written = definitionOf(*text, e.after.windows[window].className, made.name);
        if (written && choice->signal) { // a function of the user's: it takes what it takes
            made.arguments = parameterTypes(*written);
            if (auto ok = fits(made, cls, *choice, r.convert); !ok)
                return ok;
        }
        e.after.handlers.append(made);
        if (!written) {
            appended[made.file] += stubText(e.after, made);
            done.stubAdded = true;
        }
        return Done{};
    };
    for (const QString &s : each ? sources : QStringList{QString()}) {
        c.id = e.after.newId("c");
        c.to = each ? QString(r.target).replace('*', stars.value(s)) : r.target;
        c.from = each ? s : selector ? QString() : sources.first();
        c.select = selector && !each ? r.source.trimmed() : QString();
        if (auto ok = toHandler(c.to, each ? QStringList{s} : sources); !ok)
            return ok.problem();
        e.after.connections.append(c);
        done.connections << c.id;
        done.notes += keyNotes(e.after, c);
    }
    for (auto it = appended.begin(); it != appended.end(); ++it) {
        auto text = files_.text(it.key());
        if (!text)
            return text.problem();
        e.files.append({it.key(), text->size(), {}, it.value()});
    }
    done.connection = done.connections.first();
    done.handler = e.after.connection(done.connection)->to;
    if (auto ok = apply(std::move(e)); !ok)
        return ok.problem();
    return done;
}

Outcome Workspace::addStub(const QString &name)
{
    const Handler *h = project_.handler(name);
    if (!h)
        return Problem{QStringLiteral("There is no handler '%1'").arg(name.left(60)), {}, {}};
    auto text = files_.text(h->file);
    if (!text)
        return text.problem();
    Edit e{"add the stub of " + name, {}, project_, {}};
    e.files.append({h->file, text->size(), {}, stubText(project_, *h)});
    return apply(std::move(e));
}

} // namespace pipit
