#include "core/codegen/wiring.h"

#include "core/catalog/catalog.h"

#include <QFileInfo>
#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

class WiringWriter
{
public:
    WiringWriter(const Project &p, const ProjectPlace &place)
        : p_(p), w_(p.windows.first()), file_(place.file)
    {
    }

    Result<WiringText> write();

private:
    Problem at(const Connection &c, const QString &what, const QString &remedy) const
    {
        return {QStringLiteral("Connection %1 (%2 · %3): %4").arg(c.id, c.subject(), c.what(), what), file_,
                remedy, c.kept.line};
    }
    void line(const QByteArray &text) { out_ += text + '\n'; }
    // The line about to be written belongs to this connection.
    void note(const Connection &c, const QString &name)
    {
        const Handler *h = c.targetKind == Connection::Target::Handler ? p_.handler(c.to) : nullptr;
        lines_.append({int(out_.count('\n')) + 1, c.id, h ? h->id : QString(), name, c.from, c.what()});
    }
    Outcome signalConnection(const Connection &c);
    Outcome eventFilters();
    Result<QByteArray> callFor(const Connection &c, const SignalEntry &signal, QByteArray *parameters);
    void jobs();
    void timers();

    const Project &p_;
    const WindowNode &w_;
    QString file_;
    QByteArray out_;
    QList<WiringLine> lines_;
};

// What the connection does, as a statement, and the parameters its lambda takes.
Result<QByteArray> WiringWriter::callFor(const Connection &c, const SignalEntry &signal,
                                         QByteArray *parameters)
{
    const auto parameter = [&](const QStringList &types) {
        QByteArrayList list, names;
        for (qsizetype i = 0; i < types.size(); ++i) {
            names << 'a' + QByteArray::number(i);
            list << types[i].toUtf8() + (types[i].endsWith('*') || types[i].endsWith('&') ? "" : " ") +
                        names.last();
        }
        *parameters = list.join(", ");
        return names.join(", ");
    };
    if (c.targetKind == Connection::Target::Handler) {
        const Handler *h = p_.handler(c.to);
        if (!h) {
            QStringList names;
            for (const Handler &each : p_.handlers)
                names << each.name;
            const QString near = nearestName(c.to, names);
            return at(c, QStringLiteral("there is no handler '%1'").arg(c.to),
                      near.isEmpty() ? "Connect it to a handler of the project" : "Connect it to " + near);
        }
        if (h->kind != HandlerKind::Signal)
            return at(c, QStringLiteral("%1 is an event handler; a signal needs a signal handler").arg(c.to),
                      "Connect it to another handler");
        if (h->shape == Shape::Background)
            return "start_" + h->name.toUtf8() + "();";
        if (h->arguments.size() > signal.types().size())
            return at(c,
                      QStringLiteral("%1 takes %2 arguments, but %3 gives %4")
                          .arg(c.to)
                          .arg(h->arguments.size())
                          .arg(signal.name())
                          .arg(signal.types().size()),
                      "Choose another signal, or give the handler fewer arguments");
        QByteArray names = parameter(h->arguments);
        if (h->takesSource)
            names = c.from.toUtf8() + (names.isEmpty() ? "" : ", ") + names;
        return h->name.toUtf8() + '(' + names + ");";
    }
    const QString cls = p_.classOf(c.to);
    const Catalog &catalog = Catalog::get();
    const auto members =
        c.targetKind == Connection::Target::Slot ? catalog.slotsOf(cls) : catalog.signalsOf(cls);
    for (const SignalEntry &m : members) {
        if (m.name() != c.toMember && m.signature != c.toMember)
            continue;
        const QStringList given = signal.types(), wanted = m.types();
        if (wanted.size() > given.size() || given.mid(0, wanted.size()) != wanted)
            continue;
        const QByteArray names = parameter(wanted);
        return QByteArray(c.targetKind == Connection::Target::Signal ? "Q_EMIT " : "") + c.to.toUtf8() +
               "->" + m.name().toUtf8() + '(' + names + ");";
    }
    return at(c, QStringLiteral("%1 has no fitting '%2'").arg(c.to, c.toMember),
              "Choose a slot that takes what the signal gives");
}

