#include "core/findings/findings.h"

#include "core/catalog/catalog.h"
#include "core/findings/checker.h"
#include "core/project/condition.h"
#include "core/project/fit.h"

#include <QDir>
#include <QRegularExpression>

namespace pipit
{

bool CodeUse::does(const QString &name, std::initializer_list<const char *> functions) const
{
    const auto it = calls.constFind(name);
    return it != calls.constEnd() && std::any_of(functions.begin(), functions.end(), [&](const char *f) {
               return it->contains(QLatin1String(f));
           });
}

Checker::Checker(const Project &project, UserFiles &files) : p_(project), reach_(project), twice_(reach_)
{
    readCode(files);
    references_ = referencesIn(p_);
    for (const Handler &h : p_.handlers)
        for (const QString &f : h.functionNames())
            functions_.insert(f);
    for (const Connection &c : p_.connections) {
        auto all = reach_.sources(c);
        for (const QString &s : all ? *all : QStringList()) {
            ones_.append({&c, s});
            heard_[s].insert(c.what().section('(', 0, 0));
        }
        if (c.targetKind == Connection::Target::Handler)
            calledHandlers_.insert(c.to);
        else if (c.targetKind == Connection::Target::Open)
            opened_.insert(c.to);
        else
            slots_[c.to].insert(c.toMember.section('(', 0, 0));
    }
}

void Checker::readCode(UserFiles &files)
{
    QStringList names = QDir(files.path({})).entryList({"*.cpp", "*.h"}, QDir::Files, QDir::Name);
    for (const Handler &h : p_.handlers)
        if (!names.contains(h.file))
            names << h.file;
    static const QRegularExpression call("([A-Za-z_]\\w*)\\s*(?:->|\\.)\\s*([A-Za-z_]\\w*)"),
        connect("\\bconnect\\s*\\(\\s*(?:this\\s*->\\s*)?([A-Za-z_]\\w*)"), word("[A-Za-z_]\\w*");
    for (const QString &file : std::as_const(names)) {
        auto text = files.text(file);
        if (!text) {
            code_.unreadable.insert(file, text.problem());
            continue;
        }
        const QString code = codeOnly(*text);
        for (auto it = call.globalMatch(code); it.hasNext();) {
            const auto m = it.next();
            code_.calls[m.captured(1)].insert(m.captured(2));
        }
        for (auto it = connect.globalMatch(code); it.hasNext();)
            code_.connected.insert(it.next().captured(1));
        for (auto it = word.globalMatch(code); it.hasNext();)
            code_.mentioned.insert(it.next().captured());
        code_.definitions.insert(file, definitionsIn(*text));
        code_.code.insert(file, code);
    }
}

Finding &Checker::say(const char *id, Severity severity, const QString &where, const QString &message,
                      const QString &fix, int line)
{
    Finding f;
    f.id = QLatin1String(id);
    f.severity = severity;
    f.where = where;
    f.message = message;
    f.fix = fix;
    f.line = line;
    out_.append(f);
    return out_.last();
}

namespace
{

QString didYouMean(const QString &near)
{
    return near.isEmpty() ? QString() : QStringLiteral("Did you mean %1?").arg(near);
}

QString what(const Connection &c)
{
    return c.brief();
}

} // namespace

void Checker::connections()
{
    for (const Connection &c : p_.connections) {
        auto all = reach_.sources(c);
        if (!all) {
            say("bad-selector", Severity::Error, c.id, what(c) + ": " + all.problem().what + '.',
                all.problem().remedy + '.', c.kept.line);
            continue;
        }
        if (all->isEmpty()) {
            Finding &f =
                say("empty-selector", Severity::Warning, c.id,
                    QStringLiteral("%1: no widget with that signal matches %2.").arg(what(c), c.select),
                    "Correct the selector, or remove the connection.", c.kept.line);
            f.mend = Finding::Mend::RemoveConnection;
            f.costs = true;
        }
        connection(c, *all);
        duplicates(c, *all);
    }
}

void Checker::duplicates(const Connection &c, const QStringList &sources)
{
    for (const Twice::Pair &pair : twice_.take(c, sources)) {
        const bool same = pair.first->when == c.when;
        Finding &f =
            say("duplicate-connection", Severity::Warning, c.id, pair.sentence(),
                same ? "Remove one of the two connections." : "Let their conditions exclude each other.",
                c.kept.line);
        if (pair.idle) // all that it calls is called already
            f.mend = Finding::Mend::RemoveConnection;
    }
}

void Checker::connection(const Connection &c, const QStringList &sources)
{
    const EventEntry *event =
        c.sourceKind == Connection::Source::Event ? Catalog::get().event(c.event) : nullptr;
    if (c.sourceKind == Connection::Source::Event && !event)
        say("unknown-event", Severity::Error, c.id,
            what(c) + QStringLiteral(": there is no event '%1'.").arg(c.event), {}, c.kept.line);
    if (auto ok = parseCondition(c.when, event ? event->cppClass : QString()); !ok)
        say("bad-condition", Severity::Error, c.id, what(c) + ": " + ok.problem().what + '.',
            ok.problem().remedy + '.', c.kept.line);
    else
        for (const ConditionTerm &t : ok->terms)
            if (!t.object.isEmpty() && !reach_.find(t.object))
                say("unknown-name", Severity::Error, c.id,
                    what(c) +
                        QStringLiteral(": its condition names '%1', which does not exist.").arg(t.object),
                    didYouMean(nearestName(t.object, reach_.names())), c.kept.line);
    for (const QString &s : sources) {
        if (!reach_.find(s)) {
            say("unknown-name", Severity::Error, c.id,
                what(c) + QStringLiteral(": there is no widget or timer '%1'.").arg(s),
                didYouMean(nearestName(s, reach_.names())), c.kept.line);
            return;
        }
        if (c.sourceKind == Connection::Source::Event) {
            target(c, s, nullptr, event);
            continue;
        }
        const QString cls = reach_.classOf(s, c.part);
        auto signal = reach_.signal(s, c.part, c.signal);
        if (!signal && (c.part.isEmpty() ? reach_.areMembersKnown(s) : Catalog::get().has(cls))) {
            QStringList names;
            for (const SignalEntry &each : c.part.isEmpty() ? reach_.members(s, Reach::Members::Signals)
                                                            : Catalog::get().signalsOf(cls))
                names << each.name();
            say("unknown-signal", Severity::Error, c.id,
                what(c) + QStringLiteral(": a %1 has no signal '%2'.")
                              .arg(QString::fromUtf8(reach_.typeOf(s, c.part)), c.signal),
                didYouMean(nearestName(c.signal, names)), c.kept.line);
            return;
        }
        if (signal)
            target(c, s, &*signal, nullptr);
        if (!c.select.isEmpty() && !out_.isEmpty() && out_.last().where == c.id)
            return; // once for all of them
    }
}

void Checker::target(const Connection &c, const QString &source, const SignalEntry *signal,
                     const EventEntry *event)
{
    if (c.targetKind == Connection::Target::Open) {
        const Project::Named *n = reach_.find(c.to);
        if (!n || p_.windows[n->window].root.name != c.to || n->window == 0)
            say("unknown-name", Severity::Error, c.id,
                QStringLiteral("%1 · %2 opens %3: there is no other window %3.")
                    .arg(c.subject(), c.what(), c.to),
                "Add the window, or remove the connection.", c.kept.line);
        return;
    }
    if (c.targetKind != Connection::Target::Handler) {
        const QString cls = reach_.classOf(c.to);
        if (cls.isEmpty()) {
            say("unknown-name", Severity::Error, c.id,
                what(c) + QStringLiteral(": there is no widget '%1'.").arg(c.to),
                didYouMean(nearestName(c.to, reach_.names())), c.kept.line);
            return;
        }
        QStringList names;
        const bool slot = c.targetKind == Connection::Target::Slot;
        for (const SignalEntry &m :
             reach_.members(c.to, slot ? Reach::Members::Slots : Reach::Members::Signals))
            names << m.name() << m.signature;
        if (!names.contains(c.toMember) && reach_.areMembersKnown(c.to))
            say("unknown-slot", Severity::Error, c.id,
                what(c) +
                    QStringLiteral(": a %1 has no %2 '%3'.")
                        .arg(QString::fromUtf8(reach_.typeOf(c.to)), slot ? "slot" : "signal", c.toMember),
                didYouMean(nearestName(c.toMember, names)), c.kept.line);
        return;
    }
    const Handler *h = reach_.handler(c.to);
    if (!h) {
        const QString near = nearestName(c.to, reach_.handlerNames());
        Finding &f = say("unknown-handler", Severity::Error, c.id,
                         what(c) + QStringLiteral(": there is no handler '%1'.").arg(c.to), didYouMean(near),
                         c.kept.line);
        if (!near.isEmpty()) {
            f.mend = Finding::Mend::Retarget;
            f.with = {near};
        }
        return;
    }
    if (reach_.home(c, source) < 0)
        say("wrong-window", Severity::Error, c.id,
            what(c) + QStringLiteral(": %1 belongs to another window than %2.").arg(c.to, source),
            "Connect it to a handler of its own window, or of the first.", c.kept.line);
    const QString another = "Connect it to another handler, or change what the handler takes.";
    const auto wrong = [&](const QString &why) {
        say("wrong-signature", Severity::Error, c.id, what(c) + ": " + why + '.', another, c.kept.line);
    };
    const Fit fit = event ? fitOf(*h, *event, reach_, source, c.part)
                          : fitOf(*h, *signal, reach_, source, c.part, c.convert);
    const QString cls = reach_.classOf(source, c.part);
    switch (fit.misfit) {
    case Misfit::None:
        break;
    case Misfit::Kind:
        wrong(QStringLiteral("%1 is %2 handler").arg(h->name, event ? "a signal" : "an event"));
        break;
    case Misfit::Event:
        wrong(QStringLiteral("%1 takes (%2), but %3 gives a %4")
                  .arg(h->name, h->arguments.join(", "), event->words, event->cppClass));
        break;
    case Misfit::Source:
        wrong(QStringLiteral("%1 takes a %2, but %3 is a %4")
                  .arg(h->name, event ? h->arguments[0].chopped(2) : h->source, source, cls));
        break;
    case Misfit::Conversion:
        wrong(QStringLiteral("%1 takes the value of %2 without conversion, so 'as %3' has no effect")
                  .arg(h->name, signal->name(), c.convert));
        break;
    case Misfit::Arguments:
        wrong(QStringLiteral("%1 takes (%2), but %3 gives (%4)")
                  .arg(h->name, h->arguments.join(", "), signal->name(), signal->types().join(", ")));
        break;
    }
}

QList<Finding> Checker::run()
{
    connections();
    handlers();
    sources();
    timers();
    names();
    references();
    windows();
    keys();
    drags();
    pairs();
    enabledness();
    works();
    return out_;
}

QString severityWord(Finding::Severity s)
{
    return s == Finding::Severity::Error ? "error" : s == Finding::Severity::Warning ? "warning" : "hint";
}

QList<Finding> findingsOf(const Project &project, UserFiles &files)
{
    return Checker(project, files).run();
}

QStringList findingKinds()
{
    return {"bad-condition",        "bad-selector",        "body-signature",      "broken-reference",
            "dead-handler",         "disabled-source",     "drag-source-missing", "drop-not-accepted",
            "duplicate-connection", "empty-selector",      "half-pair",           "hides-member",
            "key-conflict",         "missing-handler",     "missing-model",       "near-name",
            "never-handled",        "not-checkable",       "nothing-connected",   "shadowed-key",
            "timer-never-started",  "timer-too-fast",      "unknown-event",       "unknown-handler",
            "unknown-name",         "unknown-signal",      "unknown-slot",        "unreadable-file",
            "used-on-both-threads", "window-never-opened", "wrong-signature",     "wrong-window"};
}

} // namespace pipit
