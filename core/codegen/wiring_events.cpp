// The events of a window's wiring: one filter, a case for each kind.
#include "core/codegen/condition_code.h"
#include "core/codegen/wiring_writer.h"

#include <QMap>

namespace pipit
{

namespace
{

bool onViewport(const EventEntry &e, const QString &cls, const QString &part)
{
    return part == "viewport" || (e.onViewport && Catalog::get().inherits(cls, "QAbstractScrollArea"));
}

// What to do with an event that a handler says it handled.
QByteArrayList handledCode(const EventEntry &e, const QString &drop, const QByteArray &event)
{
    if (e.words == "close")
        return {event + "->ignore();"}; // the window stays
    if (e.words == "drop" && !drop.isEmpty()) {
        if (drop == "copy or move")
            return {event + "->acceptProposedAction();"};
        return {event + "->setDropAction(" + (drop == "move" ? "Qt::MoveAction" : "Qt::CopyAction") + ");",
                event + "->accept();"};
    }
    if (e.words == "drop" || e.words == "drag enter" || e.words == "drag move")
        return {event + "->acceptProposedAction();"};
    return {event + "->accept();"};
}

// The part of a widget that the loop over several walks.
QString loopPart(const QString &part)
{
    return part == "viewport" ? QString() : part;
}

} // namespace

QByteArray WiringWriter::watchedTest(const Group &g, const EventEntry &e) const
{
    const QByteArray source = sourceCode(g, loopPart(g.c->part));
    if (g.c->scope == Connection::Scope::Application)
        return watched_ + "->isWindowType()"; // whichever it is
    if (g.c->scope == Connection::Scope::Window)
        return watched_ + " == " + (source == "this" ? QByteArray() : source + "->") +
               "window()->windowHandle()";
    const bool viewport = onViewport(e, reach_.classOf(g.first()), g.c->part);
    return watched_ + " == " + source + (viewport ? "->viewport()" : "");
}

QByteArray WiringWriter::callOf(const Group &g) const
{
    return g.c->to.toUtf8() + '(' + sourceCode(g, loopPart(g.c->part)) + ", " + event_ + ')';
}

// "key" for a QKeyEvent; the event itself where it is no special one.
QByteArray WiringWriter::eventName(const EventEntry &e) const
{
    const QString special = e.cppClass.mid(1).chopped(5);
    return special.isEmpty() ? event_ : locals_.of((special.left(1).toLower() + special.mid(1)).toUtf8());
}

// The condition under which the handler is called, after everything about the connection was checked.
Result<QByteArray> WiringWriter::guard(const Group &g, const EventEntry &e)
{
    const Connection &c = *g.c;
    const Handler *h = reach_.handler(c.to);
    if (!h || c.targetKind != Connection::Target::Handler) {
        const QString near = nearestName(c.to, reach_.handlerNames());
        return at(c, QStringLiteral("there is no handler '%1'").arg(c.to),
                  near.isEmpty() ? "Connect it to a handler" : "Connect it to " + near);
    }
    for (const QString &source : g.sources) {
        const Fit fit = fitOf(*h, e, reach_, source, c.part);
        if (fit.misfit == Misfit::Kind || h->arguments.size() != 2)
            return at(c, QStringLiteral("%1 is no event handler").arg(c.to),
                      "Connect it to an event handler");
        if (fit.misfit != Misfit::None)
            return at(c,
                      QStringLiteral("%1 takes (%2), which does not fit a %3 of %4")
                          .arg(c.to, h->arguments.join(", "), c.event, reach_.classOf(source)),
                      "Connect it to another handler");
    }
    if (c.scope != Connection::Scope::Widget && e.cppClass != "QKeyEvent")
        return at(c, "only keys can be heard in the whole window or application", "Leave out the scope");
    if (c.after && e.words == "paint")
        return at(c, "painting cannot be done after the widget's own", "Paint in a class of your own");
    auto code = conditionCode(c.when, e.cppClass, g.first(), g.isMany() ? source_ : QByteArray(), reach_,
                              index_, event_);
    if (!code)
        return at(c, code.problem());
    return watchedTest(g, e) + (code->isEmpty() ? QByteArray() : " && " + *code);
}

Outcome WiringWriter::eventBlock(const Group &g, const EventEntry &e)
{
    auto condition = guard(g, e);
    if (!condition)
        return condition.problem();
    sentence(*g.c);
    openLoop(g, loopPart(g.c->part));
    open("if (" + *condition + ") {");
    line("bool " + handled_ + " = false;");
    const int at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [&] { return " + callOf(g) + "; }, &" + handled_ + ");");
    note(at, g, g.c->to);
    open("if (" + handled_ + ") {");
    for (const QByteArray &statement : handledCode(e, g.c->drop, event_))
        line(statement);
    line("return true;");
    close("}");
    close("}");
    closeLoop(g);
    return Done{};
}

