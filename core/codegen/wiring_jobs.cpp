// What runs in the background, and what begins once everything is connected.
#include "core/codegen/stubs.h"
#include "core/codegen/wiring_writer.h"

namespace pipit
{

QByteArray WiringWriter::capital(const Handler &h)
{
    return (h.name.left(1).toUpper() + h.name.mid(1)).toUtf8();
}

// Whether what it is triggered with waits, not what it read.
bool WiringWriter::waitsForItsTurn(const Handler &h)
{
    return h.again == "turn";
}

QByteArray WiringWriter::starter(const Handler &h) const
{
    return locals_.of("start" + capital(h));
}

QByteArray WiringWriter::worker(const Handler &h) const
{
    return locals_.of("workOn" + capital(h));
}

QByteArray WiringWriter::called(const Handler &h) const
{
    return h.shape == Shape::OneGo ? h.name.toUtf8() : starter(h);
}

QByteArray WiringWriter::queued(const Handler &h) const
{
    return locals_.of(h.name.toUtf8() + "Waiting_");
}

QByteArray WiringWriter::busy(const Handler &h) const
{
    return locals_.of(h.name.toUtf8() + "Busy_");
}

QByteArray WiringWriter::parameters(const Handler &h) const
{
    const HandlerFunction whole{Part::Whole, h.name};
    const QString text = Stubs(p_).declaration(h, whole);
    return text.mid(text.indexOf('(')).toUtf8();
}

QByteArray WiringWriter::argumentNames(const Handler &h) const
{
    QStringList names = Stubs(p_).argumentNames(h);
    if (!h.source.isEmpty())
        names.prepend("source");
    return names.join(", ").toUtf8();
}

// What a handler is triggered with, as values that can wait: "const QString &" becomes QString.
QByteArray WiringWriter::waitingType(const Handler &h)
{
    QStringList types;
    if (!h.source.isEmpty())
        types << "QPointer<" + h.source + '>';
    for (QString t : h.arguments)
        types << (t.endsWith('&') ? t.remove("const ").remove('&').trimmed() : t);
    return "std::tuple<" + types.join(", ").toUtf8() + '>';
}

// What the wired class declares for them.
QByteArray WiringWriter::jobMembers() const
{
    QByteArray functions, members;
    for (const Handler *h : background_) {
        functions +=
            "    void " + starter(*h) + parameters(*h) + ";\n    void " + worker(*h) + inputType(*h) + ";\n";
        if (h->isQueued() || h->isTogether())
            continue;
        members += "    bool " + busy(*h) + " = false; // until its result was shown\n";
        if (waitsForItsTurn(*h))
            members += "    QQueue<" + waitingType(*h) + "> " + queued(*h) + ";\n";
        else if (h->again != "ignore" && hasInput(*h))
            members += "    QQueue<" + h->input.toUtf8() + "> " + queued(*h) + ";\n";
        else if (h->again != "ignore")
            members += "    int " + queued(*h) + " = 0;\n";
    }
    return functions + sharedMembers().replace("@members@", members);
}

QByteArray WiringWriter::inputType(const Handler &h) const
{
    return hasInput(h) ? "(const " + h.input.toUtf8() + " &input)" : QByteArray("()");
}

QByteArray WiringWriter::inputOf(const Handler &h) const
{
    return !hasInput(h) ? QByteArray() : (h.declines ? "*" : "") + locals_.of("input");
}

void WiringWriter::takeInput(const Handler &h, const Group &owner)
{
    const QByteArray input = locals_.of("input"), goes = locals_.of("goes");
    const QByteArray take = h.function(Part::Take).toUtf8() + '(' + argumentNames(h) + ')';
    QByteArray into;
    if (hasInput(h)) {
        const QByteArray type = h.input.toUtf8();
        line((h.declines ? "std::optional<" + type + "> " + input : type + ' ' + input + "{}") + ';');
        into = input + " = ";
    } else if (h.declines) {
        line("bool " + goes + " = false;");
        into = goes + " = ";
    }
    const int at = lineNumber_;
    line("QMetaObject::invokeMethod(this, [&] { " + into + take + "; });");
    note(at, owner, h.function(Part::Take));
    if (h.declines) {
        line("if (!" + (hasInput(h) ? input : goes) + ")");
        line("    return;");
    }
}

void WiringWriter::jobStart(const Handler &h, const Group &owner)
{
    const QByteArray job = h.name.toUtf8() + "Job", value = inputOf(h);
    const auto waiting = [&](const QByteArray &what) {
        const bool restarts = h.again == "restart";
        open("if (" + busy(h) + ") {");
        if (restarts)
            line(job + "->cancel();");
        if (!hasInput(h) && !waitsForItsTurn(h))
            line(restarts ? queued(h) + " = 1;" : "++" + queued(h) + ';');
        else {
            if (restarts)
                line(queued(h) + ".clear();");
            line(queued(h) + ".enqueue(" + what + ");");
        }
        line("return;");
        close("}");
    };
    line("// Reads what the work needs; the work itself is done on another thread.");
    open("void " + wired_ + "::" + starter(h) + parameters(h) + "\n{");
    if (h.again == "ignore") {
        line("if (" + busy(h) + ")");
        line("    return;");
    }
    if (waitsForItsTurn(h))
        waiting('{' + argumentNames(h) + '}');
    takeInput(h, owner);
    if (h.again == "queue" || h.again == "restart")
        waiting(value);
    line(worker(h) + '(' + value + ");");
    close("}");
}

void WiringWriter::jobWork(const Handler &h, const Group &owner)
{
    line();
    open("void " + wired_ + "::" + worker(h) + inputType(h) + "\n{");
    if (!h.isQueued())
        line(busy(h) + " = true;");
    work(h, owner, h.name.toUtf8() + "Job", h.isQueued() ? queue(h) + ".pool()" : QByteArray());
    close("}");
}

void WiringWriter::work(const Handler &h, const Group &owner, const QByteArray &watcher,
                        const QByteArray &pool)
{
    const QByteArray promise = locals_.of("promise"), input = hasInput(h) ? "input" : "";
    open(watcher + "->setFuture(QtConcurrent::run(" + (pool.isEmpty() ? QByteArray() : pool + ", ") + '[' +
         input + "](QPromise<" + h.result.toUtf8() + "> &" + promise + ") {");
    line("QObject here; // on the worker's thread");
    const int at = lineNumber_;
    open("QMetaObject::invokeMethod(&here, [&] {");
    line("wiring::deliver(" + promise + ", [&] { return " + h.function(Part::Work).toUtf8() + '(' + promise +
         (input.isEmpty() ? QByteArray() : ", " + input) + "); });");
    close("});");
    note(at, owner, h.function(Part::Work));
    close("}));");
}

// What starts a job, runs it and shows what it came to.
void WiringWriter::jobs()
{
    for (const Handler *h : background_) {
        const Connection first = ownerOf(*h);
        const Group owner{&first, {}, {}};
        line();
        if (h->isTogether()) {
            togetherStart(*h, owner);
            togetherWork(*h, owner);
            continue;
        }
        h->isQueued() ? queuedStart(*h, owner) : jobStart(*h, owner);
        jobWork(*h, owner);
    }
}

void WiringWriter::jobEnds()
{
    for (const Handler *h : background_) {
        if (h->isTogether()) {
            togetherEnds(*h);
            continue;
        }
        Connection owner = ownerOf(*h);
        owner.signal = "finished";
        const QByteArray job = h->name.toUtf8() + "Job";
        const Group group{&owner, "QFutureWatcherBase", {jobName(*h)}};
        const QByteArray head = "connect(" + job + ", &QFutureWatcherBase::finished, this, [this] {";
        if (h->batches)
            jobBatches(*h, owner);
        line("// " + job + ": what the work came to.");
        const int at = lineNumber_;
        open("connect(" + job + ", &QFutureWatcherBase::finished, this, [this] {");
        line("const auto " + locals_.of("outcome") + " = wiring::" + (h->batches ? "lastOf" : "outcomeOf") +
             '(' + job + "->future());");
        const int next = lineNumber_;
        h->isQueued() ? queuedEnd(*h) : jobNext(*h);
        const int after = lineNumber_;
        line(h->function(Part::Show).toUtf8() + '(' + locals_.of("outcome") + ");");
        close("});");
        note(at, group, h->function(Part::Show));
        if (after > next) // what begins the next one is no call of this one
            lines_.append({next, after - 1, owner.id, h->id, jobName(*h), {}, owner.signal, true});
    }
}

void WiringWriter::jobBatches(const Handler &h, Connection owner)
{
    owner.signal = "resultsReadyAt";
    const QByteArray job = h.name.toUtf8() + "Job";
    line("// " + job + ": what it has come to so far.");
    const int at = lineNumber_;
    open("connect(" + job + ", &QFutureWatcherBase::resultsReadyAt, this, [this](int first, int last) {");
    line("for (int i = first; i < last; ++i)");
    line("    " + h.function(Part::Add).toUtf8() + '(' + job + "->resultAt(i));");
    close("});");
    note(at, Group{&owner, "QFutureWatcherBase", {jobName(h)}}, h.function(Part::Add));
}

// Before anything is shown, which may throw: what waits is not to be forgotten.
void WiringWriter::jobNext(const Handler &h)
{
    line(busy(h) + " = false;");
    if (h.again == "ignore")
        return;
    const bool counts = !hasInput(h) && !waitsForItsTurn(h);
    open("if (" + (counts ? queued(h) + " > 0" : '!' + queued(h) + ".isEmpty()") + ") {");
    if (counts) {
        line("--" + queued(h) + ';');
        line(worker(h) + "();");
    } else if (waitsForItsTurn(h)) {
        line(busy(h) + " = true; // nobody overtakes what waits");
        open("QMetaObject::invokeMethod(this, [this] {");
        line(busy(h) + " = false;");
        line("std::apply([this](const auto &...given) { " + starter(h) + "(given...); }, " + queued(h) +
             ".dequeue());");
        close("}, Qt::QueuedConnection);");
    } else {
        line(worker(h) + '(' + queued(h) + ".dequeue());");
    }
    close("}");
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