Outcome WiringWriter::signalConnection(const Connection &c)
{
    const QString cls = p_.classOf(c.from);
    const auto found = Catalog::get().signalsNamed(cls, c.signal);
    if (found.isEmpty()) {
        QStringList names;
        for (const SignalEntry &s : Catalog::get().signalsOf(cls))
            names << s.name();
        const QString near = nearestName(c.signal, names);
        return at(c, QStringLiteral("%1 has no signal '%2'").arg(cls, c.signal),
                  near.isEmpty() ? "Choose a signal of " + cls : "Nearest: " + near);
    }
    const SignalEntry &signal = found.first();
    QByteArray parameters;
    auto call = callFor(c, signal, &parameters);
    if (!call)
        return call.problem();
    QByteArrayList bare;
    for (const QString &t : signal.types())
        bare << t.toUtf8();
    QByteArray pointer = '&' + cls.toUtf8() + "::" + signal.name().toUtf8();
    if (Catalog::get().signalsNamed(cls, signal.name()).size() > 1)
        pointer = "qOverload<" + bare.join(", ") + ">(" + pointer + ')';
    const QByteArray from = c.from.toUtf8();
    const QByteArray type = c.pacing.kind == PacingKind::NextTurn ? ", Qt::QueuedConnection" : "";
    QByteArray body = *call, capture = "this";
    if (c.pacing.kind == PacingKind::AfterPause || c.pacing.kind == PacingKind::AtMostEvery) {
        const QByteArray t = "pacing_" + c.id.toUtf8();
        const bool pause = c.pacing.kind == PacingKind::AfterPause;
        line("    auto *" + t + " = wiring::pause(links_, " + QByteArray::number(c.pacing.ms) + ");");
        line("    auto latest_" + c.id.toUtf8() + " = std::make_shared<std::function<void()>>();");
        capture += ", " + t + ", latest = latest_" + c.id.toUtf8();
        note(c, c.target());
        line("    connect(" + t + ", &QTimer::timeout, links_, [latest = latest_" + c.id.toUtf8() +
             "] { if (*latest) (*latest)(); });");
        QByteArray kept; // arguments are kept by value until the pause is over
        for (qsizetype i = 0; i < parameters.count(',') + (parameters.isEmpty() ? 0 : 1); ++i)
            kept += ", a" + QByteArray::number(i);
        body = "*latest = [this" + kept + "] { " + *call + " }; " +
               (pause ? t + "->start();" : "if (!" + t + "->isActive()) " + t + "->start();");
    } else {
        note(c,
             p_.handler(c.to) && p_.handler(c.to)->shape == Shape::Background ? c.to + "Take" : c.target());
    }
    line("    connect(" + from + ", " + pointer + ", links_, [" + capture + "]" +
         (parameters.isEmpty() ? QByteArray() : '(' + parameters + ')') + " { " + body + " }" + type + ");");
    return Done{};
}

