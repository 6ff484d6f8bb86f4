#include "core/codegen/wiring.h"

#include "core/codegen/condition_code.h"
#include "core/codegen/window_code.h"
#include "core/codegen/wiring_writer.h"

namespace pipit
{

WiringWriter::WiringWriter(const Reach &reach, int window, const ProjectPlace &place)
    : reach_(reach), p_(reach.project()), w_(p_.windows[window]), index_(window), file_(place.file),
      wired_(w_.className.toUtf8() + "Wired")
{
    for (const Handler &h : p_.handlers)
        if (h.shape == Shape::Background && p_.windowOfHandler(h) == window)
            background_ << &h;
}

Problem WiringWriter::at(const Connection &c, const QString &what, const QString &remedy) const
{
    return {QStringLiteral("Connection %1 (%2 · %3): %4").arg(c.id, c.subject(), c.what(), what), file_,
            remedy, c.kept.line};
}

void WiringWriter::line(const QByteArray &text)
{
    out_ += text + '\n';
    lineNumber_ += int(text.count('\n')) + 1;
}

void WiringWriter::note(const One &one, const QString &name)
{
    const Handler *h = one.c->targetKind == Connection::Target::Handler ? reach_.handler(one.c->to) : nullptr;
    lines_.append({lineNumber_, one.c->id, h ? h->id : QString(), name, one.source, one.c->what()});
}

// Which connections stand in this window's wiring.
Outcome WiringWriter::collect()
{
    for (const Connection &c : p_.connections) {
        auto sources = reach_.sources(c);
        if (!sources)
            return at(c, sources.problem());
        int number = 0;
        for (const QString &s : *sources) {
            if (!reach_.find(s)) {
                const QString near = nearestName(s, reach_.names());
                return at(c, QStringLiteral("there is no widget or timer '%1'").arg(s),
                          near.isEmpty() ? "Name one of the window's widgets" : "Nearest: " + near);
            }
            if (!Reach::hasPart(reach_.classOf(s), c.part))
                return at(c, QStringLiteral("%1 has no part '%2'").arg(s, c.part),
                          "Use viewport for scrolling views, selection for lists, a button for a button box");
            const int home = reach_.home(c, s);
            if (home < 0)
                return at(c, QStringLiteral("%1 belongs to another window than %2").arg(c.to, s),
                          "Connect it to a handler of its own window, or of the first");
            if (home != index_)
                continue;
            (c.sourceKind == Connection::Source::Signal ? signals_ : events_).append({&c, s, number++});
            scoped_ = scoped_ || c.scope != Connection::Scope::Widget;
        }
    }
    return Done{};
}

namespace
{

QByteArray parameterList(const QStringList &types)
{
    QByteArrayList list;
    for (qsizetype i = 0; i < types.size(); ++i)
        list << types[i].toUtf8() + (types[i].endsWith('*') || types[i].endsWith('&') ? "" : " ") + 'a' +
                    QByteArray::number(i);
    return list.join(", ");
}

QByteArray argumentNames(qsizetype count, const QByteArray &before)
{
    QByteArray out;
    for (qsizetype i = 0; i < count; ++i)
        out += (i ? ", " : before) + 'a' + QByteArray::number(i);
    return out;
}

} // namespace

Problem WiringWriter::misfit(const One &one, const Handler &h, const SignalEntry &signal,
                             const Fit &fit) const
{
    const QStringList given = signal.types();
    if (fit.misfit == Misfit::Kind)
        return {QStringLiteral("%1 is an event handler; a signal needs a signal handler").arg(h.name),
                {},
                "Connect it to another handler"};
    if (fit.misfit == Misfit::Source)
        return {QStringLiteral("%1 wants a %2 as its source, but %3 is a %4")
                    .arg(h.name, h.source, one.source, reach_.classOf(one.source, one.c->part)),
                {},
                "Connect it to another handler"};
    if (h.arguments.size() > given.size())
        return {QStringLiteral("%1 takes %2 arguments, but %3 gives %4")
                    .arg(h.name)
                    .arg(h.arguments.size())
                    .arg(signal.name())
                    .arg(given.size()),
                {},
                "Choose another signal, or give the handler fewer arguments"};
    return {QStringLiteral("%1 takes (%2), but %3 gives (%4)")
                .arg(h.name, h.arguments.join(", "), signal.name(), given.join(", ")),
            {},
            fit.how
                ? QStringLiteral("Say how: as %1%2").arg(fit.how->words, fit.how->mayFail ? " else skip" : "")
                : QStringLiteral("Choose another signal or handler")};
}

Result<WiringWriter::Call> WiringWriter::handlerCall(const One &one, const SignalEntry &signal)
{
    const Connection &c = *one.c;
    const Handler *h = reach_.handler(c.to);
    if (!h) {
        const QString near = nearestName(c.to, reach_.handlerNames());
        return at(c, QStringLiteral("there is no handler '%1'").arg(c.to),
                  near.isEmpty() ? "Connect it to a handler of the project" : "Connect it to " + near);
    }
    const Fit fit = fitOf(*h, signal, reach_, one.source, c.part, c.convert);
    if (fit.misfit != Misfit::None)
        return at(c, misfit(one, *h, signal, fit));
    if (h->shape == Shape::Background)
        return Call{"start_" + h->name.toUtf8() + "();", {}, {}};
    const QStringList given = signal.types();
    const QByteArray source = h->source.isEmpty() ? QByteArray() : reach_.code(one.source, c.part, index_);
    const qsizetype n = h->arguments.size();
    Call call{{}, parameterList(given.mid(0, n)), argumentNames(n, ", ")};
    if (!fit.how) {
        call.body = h->name.toUtf8() + '(' + source + argumentNames(n, source.isEmpty() ? "" : ", ") + ");";
        return call;
    }
    const Conversion *how = fit.how;
    const ConvertChoice choice = convertChoice(c.convert);
    const QByteArray value = how->code.arg("a0").toUtf8(), comma = source.isEmpty() ? "" : ", ";
    if (!how->mayFail) {
        call.body = h->name.toUtf8() + '(' + source + comma + value + ");";
        return call;
    }
    QByteArray type = h->arguments[0].toUtf8().replace("const ", "").replace(" &", "");
    call.body = "bool ok = false; " + type + " v = " + value + "; ";
    if (choice.otherwise == "skip") {
        call.body += "if (ok) ";
    } else {
        bool number = false;
        choice.otherwise.toDouble(&number);
        if (!number || type == "QDate")
            return at(c, QStringLiteral("'else %1' is no value for %2").arg(choice.otherwise, c.to),
                      "Write else skip, or else and a number");
        call.body += "if (!ok) v = " + choice.otherwise.toUtf8() + "; ";
    }
    call.body += h->name.toUtf8() + '(' + source + comma + "v);";
    return call;
}

Result<WiringWriter::Call> WiringWriter::memberCall(const One &one, const SignalEntry &signal)
{
    const Connection &c = *one.c;
    const QString cls = reach_.classOf(c.to);
    if (cls.isEmpty()) {
        const QString near = nearestName(c.to, reach_.names());
        return at(c, QStringLiteral("there is no widget '%1'").arg(c.to),
                  near.isEmpty() ? "Name one of the window's widgets" : "Nearest: " + near);
    }
    const Catalog &catalog = Catalog::get();
    const bool toSignal = c.targetKind == Connection::Target::Signal;
    const QStringList given = signal.types();
    for (const SignalEntry &m : toSignal ? catalog.signalsOf(cls) : catalog.slotsOf(cls)) {
        if (m.name() != c.toMember && m.signature != c.toMember)
            continue;
        const QStringList wanted = m.types();
        const QByteArray call = QByteArray(toSignal ? "Q_EMIT " : "") + reach_.code(c.to, {}, index_) + "->" +
                                m.name().toUtf8() + '(';
        if (wanted.size() <= given.size() && given.mid(0, wanted.size()) == wanted)
            return Call{call + argumentNames(wanted.size(), "") + ");", parameterList(wanted),
                        argumentNames(wanted.size(), ", ")};
        const Conversion *how =
            wanted.size() == 1 && !given.isEmpty() ? conversionFor(given[0], wanted[0]) : nullptr;
        if (how && !how->mayFail && convertChoice(c.convert).words == how->words)
            return Call{call + how->code.arg("a0").toUtf8() + ");", parameterList({given[0]}), ", a0"};
    }
    return at(c, QStringLiteral("%1 has no fitting '%2'").arg(c.to, c.toMember),
              "Choose a slot that takes what the signal gives");
}

void WiringWriter::opening(const One &one, Call &call)
{
    const QByteArray window = one.c->to.toUtf8();
    const bool dialog = Catalog::get().inherits(reach_.classOf(one.c->to), "QDialog");
    call.body = dialog ? window + "->open();"
                       : window + "->show(); " + window + "->raise(); " + window + "->activateWindow();";
}

Result<WiringWriter::Call> WiringWriter::callFor(const One &one, const SignalEntry &signal)
{
    if (one.c->targetKind == Connection::Target::Handler)
        return handlerCall(one, signal);
    if (one.c->targetKind != Connection::Target::Open)
        return memberCall(one, signal);
    const Project::Named *n = reach_.find(one.c->to);
    if (!n || n->window == 0 || p_.windows[n->window].root.name != one.c->to)
        return at(*one.c, QStringLiteral("there is no other window '%1'").arg(one.c->to),
                  "Name a dialog or window of the project, other than the first");
    Call call;
    opening(one, call);
    return call;
}

void WiringWriter::paced(const One &one, const Call &call, const QByteArray &condition, QByteArray *body,
                         QByteArray *capture)
{
    const Connection &c = *one.c;
    const QByteArray id = c.id.toUtf8() + (one.number ? '_' + QByteArray::number(one.number) : QByteArray());
    const QByteArray t = "pacing_" + id, latest = "latest_" + id;
    const bool pause = c.pacing.kind == PacingKind::AfterPause;
    line("        auto *" + t + " = wiring::pause(links_, " + QByteArray::number(c.pacing.ms) + ");");
    line("        auto " + latest + " = std::make_shared<std::function<void()>>();");
    *capture += ", " + t + ", latest = " + latest;
    note(one, c.target());
    line("        connect(" + t + ", &QTimer::timeout, links_, [latest = " + latest +
         "] { if (*latest) (*latest)(); });");
    // Arguments are kept by value until the pause is over.
    *body = (condition == "true" ? QByteArray() : "if (" + condition + ") { ") + "*latest = [this" +
            call.result + "] { " + call.body + " }; " +
            (pause ? t + "->start();" : "if (!" + t + "->isActive()) " + t + "->start();") +
            (condition == "true" ? "" : " }");
}

Outcome WiringWriter::signalConnection(const One &one)
{
    const Connection &c = *one.c;
    auto signal = reach_.signal(one.source, c.part, c.signal);
    if (!signal)
        return at(c, signal.problem());
    auto call = callFor(one, *signal);
    if (!call)
        return call.problem();
    auto condition = conditionCode(c.when, {}, one.source, reach_, index_, {});
    if (!condition)
        return at(c, condition.problem());
    const QByteArray type = reach_.typeOf(one.source, c.part);
    QByteArray pointer = '&' + type + "::" + signal->name().toUtf8();
    if (Catalog::get().signalsNamed(reach_.classOf(one.source, c.part), signal->name()).size() > 1) {
        QByteArrayList bare;
        for (const QString &t : signal->types())
            bare << t.toUtf8();
        pointer = "qOverload<" + bare.join(", ") + ">(" + pointer + ')';
    }
    line("    if (on(\"" + c.id.toUtf8() + "\")) {");
    QByteArray capture = "this", body = call->body;
    if (c.pacing.kind == PacingKind::AfterPause || c.pacing.kind == PacingKind::AtMostEvery) {
        paced(one, *call, *condition, &body, &capture);
    } else {
        const Handler *h = c.targetKind == Connection::Target::Handler ? reach_.handler(c.to) : nullptr;
        note(one, h && h->shape == Shape::Background         ? h->function(Part::Take)
                  : c.targetKind == Connection::Target::Open ? "open " + c.to
                                                             : c.target());
        if (*condition != "true")
            body = "if (" + *condition + ") { " + body + " }";
    }
    line("        connect(" + reach_.code(one.source, c.part, index_) + ", " + pointer + ", links_, [" +
         capture + ']' + (call->parameters.isEmpty() ? QByteArray() : '(' + call->parameters + ')') + " { " +
         body + " }" + (c.pacing.kind == PacingKind::NextTurn ? ", Qt::QueuedConnection" : "") + ");");
    line("    }");
    return Done{};
}

// What starts a job, runs it and shows what it came to; each call on a line of its own.
void WiringWriter::jobs()
{
    for (const Handler *h : background_) {
        const QByteArray n = h->name.toUtf8(), job = n + "Job", result = h->result.toUtf8();
        Connection nobody;
        nobody.to = h->name;
        One owner{&nobody, {}, 0}; // the first connection that starts it
        for (const One &one : signals_)
            if (one.c->to == h->name && owner.source.isEmpty())
                owner = one;
        line("void " + wired_ + "::start_" + n + "()\n{");
        line("    if (" + job + "->isRunning()) {");
        if (h->again == "queue")
            line("        ++queued_" + n + ";\n        return;");
        else if (h->again == "restart")
            line("        " + job + "->cancel();\n        queued_" + n + " = 1;\n        return;");
        else
            line("        return;");
        line("    }");
        line("    const " + h->input.toUtf8() + " input = " + h->function(Part::Take).toUtf8() + "();");
        line("    " + job + "->setFuture(QtConcurrent::run([input](QPromise<" + result + "> &promise) {");
        line("        QObject here;");
        note(owner, h->function(Part::Work));
        line("        QMetaObject::invokeMethod(&here, [&] { wiring::deliver(promise, [&] { return " +
             h->function(Part::Work).toUtf8() + "(promise, input); }); }, Qt::DirectConnection);");
        line("    }));\n}\n");
    }
}

void WiringWriter::jobEnds()
{
    for (const Handler *h : background_) {
        Connection owner;
        for (const One &one : signals_)
            if (one.c->to == h->name && owner.id.isEmpty())
                owner = *one.c;
        owner.to = h->name;
        owner.signal = "finished";
        const QByteArray n = h->name.toUtf8();
        note({&owner, jobName(*h), 0}, h->function(Part::Show));
        line("    connect(" + n + "Job, &QFutureWatcherBase::finished, links_, [this] { " +
             h->function(Part::Show).toUtf8() + "(wiring::outcomeOf(" + n + "Job->future())); });");
        if (h->again != "ignore")
            line("    connect(" + n + "Job, &QFutureWatcherBase::finished, links_, [this] { if (queued_" + n +
                 " > 0) { --queued_" + n + "; start_" + n + "(); } });");
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

// What begins once everything is wired.
void WiringWriter::starts()
{
    const std::function<void(const WidgetNode &)> drags = [&](const WidgetNode &n) {
        if (const QString mime = n.textOf("dragType"); !mime.isEmpty()) {
            const QString carried = n.textOf("dragText");
            line("    new wiring::DragSource(" + reach_.code(n.name, {}, index_) + ", " + textLiteral(mime) +
                 ", \"" + (isIdentifier(carried) ? carried.toUtf8() : QByteArray("text")) + "\");");
        }
        for (const WidgetNode &child : n.children)
            drags(child);
    };
    drags(w_.root);
    for (const TimerNode &t : w_.timers)
        if (t.autostart)
            line("    " + t.name.toUtf8() + "->start();");
    for (const ObjectNode &o : w_.objects) {
        const QByteArray n = o.name.toUtf8(), server = textLiteral(o.textOf("server"));
        if (o.className == "QProcess" && isSet(o, "autostart", false))
            line("    " + n + "->start();");
        if (o.textOf("server").isEmpty() || !isSet(o, "autostart", true))
            continue;
        if (o.className == "QLocalSocket")
            line("    " + n + "->connectToServer(" + server + ");");
        if (o.className == "QLocalServer")
            line("    QLocalServer::removeServer(" + server + ");\n    " + n + "->listen(" + server + ");");
    }
}

QByteArray WiringWriter::header() const
{
    const QByteArray cls = w_.className.toUtf8();
    QByteArray text =
        "// Made by Pipit; edits here are overwritten.\n#pragma once\n\n#include \"" + w_.file.toUtf8() +
        ".h\"\n\n#include <QtCore/QPointer>\n#include <QtCore/QSet>\n\nclass " + wired_ + " final : public " +
        cls + "\n{\npublic:\n    explicit " + wired_ + "(QWidget *parent = nullptr);\n    ~" + wired_ +
        "() override;\n\nprivate:\n" +
        "    class Filter;\n    bool on(const char *connection) const { return off_.isEmpty() || "
        "!off_.contains(connection); }\n    void wire();\n    void connectAll();\n    void unwire();\n";
    for (const Handler *h : background_) {
        text += "    void start_" + h->name.toUtf8() + "();\n";
        if (h->again != "ignore")
            text += "    int queued_" + h->name.toUtf8() + " = 0;\n";
    }
    return text +
           "    QObject *links_ = nullptr;\n    QSet<QByteArray> off_; // connections switched off\n};\n";
}

void WiringWriter::construction()
{
    const QByteArray cls = w_.className.toUtf8();
    line(wired_ + "::" + wired_ + "(QWidget *parent) : " + cls + "(parent)\n{");
    if (index_ == 0)
        for (qsizetype i = 1; i < p_.windows.size(); ++i) {
            const QByteArray n = p_.windows[i].root.name.toUtf8();
            line("    " + n + " = new " + p_.windows[i].className.toUtf8() + "Wired(this);");
            line("    " + n + "->setWindowFlag(" +
                 (Catalog::get().inherits(p_.windows[i].root.className, "QDialog") ? "Qt::Dialog"
                                                                                   : "Qt::Window") +
                 ");");
        }
    line("    wire();\n}\n");
    line(wired_ + "::~" + wired_ + "()\n{\n    unwire();\n}\n");
    line("void " + wired_ + "::wire()\n{");
    for (const Connection &c : p_.connections)
        if (!c.enabled)
            line("    off_.insert(\"" + c.id.toUtf8() + "\");");
    line("    connectAll();\n    new wiring::Switches(this, [this](const QSet<QByteArray> &off) {\n"
         "        off_ = off;\n        delete links_;\n        connectAll();\n    });");
    starts();
    line("}\n");
}

Result<WiringText> WiringWriter::write()
{
    if (auto ok = collect(); !ok)
        return ok.problem();
    WiringText text;
    text.header = header();
    line("// Made by Pipit; edits here are overwritten.");
    line("#include \"" + w_.file.toUtf8() + "_wiring.h\"\n");
    if (index_ == 0)
        for (qsizetype i = 1; i < p_.windows.size(); ++i)
            line("#include \"" + p_.windows[i].file.toUtf8() + "_wiring.h\"");
    line("#include <QtCore/QCoreApplication>\n#include <QtCore/QEvent>\n#include <QtCore/QMimeData>\n"
         "#include <QtGui/QEnterEvent>\n#include <QtGui/QWindow>\n\n#include <functional>\n");
    if (!events_.isEmpty())
        if (auto ok = eventFilter(); !ok)
            return ok.problem();
    construction();
    jobs();
    line("void " + wired_ + "::connectAll()\n{");
    line("    links_ = new QObject;\n    links_->setObjectName(QStringLiteral(\"wiring\"));");
    for (const One &one : std::as_const(signals_))
        if (auto ok = signalConnection(one); !ok)
            return ok.problem();
    jobEnds();
    if (!events_.isEmpty())
        installFilter();
    line("}\n");
    line("void " + wired_ + "::unwire()\n{");
    for (const Handler *h : background_)
        line("    " + h->name.toUtf8() + "Job->cancel();");
    for (const ObjectNode &o : w_.objects)
        if (o.className == "QProcess")
            line("    " + o.name.toUtf8() + "->terminate();\n    " + o.name.toUtf8() +
                 "->waitForFinished(500);");
    line("    delete links_; // and with it every connection and filter");
    line("    links_ = nullptr;");
    for (const Handler *h : background_)
        line("    wiring::join(" + h->name.toUtf8() + "Job);");
    line("}");
    text.source = out_;
    text.lines = lines_;
    return text;
}

Result<WiringText> wiringFor(const Reach &reach, int window, const ProjectPlace &place)
{
    return WiringWriter(reach, window, place).write();
}

} // namespace pipit
