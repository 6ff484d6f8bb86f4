// Making a connection, and the handler and stub that it needs.
#include "core/project/workspace.h"

#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/codegen/wiring.h"
#include "core/userfiles/cpp_scan.h"

#include <optional>

namespace pipit
{

namespace
{

struct Choice {
    std::optional<SignalEntry> signal;
    const EventEntry *event = nullptr;
};

Result<Choice> chooseSource(const QString &cls, const QString &source, const QString &what)
{
    const Catalog &catalog = Catalog::get();
    const auto found = catalog.signalsNamed(cls, what);
    if (found.size() == 1)
        return Choice{found.first(), nullptr};
    if (found.size() > 1) {
        QStringList all;
        for (const SignalEntry &s : found)
            all << s.signature;
        return Problem{QStringLiteral("%1 has several signals '%2'").arg(source, what),
                       {},
                       "Name one of them: " + all.join(", ")};
    }
    for (const EventEntry &e : catalog.eventsOf(cls))
        if (e.words == what.simplified().toLower())
            return Choice{std::nullopt, catalog.event(e.words)};
    QStringList names;
    for (const SignalEntry &s : catalog.signalsOf(cls))
        names << s.name();
    for (const EventEntry &e : catalog.eventsOf(cls))
        names << e.words;
    const QString near = nearestName(what, names);
    return Problem{QStringLiteral("%1, a %2, has no signal or event '%3'").arg(source, cls, what.left(60)),
                   {},
                   near.isEmpty() ? "See 'pipit catalog " + cls + "'" : "Nearest: " + near};
}

// A new handler's own signature: what the first connection to it can give.
Handler newHandler(Project &p, const QString &name, const QString &cls, const Choice &choice)
{
    Handler h;
    h.id = p.newId("h");
    h.name = name;
    h.file = p.windows.first().file + ".cpp";
    if (choice.event) {
        h.kind = HandlerKind::Event;
        h.arguments = {cls + " *", choice.event->cppClass + " *"};
    } else if (choice.signal->name() != "clicked") { // a plain button's tick is of no use
        h.arguments = choice.signal->types();
    }
    return h;
}

bool fits(const Handler &h, const QString &cls, const Choice &choice, QString *why)
{
    if ((h.kind == HandlerKind::Event) != (choice.event != nullptr)) {
        *why = QStringLiteral("%1 is %2 handler")
                   .arg(h.name, h.kind == HandlerKind::Event ? "an event" : "a signal");
        return false;
    }
    if (choice.event) {
        const bool ok = h.arguments.size() == 2 && h.arguments[1] == choice.event->cppClass + " *" &&
                        Catalog::get().inherits(cls, h.arguments[0].chopped(2));
        *why = QStringLiteral("%1 takes (%2)").arg(h.name, h.arguments.join(", "));
        return ok;
    }
    const QStringList given = choice.signal->types();
    *why = QStringLiteral("%1 takes (%2), %3 gives (%4)")
               .arg(h.name, h.arguments.join(", "), choice.signal->name(), given.join(", "));
    return h.shape == Shape::Background ||
           (h.arguments.size() <= given.size() && given.mid(0, h.arguments.size()) == h.arguments);
}

} // namespace

Result<Connected> Workspace::connect(const ConnectRequest &r)
{
    const QString object = r.source.section('.', 0, 0);
    const QString cls = project_.classOf(object);
    if (cls.isEmpty()) {
        const QString near = nearestName(object, project_.objectNames());
        return Problem{QStringLiteral("There is no widget or timer '%1'").arg(object.left(60)),
                       {},
                       near.isEmpty() ? "See 'pipit show' for the names" : "Nearest: " + near};
    }
    auto choice = chooseSource(cls, object, r.what);
    if (!choice)
        return choice.problem();
    if (choice->event && r.pacing.kind != PacingKind::AtOnce)
        return Problem{"Only signals have a pacing", {}, "Leave it out for an event"};
    if (choice->event)
        if (auto ok = conditionCode(r.when, choice->event->cppClass); !ok)
            return Problem{"For " + choice->event->words + ' ' + ok.problem().what, {}, ok.problem().remedy};
    if (!choice->event && !r.when.isEmpty())
        return Problem{"Only events have a condition", {}, "Leave it out for a signal"};

    Edit e{"connect " + r.source + " · " + r.what, {}, project_, {}};
    Connection c;
    c.id = e.after.newId("c");
    c.from = object;
    c.part = r.source.section('.', 1);
    if (choice->event) {
        c.sourceKind = Connection::Source::Event;
        c.event = choice->event->words;
        c.when = r.when;
    } else {
        const bool overloaded = Catalog::get().signalsNamed(cls, choice->signal->name()).size() > 1;
        c.signal = overloaded ? choice->signal->signature : choice->signal->name();
    }
    c.pacing = r.pacing;
    Connected done{c.id, {}, false};
    if (r.target.contains('.')) {
        c.to = r.target.section('.', 0, 0);
        c.toMember = r.target.section('.', 1);
        c.targetKind = Connection::Target::Slot;
        for (const SignalEntry &s : Catalog::get().signalsOf(project_.classOf(c.to)))
            if (s.name() == c.toMember)
                c.targetKind = Connection::Target::Signal;
        e.after.connections.append(c);
        if (auto ok = wiringFor(e.after, place_); !ok)
            return ok.problem();
        if (auto ok = apply(std::move(e)); !ok)
            return ok.problem();
        return done;
    }
    c.to = done.handler = r.target;
    if (const Handler *h = project_.handler(r.target)) {
        QString why;
        if (!fits(*h, cls, *choice, &why))
            return Problem{"The handler does not fit: " + why, {}, "Choose another handler or a new name"};
    } else {
        if (!isIdentifier(r.target))
            return Problem{QStringLiteral("'%1' is no C++ name").arg(r.target.left(60)),
                           {},
                           "Use letters, digits and _, beginning with a letter"};
        if (project_.objectNames().contains(r.target))
            return Problem{
                QStringLiteral("'%1' is a widget's name").arg(r.target), {}, "Choose another name"};
        const Handler made = newHandler(e.after, r.target, cls, *choice);
        e.after.handlers.append(made);
        auto text = files_.text(made.file);
        if (!text)
            return text.problem();
        if (!definitionOf(*text, e.after.windows.first().className, made.name)) {
            e.files.append({made.file, text->size(), {}, stubText(e.after, made)});
            done.stubAdded = true;
        }
    }
    e.after.connections.append(c);
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