Outcome WiringWriter::eventFilters()
{
    line("class " + w_.className.toUtf8() + "Wired::Filter : public QObject\n{\npublic:");
    line("    explicit Filter(" + w_.className.toUtf8() + "Wired *window) : w(window) {}\n");
    line("    bool eventFilter(QObject *watched, QEvent *event) override\n    {");
    for (const Connection &c : p_.connections) {
        if (c.sourceKind != Connection::Source::Event || !c.enabled)
            continue;
        const EventEntry *e = Catalog::get().event(c.event);
        const Handler *h = p_.handler(c.to);
        if (!e)
            return at(c, QStringLiteral("the event '%1' is not known").arg(c.event),
                      "Use for example 'key press'");
        if (!h || c.targetKind != Connection::Target::Handler)
            return at(c, QStringLiteral("there is no handler '%1'").arg(c.to), "Connect it to a handler");
        if (h->kind != HandlerKind::Event || h->arguments.size() != 2)
            return at(c, QStringLiteral("%1 is no event handler").arg(c.to),
                      "Connect it to an event handler");
        const QString wanted = h->arguments[0].chopped(2), source = p_.classOf(c.from);
        if (h->arguments[1] != e->cppClass + " *" || !Catalog::get().inherits(source, wanted))
            return at(c,
                      QStringLiteral("%1 takes (%2), which does not fit a %3 of %4")
                          .arg(c.to, h->arguments.join(", "), c.event, source),
                      "Connect it to another handler");
        auto condition = conditionCode(c.when, e->cppClass);
        if (!condition)
            return at(c, condition.problem().what, condition.problem().remedy);
        const QByteArray from = c.from == w_.root.name ? QByteArray("w") : "w->" + c.from.toUtf8();
        const bool viewport = e->onViewport && Catalog::get().inherits(source, "QAbstractScrollArea");
        line("        if (watched == " + from + (viewport ? "->viewport()" : "") +
             " && event->type() == " + e->type.toUtf8() + ") {");
        line("            auto *e = static_cast<" + e->cppClass.toUtf8() + " *>(event);");
        line("            bool handled = false;\n            if (" + *condition + ')');
        note(c, c.to);
        line("                QMetaObject::invokeMethod(this, [&] { handled = w->" + h->name.toUtf8() + '(' +
             from + ", e); return handled; }, Qt::DirectConnection);");
        line("            if (handled)\n                return true;\n        }");
    }
    line("        return QObject::eventFilter(watched, event);\n    }\n");
    line("private:\n    " + w_.className.toUtf8() + "Wired *w;\n};\n");
    return Done{};
}

// What starts a job, runs it and shows what it came to; each call on a line of its own.
void WiringWriter::jobs()
{
    for (const Handler &h : p_.handlers) {
        if (h.shape != Shape::Background)
            continue;
        const QByteArray n = h.name.toUtf8(), job = n + "Job", result = h.result.toUtf8();
        Connection owner; // the first connection that starts it
        for (const Connection &c : p_.connections)
            if (c.to == h.name && owner.id.isEmpty())
                owner = c;
        owner.to = h.name;
        line("void " + w_.className.toUtf8() + "Wired::start_" + n + "()\n{");
        line("    if (" + job + "->isRunning()) {");
        if (h.again == "queue")
            line("        ++queued_" + n + ";\n        return;");
        else if (h.again == "restart")
            line("        " + job + "->cancel();\n        queued_" + n + " = 1;\n        return;");
        else
            line("        return;");
        line("    }");
        line("    const " + h.input.toUtf8() + " input = " + n + "Take();");
        line("    " + job + "->setFuture(QtConcurrent::run([input](QPromise<" + result + "> &promise) {");
        line("        QObject here;");
        note(owner, h.name + "Work");
        line("        QMetaObject::invokeMethod(&here, [&] { wiring::deliver(promise, [&] { return " + n +
             "Work(promise, input); }); }, Qt::DirectConnection);");
        line("    }));\n}\n");
    }
}

void WiringWriter::timers()
{
    for (const Handler &h : p_.handlers) {
        if (h.shape != Shape::Background)
            continue;
        Connection owner;
        for (const Connection &c : p_.connections)
            if (c.to == h.name && owner.id.isEmpty())
                owner = c;
        owner.to = h.name;
        owner.from = h.name + "Job";
        owner.signal = "finished";
        const QByteArray n = h.name.toUtf8();
        note(owner, h.name + "Show");
        line("    connect(" + n + "Job, &QFutureWatcherBase::finished, links_, [this] { " + n +
             "Show(wiring::outcomeOf(" + n + "Job->future())); });");
        if (h.again != "ignore")
            line("    connect(" + n + "Job, &QFutureWatcherBase::finished, links_, [this] { if (queued_" + n +
                 " > 0) { --queued_" + n + "; start_" + n + "(); } });");
    }
    for (const TimerNode &t : w_.timers)
        if (t.autostart)
            line("    " + t.name.toUtf8() + "->start();");
}

