// What runs in steps on a timer of no time: begun by a signal, a piece at a time between the loop's other
// events.
#include "core/codegen/stubs.h"
#include "core/codegen/wiring_writer.h"

namespace pipit
{

QByteArray WiringWriter::state(const Handler &h) const
{
    return locals_.of(h.name.toUtf8() + "State_");
}

Connection WiringWriter::ownerOf(const Handler &h) const
{
    for (const Group &g : signals_)
        if (g.c->callsHandler(h.name))
            return *g.c;
    Connection nobody;
    nobody.to = h.name;
    return nobody;
}

QByteArray WiringWriter::stepMembers() const
{
    QByteArray functions, members;
    for (const Handler *h : steps_) {
        functions += "    void " + starter(*h) + parameters(*h) + ";\n    void " + worker(*h) + "();\n";
        members +=
            "    std::optional<" + h->state.toUtf8() + "> " + state(*h) + "; // while it is under way\n";
        if (h->again != "ignore")
            members += "    QQueue<" + (h->again == "turn" ? waitingType(*h) : h->state.toUtf8()) + "> " +
                       queued(*h) + ";\n";
    }
    return functions + members;
}

void WiringWriter::stepTimers()
{
    for (const Handler *h : steps_) {
        const QByteArray timer = jobName(*h).toUtf8();
        const Connection owner = ownerOf(*h);
        line("// " + timer + ": a piece of the work.");
        const int at = lineNumber_;
        line("connect(" + timer + ", &QTimer::timeout, this, &" + wired_ + "::" + worker(*h) + ");");
        note(at, Group{&owner, "QTimer", {jobName(*h)}}, h->function(Part::Step), true);
    }
}

void WiringWriter::stepStart(const Handler &h, const Group &owner)
{
    const QByteArray timer = jobName(h).toUtf8(), begun = locals_.of("begun");
    line();
    line("// Begins; the timer does the rest, a piece at a time.");
    open("void " + wired_ + "::" + starter(h) + parameters(h) + "\n{");
    line("if (!" + timer + "->isActive())");
    line("    " + state(h) + ".reset(); // it was stopped");
    const QByteArray busy = "if (" + state(h) + ')';
    if (h.again == "ignore") {
        line(busy);
        line("    return;");
    } else if (h.again == "turn") {
        open(busy + " {");
        line(queued(h) + ".enqueue({" + argumentNames(h) + "});");
        line("return;");
        close("}");
    }
    line("std::optional<" + h.state.toUtf8() + "> " + begun + ';');
    const int at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [&] { " + begun + " = " + h.function(Part::Begin).toUtf8() + '(' +
         argumentNames(h) + "); });");
    note(at, owner, h.function(Part::Begin));
    if (h.declines) {
        line("if (!" + begun + ')');
        line("    return;");
    }
    if (h.again == "queue") {
        open(busy + " {");
        line(queued(h) + ".enqueue(*" + begun + ");");
        line("return;");
        close("}");
    }
    line(state(h) + " = " + begun + ';');
    line(timer + "->start();");
    close("}");
}

void WiringWriter::stepOn(const Handler &h, const Group &owner)
{
    const QByteArray timer = jobName(h).toUtf8(), more = locals_.of("more"), clock = locals_.of("clock"),
                     ended = locals_.of("ended");
    line();
    open("void " + wired_ + "::" + worker(h) + "()\n{");
    // An exception ends it as well.
    open("auto " + ended + " = qScopeGuard([this] {");
    line(timer + "->stop();");
    line(state(h) + ".reset();");
    if (h.again != "ignore") {
        open("if (!" + queued(h) + ".isEmpty()) {");
        if (h.again == "turn") {
            line("std::apply([this](const auto &...given) { " + starter(h) + "(given...); }, " + queued(h) +
                 ".dequeue());");
        } else {
            line(state(h) + " = " + queued(h) + ".dequeue();");
            line(timer + "->start();");
        }
        close("}");
    }
    close("});");
    line("QElapsedTimer " + clock + ';');
    line(clock + ".start();");
    line("bool " + more + " = true;");
    int at = lineNumber_;
    open("QMetaObject::invokeMethod(this, [&] {");
    line("while (" + more + " && " + clock + ".elapsed() < wiring::stepBudget)");
    line("    " + more + " = " + h.function(Part::Step).toUtf8() + "(*" + state(h) + ");");
    close("});");
    note(at, owner, h.function(Part::Step));
    open("if (" + more + ") {");
    line(ended + ".dismiss();");
    line("return;");
    close("}");
    line(timer + "->stop();");
    at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [&] { " + h.function(Part::End).toUtf8() + "(*" + state(h) +
         "); });");
    note(at, owner, h.function(Part::End));
    close("}");
}

void WiringWriter::steps()
{
    for (const Handler *h : steps_) {
        const Connection owner = ownerOf(*h);
        const Group group{&owner, {}, {}};
        stepStart(*h, group);
        stepOn(*h, group);
    }
}

} // namespace pipit
