// Handlers in the background that share a queue, and those that run several at once.
#include "core/codegen/wiring_writer.h"

namespace pipit
{

QByteArray WiringWriter::queue(const Handler &h) const
{
    return locals_.of(h.queue.toUtf8() + "Queue_");
}

QByteArray WiringWriter::runs(const Handler &h) const
{
    return locals_.of(h.name.toUtf8() + "Runs_");
}

QByteArray WiringWriter::beginner(const Handler &h) const
{
    return locals_.of("begin" + capital(h));
}

QByteArray WiringWriter::shower(const Handler &h) const
{
    return locals_.of("showNext" + capital(h));
}

// With a place for what the others have.
QByteArray WiringWriter::sharedMembers() const
{
    QByteArray functions, members = "@members@";
    QSet<QByteArray> known;
    for (const Handler *h : background_) {
        if (h->isTogether()) {
            functions += "    void " + shower(*h) + "();\n";
            members += "    wiring::Together<" + h->result.toUtf8() + "> " + runs(*h) + '{' +
                       QByteArray::number(h->workers) + "}; // so many at once\n";
        }
        if (!h->isQueued())
            continue;
        if (waitsForItsTurn(*h))
            functions += "    void " + beginner(*h) + parameters(*h) + ";\n";
        if (h->again == "ignore")
            members += "    bool " + busy(*h) + " = false; // until its result was shown\n";
        if (!known.contains(queue(*h)))
            members += "    wiring::SerialQueue " + queue(*h) + ";\n";
        known.insert(queue(*h));
    }
    return functions + members;
}

void WiringWriter::queuedStart(const Handler &h, const Group &owner)
{
    const QByteArray job = h.name.toUtf8() + "Job", given = locals_.of("given");
    line("// Reads what the work needs; the work waits in the queue \"" + h.queue.toUtf8() + "\".");
    open("void " + wired_ + "::" + starter(h) + parameters(h) + "\n{");
    if (waitsForItsTurn(h)) {
        open(queue(h) + ".take(" + job + ", [this, " + given + " = " + waitingType(h) + '{' +
             argumentNames(h) + "}] {");
        line("std::apply([this](const auto &...each) { " + beginner(h) + "(each...); }, " + given + ");");
        close("});");
        close("}");
        line();
        open("void " + wired_ + "::" + beginner(h) + parameters(h) + "\n{");
        const QByteArray leave = locals_.of("leave");
        open("auto " + leave + " = qScopeGuard([this] {");
        next(h);
        close("});");
        takeInput(h, owner);
        line(leave + ".dismiss();");
        line(worker(h) + '(' + inputOf(h) + ");");
        close("}");
        return;
    }
    if (h.again == "ignore") {
        line("if (" + busy(h) + ")");
        line("    return;");
    }
    takeInput(h, owner);
    if (h.again == "ignore")
        line(busy(h) + " = true;");
    if (h.again == "restart") {
        line(queue(h) + ".forget(" + job + ");");
        line("if (" + job + "->isRunning())");
        line("    " + job + "->cancel();");
    }
    const QByteArray input = locals_.of("input");
    const QByteArray kept = !hasInput(h) ? QByteArray()
                            : h.declines ? ", " + input + " = *" + input
                                         : ", " + input;
    line(queue(h) + ".take(" + job + ", [this" + kept + "] { " + worker(h) + '(' +
         (hasInput(h) ? input : QByteArray()) + "); });");
    close("}");
}

// The next one begins once this one is shown, which may throw.
void WiringWriter::queuedEnd(const Handler &h)
{
    if (h.again == "ignore")
        line(busy(h) + " = false;");
    next(h);
}

void WiringWriter::next(const Handler &h)
{
    line("QMetaObject::invokeMethod(this, [this] { " + queue(h) + ".next(); }, Qt::QueuedConnection);");
}

void WiringWriter::togetherStart(const Handler &h, const Group &owner)
{
    line("// Reads what the work needs; the work itself is done on another thread.");
    open("void " + wired_ + "::" + starter(h) + parameters(h) + "\n{");
    takeInput(h, owner);
    line(worker(h) + '(' + inputOf(h) + ");");
    close("}");
}

void WiringWriter::togetherWork(const Handler &h, const Group &owner)
{
    const QByteArray job = h.name.toUtf8() + "Job", run = locals_.of("run");
    line();
    open("void " + wired_ + "::" + worker(h) + inputType(h) + "\n{");
    line("auto *" + run + " = " + runs(h) + ".begin(" + job + ");");
    int at = lineNumber_;
    line("connect(" + run + ", &QFutureWatcherBase::finished, this, [this] { " + shower(h) + "(); });");
    note(at, owner, h.function(Part::Show), true);
    work(h, owner, run, runs(h) + ".pool()");
    close("}");
    line();
    const QByteArray outcome = locals_.of("outcome");
    line("// Those that are finished, in the order in which they were begun.");
    open("void " + wired_ + "::" + shower(h) + "()\n{");
    line("auto *" + run + " = " + runs(h) + ".takeFinished();");
    line("if (!" + run + ")");
    line("    return;");
    at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [this] { " + shower(h) + "(); }, Qt::QueuedConnection);");
    note(at, owner, h.function(Part::Show), true);
    line("const auto " + outcome + " = wiring::outcomeOf(" + run + "->future());");
    Connection ends = *owner.c;
    ends.signal = "finished";
    at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [&] { " + h.function(Part::Show).toUtf8() + '(' + outcome +
         "); });");
    note(at, Group{&ends, "QFutureWatcherBase", {jobName(h)}}, h.function(Part::Show));
    close("}");
}

// Cancelled they are all together.
void WiringWriter::togetherEnds(const Handler &h)
{
    const QByteArray job = h.name.toUtf8() + "Job";
    const Connection owner = ownerOf(h);
    const int at = lineNumber_;
    line("connect(" + job + ", &QFutureWatcherBase::canceled, this, [this] { " + runs(h) + ".cancel(); });");
    note(at, Group{&owner, "QFutureWatcherBase", {jobName(h)}}, jobName(h), true);
}

} // namespace pipit