Result<WiringText> WiringWriter::write()
{
    const QByteArray cls = w_.className.toUtf8(), wired = cls + "Wired", file = w_.file.toUtf8();
    const QStringList names = p_.objectNames();
    QSet<QString> watched;
    for (const Connection &c : p_.connections) {
        if (!names.contains(c.from)) {
            const QString near = nearestName(c.from, names);
            return at(c, QStringLiteral("there is no widget or timer '%1'").arg(c.from),
                      near.isEmpty() ? "Name one of the window's widgets" : "Nearest: " + near);
        }
        if (c.sourceKind == Connection::Source::Event && c.enabled)
            watched.insert(c.from);
    }
    WiringText text;
    text.header = "// Made by Pipit; edits here are overwritten.\n#pragma once\n\n#include \"" + file +
                  ".h\"\n\n#include <QtCore/QPointer>\n\nclass " + wired + " final : public " + cls +
                  "\n{\npublic:\n    explicit " + wired + "(QWidget *parent = nullptr);\n    ~" + wired +
                  "() override;\n\nprivate:\n" + "    class Filter;\n    void wire();\n    void unwire();\n";
    for (const Handler &h : p_.handlers)
        if (h.shape == Shape::Background) {
            text.header += "    void start_" + h.name.toUtf8() + "();\n";
            if (h.again != "ignore")
                text.header += "    int queued_" + h.name.toUtf8() + " = 0;\n";
        }
    text.header += "    QObject *links_ = nullptr;\n};\n";

    line("// Made by Pipit; edits here are overwritten.");
    line("#include \"" + file +
         "_wiring.h\"\n\n#include <QtCore/QEvent>\n#include <QtGui/QEnterEvent>\n\n#include <functional>\n");
    if (!watched.isEmpty())
        if (auto ok = eventFilters(); !ok)
            return ok.problem();
    line(wired + "::" + wired + "(QWidget *parent) : " + cls + "(parent)\n{\n    wire();\n}\n");
    line(wired + "::~" + wired + "()\n{\n    unwire();\n}\n");
    jobs();
    line("void " + wired + "::wire()\n{");
    line("    links_ = new QObject;\n    links_->setObjectName(QStringLiteral(\"wiring\"));");
    for (const Connection &c : p_.connections)
        if (c.sourceKind == Connection::Source::Signal && c.enabled)
            if (auto ok = signalConnection(c); !ok)
                return ok.problem();
    if (!watched.isEmpty()) {
        line("    auto *filter = new Filter(this);\n    filter->setParent(links_);");
        QStringList sorted(watched.begin(), watched.end());
        sorted.sort();
        for (const QString &s : sorted) {
            const QByteArray n = s == w_.root.name ? QByteArray("this") : s.toUtf8();
            line("    " + n + "->installEventFilter(filter);");
            if (Catalog::get().inherits(p_.classOf(s), "QAbstractScrollArea"))
                line("    " + n + "->viewport()->installEventFilter(filter);");
        }
    }
    timers();
    line("}\n");
    line("void " + wired + "::unwire()\n{");
    for (const Handler &h : p_.handlers)
        if (h.shape == Shape::Background)
            line("    " + h.name.toUtf8() + "Job->cancel();");
    line("    delete links_; // and with it every connection and filter");
    line("    links_ = nullptr;");
    for (const Handler &h : p_.handlers)
        if (h.shape == Shape::Background)
            line("    wiring::join(" + h.name.toUtf8() + "Job);");
    line("}");
    text.source = out_;
    text.lines = lines_;
    return text;
}

} // namespace

Result<QByteArray> conditionCode(const QString &when, const QString &eventClass)
{
    if (when.isEmpty())
        return QByteArray("true");
    static const QRegularExpression key("^key ([A-Za-z0-9]{1,20})$"), button("^button (left|right|middle)$");
    if (const auto m = key.match(when); m.hasMatch() && eventClass == "QKeyEvent") {
        QString name = m.captured(1);
        name[0] = name[0].toUpper();
        return "e->key() == Qt::Key_" + name.toUtf8();
    }
    if (const auto m = button.match(when); m.hasMatch() && eventClass == "QMouseEvent") {
        const QString name = m.captured(1);
        return "e->button() == Qt::" + (name.left(1).toUpper() + name.mid(1)).toUtf8() + "Button";
    }
    return Problem{"the condition '" + when + "' does not fit this event",
                   {},
                   "Write 'key Return' for keys or 'button left' for the mouse"};
}

Result<WiringText> wiringFor(const Project &project, const ProjectPlace &place)
{
    return WiringWriter(project, place).write();
}

} // namespace pipit
