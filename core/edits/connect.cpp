// Making a connection, and the handler and stub that it needs.
#include "core/edits/workspace.h"

#include "core/catalog/catalog.h"
#include "core/codegen/generate.h"
#include "core/codegen/stubs.h"
#include "core/codegen/wiring.h"
#include "core/edits/where.h"
#include "core/findings/keys.h"
#include "core/findings/twice.h"
#include "core/project/condition.h"
#include "core/project/fit.h"
#include "core/project/selector.h"
#include "core/userfiles/cpp_scan.h"

#include <QSet>

#include <optional>

namespace pipit
{

namespace
{

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
Handler newHandler(Project &p, const QString &name, int window, const QString &cls, const Occasion &choice,
                   bool several, bool ticks, const QString &convert)
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
    h.arguments = choice.signal->types();
    const bool tick = choice.signal->name() == "clicked" || choice.signal->name() == "triggered";
    if (tick && !ticks && h.arguments == QStringList{"bool"}) // of no use: it is never ticked
        h.arguments.clear();
    for (const Conversion &c : conversions())
        if (!convert.isEmpty() && c.from == h.arguments.value(0) && c.says(convertChoice(convert).words)) {
            h.arguments = QStringList{c.to};
            break;
        }
    if (several)
        h.source = cls;
    return h;
}

Outcome fits(const Handler &h, const Reach &reach, const QString &source, const QString &part,
             const Occasion &choice, const QString &convert)
{
    const auto no = [](const QString &why, const QString &remedy) {
        return Problem{"The handler does not fit: " + why, {}, remedy};
    };
    const QString another = "Choose another handler or a new name";
    const Fit fit = choice.event ? fitOf(h, *choice.event, reach, source, part)
                                 : fitOf(h, *choice.signal, reach, source, part, convert);
    if (fit.misfit == Misfit::None)
        return Done{};
    if (fit.misfit == Misfit::Kind)
        return no(QStringLiteral("%1 is %2 handler")
                      .arg(h.name, h.kind == HandlerKind::Event ? "an event" : "a signal"),
                  another);
    if (choice.event)
        return no(QStringLiteral("%1 takes (%2)").arg(h.name, h.arguments.join(", ")), another);
    if (fit.misfit == Misfit::Source)
        return no(QStringLiteral("%1 needs a %2 as its source, but this is a %3")
                      .arg(h.name, h.source, reach.classOf(source, part)),
                  another);
    if (fit.misfit == Misfit::Conversion)
        return no(
            QStringLiteral("%1 takes the value of %2 without conversion").arg(h.name, choice.signal->name()),
            "Leave out 'as'");
    return no(
        QStringLiteral("%1 takes (%2), %3 gives (%4)")
            .arg(h.name, h.arguments.join(", "), choice.signal->name(), choice.signal->types().join(", ")),
        fit.how ? QStringLiteral("Add a conversion: ', as %1%2'")
                      .arg(fit.how->words, fit.how->mayFail ? " else skip" : "")
                : another);
}

// What a connection on a drag or a drop needs of its target.
void acceptDrops(Project &p, const Occasion &choice, const QStringList &sources)
{
    if (!choice.event || !QStringList{"drag enter", "drag move", "drop"}.contains(choice.event->words))
        return;
    for (const QString &s : sources)
        if (WidgetNode *w = p.widget(s))
            w->setProperty("acceptDrops", Json::boolean(true));
}

// What is said of a conversion must be one of what is given.
Outcome checkConversion(const ConnectRequest &r, const Occasion &choice)
{
    if (r.convert.isEmpty())
        return Done{};
    if (choice.event)
        return Problem{"An event has no conversion", {}, "Leave out 'as'"};
    const QString given = choice.signal->types().value(0);
    const ConvertChoice wanted = convertChoice(r.convert);
    std::optional<Problem> why;
    for (const Conversion &c : conversions())
        if (c.from == given && c.says(wanted.words)) {
            auto ok = conversionFits(c, wanted);
            if (ok)
                return ok;
            why = ok.problem();
        }
    if (why)
        return *why;
    const QStringList others = conversionsFrom(given);
    return Problem{QStringLiteral("%1 gives (%2), which cannot be taken as '%3'")
                       .arg(choice.stored, choice.signal->types().join(", "), wanted.words.left(60)),
                   {},
                   others.isEmpty() ? QString("Leave out 'as'") : "Write " + others.join(", or ")};
}

Outcome checkOptions(const ConnectRequest &r, const Occasion &choice)
{
    if (choice.event && r.pacing.kind != PacingKind::AtOnce)
        return Problem{"Only signals have a pacing", {}, "Leave it out for an event"};
    if (!choice.event && (r.after || r.scope != Connection::Scope::Widget || !r.drop.isEmpty()))
        return Problem{
            "'afterwards', 'in the window' and 'accepting' are for events", {}, "Leave it out for a signal"};
    if (r.scope != Connection::Scope::Widget && choice.event->cppClass != "QKeyEvent")
        return Problem{"'in the window' and 'in the application' are for keys", {}, "Leave it out"};
    if (!r.drop.isEmpty() && choice.event->words != "drop")
        return Problem{"'accepting' is for drops", {}, "Leave it out, or connect the event drop"};
    if (auto ok = checkConversion(r, choice); !ok)
        return ok;
    auto condition = parseCondition(r.when, choice.event ? choice.event->cppClass : QString());
    if (!condition)
        return Problem{
            "For " + choice.stored + ' ' + condition.problem().what, {}, condition.problem().remedy};
    return Done{};
}

// One request on its way to an edit: who the sources are, what they say, where it goes.
class Connector
{
public:
    Connector(const Project &p, const ProjectPlace &place, UserFiles &files, const ConnectRequest &r)
        : project_(p), place_(place), files_(files), r_(r),
          reach_(p), edit_{"connect " + r.source + " · " + r.what, {}, p, {}}
    {
    }
    Outcome run()
    {
        if (auto ok = findSources(); !ok)
            return ok;
        if (auto ok = chooseOccasion(); !ok)
            return ok;
        if (auto ok = checkOptions(r_, choice_); !ok)
            return ok;
        acceptDrops(edit_.after, choice_, sources_);
        return r_.opens || r_.target.contains('.') ? toMember() : toHandlers();
    }
    Edit takeEdit() { return std::move(edit_); }
    const Connected &done() const { return done_; }

private:
    Outcome findSources();
    Outcome chooseOccasion();
    Connection connection() const; // without its ends
    Outcome toMember();
    Outcome toHandlers();
    void noteTwice();
    Outcome toHandler(const QString &name, const QStringList &from);
    Outcome toKnown(const Handler &handler, const QStringList &from) const;
    Outcome toNew(const QString &name, const QStringList &from);

