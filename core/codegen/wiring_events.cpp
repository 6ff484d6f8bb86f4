// The event filter of a window's wiring.
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
QByteArray handledCode(const EventEntry &e, const QString &drop)
{
    if (e.words == "close")
        return "e->ignore(); "; // the window stays
    if (e.words == "drop" && !drop.isEmpty())
        return drop == "move"   ? "e->setDropAction(Qt::MoveAction); e->accept(); "
               : drop == "copy" ? "e->setDropAction(Qt::CopyAction); e->accept(); "
                                : "e->acceptProposedAction(); ";
    if (e.words == "drop" || e.words == "drag enter" || e.words == "drag move")
        return "e->acceptProposedAction(); ";
    return "e->accept(); ";
}

} // namespace

QByteArray WiringWriter::watchedTest(const One &one, const EventEntry &e) const
{
    if (one.c->scope == Connection::Scope::Application)
        return "beyond_ && watched->isWindowType()";
    if (one.c->scope == Connection::Scope::Window)
        return "beyond_ && watched == " + reach_.code(one.source, {}, index_, "w") +
               "->window()->windowHandle()";
    const bool viewport = onViewport(e, reach_.classOf(one.source), one.c->part);
    return QByteArray(scoped_ ? "!beyond_ && " : "") +
           "watched == " + reach_.code(one.source, viewport ? QString("viewport") : one.c->part, index_, "w");
}

QByteArray WiringWriter::callOf(const One &one) const
{
    return "w->" + one.c->to.toUtf8() + '(' +
           reach_.code(one.source, one.c->part == "viewport" ? QString() : one.c->part, index_, "w") + ", e)";
}

// The condition under which the handler is called, after everything about the connection was checked.
Result<QByteArray> WiringWriter::guard(const One &one, const EventEntry &e)
{
    const Connection &c = *one.c;
    const Handler *h = reach_.handler(c.to);
    if (!h || c.targetKind != Connection::Target::Handler) {
        const QString near = nearestName(c.to, reach_.handlerNames());
        return at(c, QStringLiteral("there is no handler '%1'").arg(c.to),
                  near.isEmpty() ? "Connect it to a handler" : "Connect it to " + near);
    }
    const Fit fit = fitOf(*h, e, reach_, one.source, c.part);
    if (fit.misfit == Misfit::Kind || h->arguments.size() != 2)
        return at(c, QStringLiteral("%1 is no event handler").arg(c.to), "Connect it to an event handler");
    if (fit.misfit != Misfit::None)
        return at(c,
                  QStringLiteral("%1 takes (%2), which does not fit a %3 of %4")
                      .arg(c.to, h->arguments.join(", "), c.event, reach_.classOf(one.source)),
                  "Connect it to another handler");
    if (c.scope != Connection::Scope::Widget && e.cppClass != "QKeyEvent")
        return at(c, "only keys can be heard in the whole window or application", "Leave out the scope");
    if (c.after && e.words == "paint")
        return at(c, "painting cannot be done after the widget's own", "Paint in a class of your own");
    auto code = conditionCode(c.when, e.cppClass, one.source, reach_, index_, "w");
    if (!code)
        return at(c, code.problem());
    return code;
}

Outcome WiringWriter::eventBlock(const One &one)
{
    const EventEntry &e = *Catalog::get().event(one.c->event);
    auto condition = guard(one, e);
    if (!condition)
        return condition.problem();
    const QByteArray id = one.c->id.toUtf8();
    line("            if (" + watchedTest(one, e) + " && w->on(\"" + id + "\")) {");
    line("                [[maybe_unused]] auto *e = static_cast<" + e.cppClass.toUtf8() + " *>(event);");
    line("                bool handled = false;\n                if (" + *condition + ')');
    note(one, one.c->to);
    line("                    QMetaObject::invokeMethod(this, [&] { handled = " + callOf(one) +
         "; return handled; }, Qt::DirectConnection);");
    line("                if (handled) {\n                    " + handledCode(e, one.c->drop) +
         "return true;\n                }\n            }");
    return Done{};
}

// After the widget's own handling: the event is sent once more, past this filter, and then the
// handlers are called.
Outcome WiringWriter::afterBlock(const QList<One> &ones)
{
    for (const One &one : ones) {
        const EventEntry &e = *Catalog::get().event(one.c->event);
        auto condition = guard(one, e);
        if (!condition)
            return condition.problem();
        line("            if (" + watchedTest(one, e) + " && w->on(\"" + one.c->id.toUtf8() + "\")) {");
        line("                [[maybe_unused]] auto *e = static_cast<" + e.cppClass.toUtf8() + " *>(event);");
        line("                const bool wanted = " + *condition + ';');
        line("                QPointer<QObject> alive(watched);\n                if (!done)\n"
             "                    pass(watched, event);\n                done = true;\n"
             "                if (!alive)\n                    return true;\n                if (wanted)");
        note(one, one.c->to);
        line("                    QMetaObject::invokeMethod(this, [&] { return " + callOf(one) +
             "; }, Qt::DirectConnection);\n            }");
    }
    if (!ones.isEmpty())
        line("            if (done)\n                return true;");
    return Done{};
}

