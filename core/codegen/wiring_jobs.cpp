// What runs in the background, and what begins once everything is connected.
#include "core/codegen/wiring_writer.h"

namespace pipit
{

QByteArray WiringWriter::starter(const Handler &h) const
{
    return locals_.of("start" + (h.name.left(1).toUpper() + h.name.mid(1)).toUtf8());
}

QByteArray WiringWriter::queued(const Handler &h) const
{
    return locals_.of(h.name.toUtf8() + "Waiting_");
}

namespace
{

// The first connection that starts a job speaks for it.
const Connection *starting(const QList<const Connection *> &all, const QString &handler)
{
    for (const Connection *c : all)
        if (c->to == handler)
            return c;
    return nullptr;
}

} // namespace

// What starts a job, runs it and shows what it came to.
void WiringWriter::jobs()
{
    QList<const Connection *> all;
    for (const Group &g : std::as_const(signals_))
        all << g.c;
    for (const Handler *h : background_) {
        const QByteArray job = h->name.toUtf8() + "Job", result = h->result.toUtf8();
        const Connection *first = starting(all, h->name);
        Connection nobody;
        nobody.to = h->name;
        const Group owner{first ? first : &nobody, {}, {}};
        const QByteArray input = locals_.of("input"), promise = locals_.of("promise");
        line();
        line("// Reads what the work needs here, works on another thread, shows the outcome here.");
        open("void " + wired_ + "::" + starter(*h) + "()\n{");
        if (h->again == "ignore") {
            line("if (" + job + "->isRunning())");
            line("    return;");
        } else {
            open("if (" + job + "->isRunning()) {");
            if (h->again == "queue")
                line("++" + queued(*h) + ';');
            else
                line(job + "->cancel();");
            if (h->again == "restart")
                line(queued(*h) + " = 1;");
            line("return;");
            close("}");
        }
        line(h->input.toUtf8() + ' ' + input + "{};");
        int at = lineNumber_;
        line("QMetaObject::invokeMethod(this, [&] { " + input + " = " + h->function(Part::Take).toUtf8() +
             "(); });");
        note(at, owner, h->function(Part::Take));
        open(job + "->setFuture(QtConcurrent::run([" + input + "](QPromise<" + result + "> &" + promise +
             ") {");
        line("QObject here; // on the worker's thread");
        at = lineNumber_;
        open("QMetaObject::invokeMethod(&here, [&] {");
        line("wiring::deliver(" + promise + ", [&] { return " + h->function(Part::Work).toUtf8() + '(' +
             promise + ", " + input + "); });");
        close("});");
        note(at, owner, h->function(Part::Work));
        close("}));");
        close("}");
    }
}

void WiringWriter::jobEnds()
{
    QList<const Connection *> all;
    for (const Group &g : std::as_const(signals_))
        all << g.c;
    for (const Handler *h : background_) {
        const Connection *first = starting(all, h->name);
        Connection owner = first ? *first : Connection{};
        owner.to = h->name;
        owner.signal = "finished";
        const QByteArray job = h->name.toUtf8() + "Job";
        const Group group{&owner, "QFutureWatcherBase", {jobName(*h)}};
        const QByteArray head = "connect(" + job + ", &QFutureWatcherBase::finished, this, [this] {";
        line("// " + job + ": what the work came to.");
        int at = lineNumber_;
        open(head);
        line(h->function(Part::Show).toUtf8() + "(wiring::outcomeOf(" + job + "->future()));");
        close("});");
        note(at, group, h->function(Part::Show));
        if (h->again == "ignore")
            continue;
        at = lineNumber_;
        open(head);
        open("if (" + queued(*h) + " > 0) {");
        line("--" + queued(*h) + ';');
        line(starter(*h) + "();");
        close("}");
        close("});");
        note(at, group, h->function(Part::Take), true);
    }
}

namespace
{

bool isSet(const ObjectNode &o, const char *property, bool byDefault)
{
    const Json *v = o.property(QLatin1String(property));
    return v ? v->toBool() : byDefault;
}

} // namespace

// What begins once everything is connected.
void WiringWriter::starts()
{
    const std::function<void(const WidgetNode &)> drags = [&](const WidgetNode &n) {
        if (const QString mime = n.textOf("dragType"); !mime.isEmpty()) {
            const QString carried = n.textOf("dragText");
            line("new wiring::DragSource(" + reach_.code(n.name, {}, index_) + ", " + stringCode(mime) +
                 ", \"" + (isIdentifier(carried) ? carried.toUtf8() : QByteArray("text")) + "\");");
        }
        for (const WidgetNode &child : n.children)
            drags(child);
    };
    drags(w_.root);
    for (const ObjectNode &o : w_.objects) {
        const QByteArray n = o.name.toUtf8(), thread = n + "Thread_";
        if (!o.thread)
            continue;
        line(thread + ".setObjectName(" + literal(o.name + "Thread") + ");");
        line(n + "->moveToThread(&" + thread + ");");
        line("connect(&" + thread + ", &QThread::finished, " + n + ", &QObject::deleteLater);");
        line(thread + ".start();");
    }
    for (const TimerNode &t : w_.timers)
        if (t.autostart)
            line(t.name.toUtf8() + "->start();");
    for (const ObjectNode &o : w_.objects) {
        const QByteArray n = o.name.toUtf8(), server = stringCode(o.textOf("server"));
        if (o.knownClass() == "QProcess") {
            const Connection none;
            const int at = lineNumber_;
            line("connect(" + n + ", &QProcess::errorOccurred, this, [this] { wiring::tellFailure(" + n +
                 "); });");
            note(at, Group{&none, {}, {}}, o.name, true);
            if (isSet(o, "autostart", false))
                line(n + "->start();");
        }
        if (o.textOf("server").isEmpty() || !isSet(o, "autostart", true))
            continue;
        if (o.knownClass() == "QLocalSocket")
            line(n + "->connectToServer(" + server + ");");
        if (o.knownClass() == "QLocalServer") {
            line("QLocalServer::removeServer(" + server + ");");
            line(n + "->listen(" + server + ");");
        }
    }
}

} // namespace pipit