// After the widget's own handling: the event is sent once more, past this filter, and then the
// handlers are called.
Outcome WiringWriter::afterBlock(const QList<Group> &groups, const EventEntry &e)
{
    if (groups.isEmpty())
        return Done{};
    const QByteArray passed = locals_.of("passed"), wanted = locals_.of("wanted");
    line("bool " + passed + " = false;");
    for (const Group &g : groups) {
        auto condition = guard(g, e);
        if (!condition)
            return condition.problem();
        const QByteArray where = watchedTest(g, e);
        const QByteArray when = condition->mid(where.size() + 4);
        sentence(*g.c);
        openLoop(g, loopPart(g.c->part));
        open("if (" + where + ") {");
        if (!when.isEmpty())
            line("const bool " + wanted + " = " + when + "; // as it is before");
        line("if (!" + passed + " && !pass(" + watched_ + ", " + event_ + "))");
        line("    return true;");
        line(passed + " = true;");
        if (!when.isEmpty())
            line("if (" + wanted + ')');
        const int at = lineNumber_;
        line(QByteArray(when.isEmpty() ? "" : "    ") + "QMetaObject::invokeMethod(this, [&] { " + callOf(g) +
             "; });");
        note(at, g, g.c->to);
        close("}");
        closeLoop(g);
    }
    line("if (" + passed + ')');
    line("    return true;");
    return Done{};
}

// A drop needs the drag to be accepted before: done here where no connection does it.
Outcome WiringWriter::dropAcceptance(const EventEntry &e)
{
    for (const Group &g : std::as_const(events_)) {
        if (g.c->event != "drop")
            continue;
        Group rest = g;
        rest.sources.removeIf([&](const QString &source) {
            return std::any_of(events_.begin(), events_.end(), [&](const Group &other) {
                return other.c->event == e.words && other.sources.contains(source);
            });
        });
        if (rest.sources.isEmpty())
            continue;
        auto condition = conditionCode(g.c->when, e.cppClass, rest.first(),
                                       rest.isMany() ? source_ : QByteArray(), reach_, index_, event_);
        if (!condition)
            return at(*g.c, condition.problem());
        const QByteArray test =
            watchedTest(rest, e) + (condition->isEmpty() ? QByteArray() : " && " + *condition);
        line("// A drop needs this, see " + commentText(rest.c->to) + '.');
        openLoop(rest, loopPart(g.c->part));
        open("if (" + test + ") {");
        for (const QByteArray &statement : handledCode(e, {}, event_))
            line(statement);
        line("return true;");
        close("}");
        closeLoop(rest);
    }
    return Done{};
}

Outcome WiringWriter::eventCases()
{
    QMap<QString, QList<Group>> byEvent; // in the order of their words
    for (const Group &g : std::as_const(events_)) {
        if (!Catalog::get().event(g.c->event))
            return at(*g.c, QStringLiteral("the event '%1' is not known").arg(g.c->event),
                      "Use for example 'key press'");
        byEvent[g.c->event].append(g);
    }
    if (byEvent.contains("drop"))
        for (const char *before : {"drag enter", "drag move"})
            byEvent[before]; // to be accepted
    const QByteArray given = event_;
    line("switch (" + given + "->type()) {");
    for (auto it = byEvent.constBegin(); it != byEvent.constEnd(); ++it) {
        const EventEntry &e = *Catalog::get().event(it.key());
        open("case " + e.type.toUtf8() + ": {");
        event_ = eventName(e);
        if (event_ != given)
            line("auto *" + event_ + " = static_cast<" + e.cppClass.toUtf8() + " *>(" + given + ");");
        QList<Group> after;
        for (const Group &g : *it) {
            if (g.c->after)
                after << g;
            else if (auto ok = eventBlock(g, e); !ok)
                return ok;
        }
        if (it.key() == "drag enter" || it.key() == "drag move")
            if (auto ok = dropAcceptance(e); !ok)
                return ok;
        if (auto ok = afterBlock(after, e); !ok)
            return ok;
        line("break;");
        close("}");
        event_ = given;
    }
    line("default:");
    line("    break;");
    line("}");
    return Done{};
}

Outcome WiringWriter::eventFilter()
{
    line();
    open("bool " + wired_ + "::eventFilter(QObject *" + watched_ + ", QEvent *" + event_ + ")\n{");
    if (after_) {
        line("if (" + event_ + " == passing_)");
        line("    return false;");
    }
    if (auto ok = eventCases(); !ok)
        return ok;
    line("return " + user_ + "::eventFilter(" + watched_ + ", " + event_ + ");");
    close("}");
    if (after_) {
        line();
        open("bool " + wired_ + "::pass(QObject *to, QEvent *" + event_ + ")\n{");
        line("QEvent *const outer = passing_;");
        line("passing_ = " + event_ + ';');
        line("const QPointer<QObject> alive(to);");
        line("QCoreApplication::sendEvent(to, " + event_ + ");");
        line("passing_ = outer;");
        line("return alive;");
        close("}");
    }
    return Done{};
}

void WiringWriter::installFilter()
{
    if (scoped_) {
        line("// Keys arrive at a window first, wherever the focus is; eventFilter() looks at all events.");
        line("winId();");
        line("QCoreApplication::instance()->installEventFilter(this);");
        return;
    }
    QStringList watched;
    for (const Group &g : std::as_const(events_)) {
        for (const QString &source : g.sources) {
            const EventEntry *e = Catalog::get().event(g.c->event);
            const bool viewport = e && onViewport(*e, reach_.classOf(source), g.c->part);
            const QByteArray code = reach_.code(source, viewport ? QString("viewport") : g.c->part, index_);
            if (!watched.contains(QString::fromUtf8(code)))
                watched << QString::fromUtf8(code);
        }
    }
    line("// Whose events eventFilter() looks at.");
    for (const QString &w : std::as_const(watched))
        line((w == "this" ? QByteArray() : w.toUtf8() + "->") + "installEventFilter(this);");
}

} // namespace pipit