// A drop needs the drag to be accepted before: done here where no connection does it.
Outcome WiringWriter::dropAcceptance(const QString &event)
{
    for (const One &one : std::as_const(events_)) {
        if (one.c->event != "drop")
            continue;
        const bool said = std::any_of(events_.begin(), events_.end(), [&](const One &other) {
            return other.source == one.source && other.c->event == event;
        });
        if (said)
            continue;
        const EventEntry &e = *Catalog::get().event(event);
        auto condition = conditionCode(one.c->when, e.cppClass, one.source, reach_, index_, "w");
        if (!condition)
            return at(*one.c, condition.problem());
        line("            if (" + watchedTest(one, e) + " && w->on(\"" + one.c->id.toUtf8() + "\")) {");
        line("                [[maybe_unused]] auto *e = static_cast<" + e.cppClass.toUtf8() + " *>(event);");
        line("                if (" + *condition + ") {\n                    " + handledCode(e, {}) +
             "return true;\n                }\n            }");
    }
    return Done{};
}

Outcome WiringWriter::eventFilter()
{
    QMap<QString, QList<One>> byEvent; // in the order of their words
    for (const One &one : std::as_const(events_)) {
        if (!Catalog::get().event(one.c->event))
            return at(*one.c, QStringLiteral("the event '%1' is not known").arg(one.c->event),
                      "Use for example 'key press'");
        byEvent[one.c->event].append(one);
    }
    if (byEvent.contains("drop"))
        for (const char *before : {"drag enter", "drag move"})
            byEvent[before]; // to be accepted
    line("class " + wired_ + "::Filter : public QObject\n{\npublic:");
    line("    Filter(" + wired_ + " *window, [[maybe_unused]] bool beyond) : w(window)" +
         (scoped_ ? ", beyond_(beyond)" : "") + " {}\n");
    line("    bool eventFilter(QObject *watched, QEvent *event) override\n    {");
    line("        if (event == passing_)\n            return false;\n        [[maybe_unused]] bool done = "
         "false;");
    line("        switch (int(event->type())) {");
    for (auto it = byEvent.constBegin(); it != byEvent.constEnd(); ++it) {
        line("        case " + Catalog::get().event(it.key())->type.toUtf8() + ": {");
        QList<One> after;
        for (const One &one : *it) {
            if (one.c->after)
                after << one;
            else if (auto ok = eventBlock(one); !ok)
                return ok;
        }
        if (it.key() == "drag enter" || it.key() == "drag move")
            if (auto ok = dropAcceptance(it.key()); !ok)
                return ok;
        if (auto ok = afterBlock(after); !ok)
            return ok;
        line("            break;\n        }");
    }
    line("        default:\n            break;\n        }");
    line("        return QObject::eventFilter(watched, event);\n    }\n");
    line("private:\n    // To the widget itself and on, past this filter.\n"
         "    [[maybe_unused]] void pass(QObject *to, QEvent *event)\n    {\n"
         "        QEvent *const outer = passing_;\n        passing_ = event;\n"
         "        QCoreApplication::sendEvent(to, event);\n        passing_ = outer;\n    }\n");
    line("    " + wired_ + " *w;\n    QEvent *passing_ = nullptr;");
    if (scoped_)
        line("    bool beyond_; // hears the keys of whole windows");
    line("};\n");
    return Done{};
}

void WiringWriter::installFilter()
{
    line("    [[maybe_unused]] auto *filter = new Filter(this, false);\n    filter->setParent(links_);");
    QSet<QByteArray> watched;
    for (const One &one : std::as_const(events_)) {
        if (one.c->scope != Connection::Scope::Widget)
            continue;
        const QString cls = reach_.classOf(one.source);
        watched.insert(reach_.code(one.source, one.c->part, index_));
        if (Catalog::get().inherits(cls, "QAbstractScrollArea"))
            watched.insert(reach_.code(one.source, "viewport", index_));
    }
    QByteArrayList sorted(watched.begin(), watched.end());
    std::sort(sorted.begin(), sorted.end());
    for (const QByteArray &w : sorted)
        line("    " + w + "->installEventFilter(filter);");
    if (scoped_)
        line("    winId(); // so that there is a window whose keys can be heard\n"
             "    auto *beyond = new Filter(this, true);\n    beyond->setParent(links_);\n"
             "    QCoreApplication::instance()->installEventFilter(beyond);");
}

} // namespace pipit