    const Project &project_;
    const ProjectPlace &place_;
    UserFiles &files_;
    const ConnectRequest &r_;
    const Reach reach_;
    Edit edit_;
    Connected done_;
    bool selector_ = false;
    QString part_, select_;
    QList<SelectorMatch> all_; // who is meant
    Occasion choice_;
    QStringList sources_;           // those of them that have it
    QHash<QString, QString> stars_; // what a selector's * matched
    QList<Handler> stubs_;          // to be written
    QStringList userFiles_;
};

Outcome Connector::findSources()
{
    const QString name = r_.source.section('.', 0, 0);
    selector_ =
        looksLikeSelector(r_.source) || (!reach_.find(name) && Catalog::get().has(r_.source.trimmed()));
    if (selector_) {
        const auto named = withNames(r_.source.trimmed(), project_);
        if (!named)
            return named.problem();
        select_ = *named;
        auto s = Selector::parse(select_);
        if (!s)
            return s.problem();
        all_ = s->matches(project_);
        if (all_.isEmpty())
            return Problem{QStringLiteral("'%1' matches nothing").arg(r_.source.left(80)),
                           {},
                           "See 'pipit show' for the names"};
        return Done{};
    }
    part_ = r_.source.section('.', 1);
    all_ = {{name, {}}};
    if (!reach_.find(name))
        return unknownObject(project_, name);
    if (!Reach::hasPart(reach_.classOf(name), part_))
        return Problem{QStringLiteral("%1 has no part '%2'").arg(name, part_.left(60)),
                       {},
                       "Use viewport for scrolling views, selection for lists, a button for a button box"};
    return Done{};
}

// Which of them have it, and as what; those that have not are left over.
Outcome Connector::chooseOccasion()
{
    std::optional<Problem> first;
    for (const SelectorMatch &m : std::as_const(all_)) {
        auto one = occasionOf(reach_, m.name, part_, r_.what);
        if (!one) {
            first = first ? first : one.problem();
            done_.leftovers << m.name;
            continue;
        }
        if (sources_.isEmpty())
            choice_ = *one;
        sources_ << m.name;
        stars_.insert(m.name, m.star);
    }
    if (sources_.isEmpty())
        return *first;
    done_.matches = sources_;
    return Done{};
}

Connection Connector::connection() const
{
    Connection c;
    c.part = part_;
    if (choice_.event)
        c.sourceKind = Connection::Source::Event;
    (choice_.event ? c.event : c.signal) = choice_.stored;
    c.when = conditionText(*parseCondition(r_.when, choice_.event ? choice_.event->cppClass : QString()));
    c.pacing = r_.pacing;
    c.after = r_.after;
    c.scope = r_.scope;
    c.drop = r_.drop;
    c.convert = r_.convert;
    c.enabled = r_.enabled;
    return c;
}

// To a slot or signal of another, or opening a window.
Outcome Connector::toMember()
{
    Connection c = connection();
    c.id = edit_.after.newId("c");
    (selector_ ? c.select : c.from) = selector_ ? select_ : sources_.first();
    c.to = r_.target.section('.', 0, 0);
    c.toMember = r_.target.section('.', 1);
    c.targetKind = r_.opens ? Connection::Target::Open : Connection::Target::Slot;
    if (!r_.opens) {
        for (const SignalEntry &s : reach_.members(c.to, Reach::Members::Signals))
            if (s.name() == c.toMember || s.signature == c.toMember)
                c.targetKind = Connection::Target::Signal;
    }
    if (choice_.event)
        return Problem{
            "An event can only go to a handler", {}, "Connect it to a handler that calls the slot"};
    c.enabled = true;
    Project trial = edit_.after; // whether it can be generated, without what else is unfinished
    trial.connections = {c};
    const Reach after(trial);
    for (int w = 0; w < trial.windows.size(); ++w)
        if (auto ok = wiringFor(after, w, place_); !ok)
            return ok.problem();
    c.enabled = r_.enabled;
    edit_.after.connections.append(c);
    done_.connection = c.id;
    done_.connections = {c.id};
    return Done{};
}

Outcome Connector::toHandlers()
{
    const bool each = selector_ && r_.target.contains('*');
    for (const QString &s : each ? sources_ : QStringList{QString()}) {
        Connection c = connection();
        c.id = edit_.after.newId("c");
        c.to = each ? QString(r_.target).replace('*', stars_.value(s)) : r_.target;
        c.from = each ? s : selector_ ? QString() : sources_.first();
        c.select = selector_ && !each ? select_ : QString();
        edit_.after.connections.append(c); // first: a stub is written for it
        if (auto ok = toHandler(c.to, each ? QStringList{s} : sources_); !ok)
            return ok;
        done_.connections << c.id;
        done_.notes += keyNotes(edit_.after, c);
    }
    noteTwice();
    QHash<QString, QString> append; // by file
    if (!stubs_.isEmpty())
        for (const Stubs stubs(edit_.after); const Handler &h : std::as_const(stubs_))
            append[h.file] += stubs.text(h);
    for (auto it = append.begin(); it != append.end(); ++it) {
        auto text = files_.text(it.key());
        if (!text)
            return text.problem();
        edit_.files.append({it.key(), text->size(), {}, it.value()});
    }
    done_.connection = done_.connections.first();
    done_.handler = edit_.after.connection(done_.connection)->to;
    return Done{};
}

// That a handler is called by another connection too, each time or sometimes.
void Connector::noteTwice()
{
    const Reach after(edit_.after);
    Twice twice(after);
    for (const Connection &c : std::as_const(edit_.after.connections)) {
        if (!c.enabled || c.what() != choice_.stored || c.targetKind != Connection::Target::Handler)
            continue;
        const auto sources = after.sources(c);
        for (const Twice::Pair &pair : sources ? twice.take(c, *sources) : QList<Twice::Pair>())
            if (done_.connections.contains(c.id))
                done_.notes << pair.sentence();
    }
}

Outcome Connector::toHandler(const QString &name, const QStringList &from)
{
    if (const Handler *h = edit_.after.handler(name))
        return toKnown(*h, from);
    if (!isIdentifier(name))
        return Problem{QStringLiteral("'%1' is not a C++ name").arg(name.left(60)),
                       {},
                       "Use letters, digits and _, beginning with a letter"};
    if (auto ok = checkNewName(edit_.after, name); !ok)
        return ok;
    return toNew(name, from);
}

Outcome Connector::toKnown(const Handler &h, const QStringList &from) const
{
    const int home = edit_.after.windowOfHandler(h);
    for (const QString &s : from)
        if (home != 0 && reach_.find(s)->window != home)
            return Problem{QStringLiteral("%1 belongs to another window than %2").arg(h.name, s),
                           {},
                           "Connect it to a handler of its own window, or of the first"};
    for (const QString &s : from)
        if (auto ok = fits(h, reach_, s, part_, choice_, r_.convert); !ok)
            return ok;
    if (r_.withSource && h.source.isEmpty() && choice_.signal)
        return Problem{QStringLiteral("%1 takes no source").arg(h.name),
                       {},
                       "Use a new handler, or call sender() in this one"};
    return Done{};
}

Outcome Connector::toNew(const QString &name, const QStringList &from)
{
    int window = reach_.find(from.first())->window;
    for (const QString &s : from) // what a dialog came to is its opener's business
        if (reach_.find(s)->window != window || edit_.after.windows[window].root.name == s)
            window = 0;
    const QString cls = commonClass(reach_, from, part_);
    const QSet<QString> checkable = part_.isEmpty() ? checkableNames(project_) : QSet<QString>();
    const bool ticks =
        std::all_of(from.begin(), from.end(), [&](const QString &s) { return checkable.contains(s); });
    Handler made = newHandler(edit_.after, name, window, cls, choice_, from.size() > 1 || r_.withSource,
                              ticks, r_.convert);
    const QString owner = edit_.after.windows[window].className;
    if (userFiles_.isEmpty())
        userFiles_ = userSources(place_.folder, project_);
    made.file = fileDefining(files_, userFiles_, made.file, owner, made.name).value_or(made.file);
    auto text = files_.text(made.file);
    if (!text)
        return text.problem();
    const auto written = definitionOf(*text, owner, made.name);
    if (written && choice_.signal) { // a function of the user's: it takes what it takes
        made.arguments = parameterTypes(*written);
        for (const QString &s : from)
            if (auto ok = fits(made, reach_, s, part_, choice_, r_.convert); !ok)
                return ok;
    }
    edit_.after.handlers.append(made);
    if (!written) {
        stubs_ << made;
        done_.stubAdded = true;
    }
    return Done{};
}

} // namespace

Result<Connected> Workspace::connect(const ConnectRequest &r)
{
    Connector connector(project_, place_, files_, r);
    if (auto ok = connector.run(); !ok)
        return ok.problem();
    if (auto ok = apply(connector.takeEdit()); !ok)
        return ok.problem();
    return connector.done();
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
    e.files.append({h->file, text->size(), {}, Stubs(project_).text(*h)});
    return apply(std::move(e));
}

} // namespace pipit
