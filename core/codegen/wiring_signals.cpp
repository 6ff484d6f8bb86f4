// The connections of a window's signals.
#include "core/codegen/condition_code.h"
#include "core/codegen/wiring_writer.h"

namespace pipit
{

namespace
{

QByteArray parameterList(const QStringList &types, const QStringList &names)
{
    QByteArrayList list;
    for (qsizetype i = 0; i < types.size(); ++i)
        list << types[i].toUtf8() + (types[i].endsWith('*') || types[i].endsWith('&') ? "" : " ") +
                    names[i].toUtf8();
    return list.join(", ");
}

// "const QString &" → "QString": what is kept.
QByteArray valueType(const QString &type)
{
    QByteArray bare = type.toUtf8();
    if (bare.endsWith('&'))
        bare.chop(1);
    bare = bare.trimmed();
    return bare.startsWith("const ") && !bare.endsWith('*') ? bare.mid(6) : bare;
}

// Functions of the toolkit that have the name of a slot without being one, or one for each kind of
// argument: their address says too little.
bool hasNamesakes(const QString &cls, const SignalEntry &member, bool isSignal)
{
    static const QSet<QString> others = {"setFocus", "update",  "repaint", "start", "scrollTo", "select",
                                         "setNum",   "display", "edit",    "print", "move",     "resize"};
    if (!isSignal && others.contains(member.name()))
        return true;
    const Catalog &catalog = Catalog::get();
    int count = 0;
    for (const SignalEntry &m : isSignal ? catalog.signalsOf(cls) : catalog.slotsOf(cls))
        count += m.name() == member.name();
    return count > 1;
}

} // namespace

QStringList WiringWriter::parameterNames(const SignalEntry &signal, qsizetype count) const
{
    static const QStringList plain = {"value", "second", "third", "fourth"};
    QStringList names;
    for (qsizetype i = 0; i < count; ++i) {
        QString name = signal.arguments.value(i);
        if (!isIdentifier(name) || names.contains(name))
            name = plain.value(i, QStringLiteral("argument%1").arg(i));
        names << QString::fromUtf8(locals_.of(name.toUtf8()));
    }
    return names;
}

Problem WiringWriter::misfit(const Group &g, const Handler &h, const SignalEntry &signal,
                             const Fit &fit) const
{
    const QStringList given = signal.types();
    if (fit.misfit == Misfit::Kind)
        return {QStringLiteral("%1 is an event handler; a signal needs a signal handler").arg(h.name),
                {},
                "Connect it to another handler"};
    if (fit.misfit == Misfit::Source)
        return {QStringLiteral("%1 wants a %2 as its source, but %3 is a %4")
                    .arg(h.name, h.source, g.first(), reach_.classOf(g.first(), g.c->part)),
                {},
                "Connect it to another handler"};
    if (fit.misfit == Misfit::Conversion)
        return {QStringLiteral("%1 takes the value of %2 without conversion").arg(h.name, signal.name()),
                {},
                "Leave out 'as'"};
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

// The one argument as the handler takes it: in the call itself, or in a variable when it may fail.
Outcome WiringWriter::convert(const Group &g, const Handler &h, const SignalEntry &signal,
                              const Conversion &how, Call &call)
{
    const ConvertChoice choice = convertChoice(g.c->convert);
    const QByteArray source = h.source.isEmpty() ? QByteArray() : sourceCode(g, g.c->part) + ", ";
    call.types = signal.types().mid(0, 1);
    call.names = parameterNames(signal, 1);
    if (!how.mayFail) {
        call.text = called(h) + '(' + source + how.code.arg(call.names[0]).toUtf8() + ')';
        return Done{};
    }
    const QByteArray type = valueType(h.arguments[0]);
    const QByteArray ok = locals_.of(call.names[0] == "ok" ? "fits" : "ok");
    const QByteArray value = locals_.of(call.names[0] == "value" ? "converted" : "value");
    const bool skips = choice.otherwise == "skip";
    const bool byFlag = how.code.contains("&ok");
    const QByteArray converted = QString(how.code).replace("&ok", '&' + ok).arg(call.names[0]).toUtf8();
    if (byFlag)
        call.before << "bool " + ok + " = false;";
    call.before << (skips ? "const " : "") + type + ' ' + value + " = " + converted + ';';
    call.only = byFlag ? ok : value + ".isValid()";
    if (!skips) {
        if (auto fits = conversionFits(how, choice); !fits)
            return at(*g.c, fits.problem());
        call.before << "if (!" + call.only + ")\n    " + value + " = " + choice.otherwise.toUtf8() + ';';
        call.only.clear();
    }
    call.text = called(h) + '(' + source + value + ')';
    return Done{};
}

Result<WiringWriter::Call> WiringWriter::handlerCall(const Group &g, const SignalEntry &signal)
{
    const Connection &c = *g.c;
    const Handler *h = reach_.handler(c.to);
    if (!h) {
        const QString near = nearestName(c.to, reach_.handlerNames());
        return at(c, QStringLiteral("there is no handler '%1'").arg(c.to),
                  near.isEmpty() ? "Connect it to a handler of the project" : "Connect it to " + near);
    }
    Call call;
    call.receiver = "this";
    for (const QString &source : g.sources) {
        const Fit fit = fitOf(*h, signal, reach_, source, c.part, c.convert);
        if (fit.misfit != Misfit::None)
            return at(c, misfit(g, *h, signal, fit));
        call.name = h->functions().first().name;
        call.helper = h->shape != Shape::OneGo; // whether it begins is decided in there
        if (!fit.how)
            continue;
        if (auto ok = convert(g, *h, signal, *fit.how, call); !ok)
            return ok.problem();
        return call;
    }
    const qsizetype n = h->arguments.size();
    call.types = h->arguments;
    call.names = parameterNames(signal, n);
    if (h->source.isEmpty()) {
        const QByteArray function = '&' + (call.helper ? wired_ : user_) + "::" + called(*h);
        call.member = overloaded_.contains(h->name)
                          ? "qOverload<" + call.types.join(", ").toUtf8() + ">(" + function + ')'
                          : function;
    }
    QByteArrayList given;
    if (!h->source.isEmpty())
        given << sourceCode(g, c.part);
    for (const QString &name : std::as_const(call.names))
        given << name.toUtf8();
    call.text = called(*h) + '(' + given.join(", ") + ')';
    return call;
}

Result<WiringWriter::Call> WiringWriter::memberCall(const Group &g, const SignalEntry &signal)
{
    const Connection &c = *g.c;
    const QString cls = reach_.classOf(c.to);
    if (cls.isEmpty()) {
        const QString near = nearestName(c.to, reach_.names());
        return at(c, QStringLiteral("there is no widget '%1'").arg(c.to),
                  near.isEmpty() ? "Name one of the window's widgets" : "Nearest: " + near);
    }
    const bool toSignal = c.targetKind == Connection::Target::Signal;
    const QStringList given = signal.types();
    Call call;
    call.receiver = reach_.code(c.to, {}, index_);
    call.name = c.target();
    const QByteArray through = call.receiver == "this" ? QByteArray() : call.receiver + "->";
    call.posted = reach_.onThread(c.to);
    // What lives on another thread runs there, however it is called.
    const auto calling = [&](const QByteArray &text, const QStringList &names) {
        const QByteArray given = names.isEmpty() ? QByteArray() : ", " + names.join(", ").toUtf8();
        return call.posted
                   ? "QMetaObject::invokeMethod(" + call.receiver + ", [this" + given + "] { " + text + "; })"
                   : text;
    };
    const QList<SignalEntry> members =
        reach_.members(c.to, toSignal ? Reach::Members::Signals : Reach::Members::Slots);
    for (const SignalEntry &m : members) {
        if (m.name() != c.toMember && m.signature != c.toMember)
            continue;
        const QStringList wanted = m.types();
        const QByteArray function = through + m.name().toUtf8() + '(';
        if (wanted.size() <= given.size() && given.mid(0, wanted.size()) == wanted) {
            const auto same = std::count_if(members.begin(), members.end(), [&](const SignalEntry &other) {
                return other.name() == m.name();
            });
            if (!hasNamesakes(cls, m, toSignal) && same == 1)
                call.member = '&' + m.owner.toUtf8() + "::" + m.name().toUtf8();
            call.types = wanted;
            call.names = parameterNames(signal, wanted.size());
            call.text = calling((toSignal ? "Q_EMIT " : "") + function + call.names.join(", ").toUtf8() + ')',
                                call.names);
            return call;
        }
        const Conversion *how =
            wanted.size() == 1 && !given.isEmpty() ? conversionFor(given[0], wanted[0]) : nullptr;
        if (how && !how->mayFail && how->says(convertChoice(c.convert).words)) {
            call.types = given.mid(0, 1);
            call.names = parameterNames(signal, 1);
            call.text =
                calling((toSignal ? "Q_EMIT " : "") + function + how->code.arg(call.names[0]).toUtf8() + ')',
                        call.names);
            return call;
        }
    }
    return at(c, QStringLiteral("%1 has no fitting '%2'").arg(c.to, c.toMember),
              "Choose a slot that takes what the signal gives");
}

WiringWriter::Call WiringWriter::opening(const Group &g) const
{
    const QByteArray window = g.c->to.toUtf8();
    Call call;
    call.name = "open " + g.c->to;
    call.receiver = window;
    if (Catalog::get().inherits(reach_.classOf(g.c->to), "QDialog")) {
        call.member = "&QDialog::open";
        call.text = window + "->open()";
    } else {
        call.before << window + "->show();" << window + "->raise();";
        call.text = window + "->activateWindow()";
    }
    return call;
}

Result<WiringWriter::Call> WiringWriter::callFor(const Group &g, const SignalEntry &signal)
{
    if (g.c->targetKind == Connection::Target::Handler)
        return handlerCall(g, signal);
    if (g.c->targetKind != Connection::Target::Open)
        return memberCall(g, signal);
    const Project::Named *n = reach_.find(g.c->to);
    if (!n || n->window == 0 || p_.windows[n->window].root.name != g.c->to)
        return at(*g.c, QStringLiteral("there is no other window '%1'").arg(g.c->to),
                  "Name a dialog or window of the project, other than the first");
    return opening(g);
}

QByteArray WiringWriter::signalCode(const Group &g, const SignalEntry &signal) const
{
    QByteArray pointer = '&' + g.type + "::" + signal.name().toUtf8();
    qsizetype same = Catalog::get().signalsNamed(reach_.classOf(g.first(), g.c->part), signal.name()).size();
    if (const OwnClass *own = p_.ownClassOf(g.first()))
        for (const SignalEntry &s : own->signalList)
            same += s.name() == signal.name();
    if (same > 1) {
        QByteArrayList bare;
        for (const QString &t : signal.types())
            bare << t.toUtf8();
        pointer = "qOverload<" + bare.join(", ") + ">(" + pointer + ')';
    }
    return pointer;
}

// The statements of a lambda: what comes before, the condition, the call.
void WiringWriter::body(const Group &g, const Call &call, const QByteArray &condition)
{
    const bool simple = call.before.isEmpty() && call.only.isEmpty();
    if (!condition.isEmpty() && !simple) {
        line("if (!(" + condition + "))");
        line("    return;");
    }
    for (const QByteArray &statement : call.before)
        for (const QByteArray &each : statement.split('\n'))
            line(each);
    const QByteArray last = simple ? condition : call.only;
    if (!last.isEmpty())
        open("if (" + last + ')');
    // A call that depends goes through the object itself, so that it can be seen when it is made.
    const bool depends = (!condition.isEmpty() || !call.only.isEmpty()) && !call.helper && !call.posted;
    const int at = lineNumber_;
    line(depends ? "QMetaObject::invokeMethod(this, [&] { " + call.text + "; });" : call.text + ';');
    if (depends)
        note(at, g, call.name);
    if (!last.isEmpty())
        --depth_;
}

void WiringWriter::connection(const Group &g, const QByteArray &signal, const Call &call,
                              const QByteArray &condition)
{
    const QByteArray queued = g.c->pacing.kind == PacingKind::NextTurn ? ", Qt::QueuedConnection" : "";
    const QByteArray head = "connect(" + sourceCode(g, g.c->part) + ", " + signal + ", ";
    const int first = lineNumber_;
    const bool conditional = !condition.isEmpty() || !call.only.isEmpty();
    if (!conditional && call.isPlain()) {
        line(head + call.receiver + ", " + call.member + queued + ");");
        note(first, g, call.name, call.helper);
        return;
    }
    const QByteArray parameters = parameterList(call.types, call.names);
    const QByteArray lambda = head + "this, [this" + (g.isMany() ? ", " + source_ : QByteArray()) + ']' +
                              (parameters.isEmpty() ? QByteArray() : '(' + parameters + ')') + " {";
    const QByteArray whole = lambda + ' ' + call.text + "; }" + queued + ");";
    if (!conditional && call.before.isEmpty() && 4 * depth_ + whole.size() <= widest) {
        line(whole);
        note(first, g, call.name, call.helper);
        return;
    }
    const qsizetype inner = lines_.size();
    open(lambda);
    body(g, call, condition);
    close('}' + queued + ");");
    note(first, g, call.name, conditional || call.helper);
    if (inner < lines_.size() - 1) // the line inside counts where the two lie over each other
        lines_.move(lines_.size() - 1, inner);
}

void WiringWriter::paced(const Group &g, const QByteArray &signal, const Call &call,
                         const QByteArray &condition)
{
    const Connection &c = *g.c;
    const QByteArray pause = unique(c.to.toUtf8() + "Pause");
    line("auto *" + pause + " = new QTimer(this);");
    line(pause + "->setSingleShot(true);");
    line(pause + "->setInterval(" + QByteArray::number(c.pacing.ms) + ");");
    const bool atMost = c.pacing.kind == PacingKind::AtMostEvery;
    const QByteArray start = atMost ? "if (!" + pause + "->isActive())" : pause + "->start();";
    QByteArrayList kept; // until the pause is over
    for (qsizetype i = 0; i < call.names.size(); ++i) {
        const QString &n = call.names[i];
        kept << unique("latest" + (n.left(1).toUpper() + n.mid(1)).toUtf8());
        line("auto " + kept.last() + " = std::make_shared<" + valueType(call.types[i]) + ">();");
    }
    const QByteArray head = "connect(" + sourceCode(g, c.part) + ", " + signal + ", ";
    const int first = lineNumber_;
    if (kept.isEmpty() && condition.isEmpty() && !atMost) {
        line(head + pause + ", qOverload<>(&QTimer::start));");
    } else {
        const QByteArray parameters = parameterList(call.types, call.names);
        const QByteArray captures =
            (condition.isEmpty() ? QByteArray() : QByteArray("this, ")) + pause +
            (g.isMany() && condition.contains(source_) ? ", " + source_ : QByteArray()) +
            (kept.isEmpty() ? QByteArray() : ", " + kept.join(", "));
        open(head + "this, [" + captures + ']' +
             (parameters.isEmpty() ? QByteArray() : '(' + parameters + ')') + " {");
        if (!condition.isEmpty()) {
            line("if (!(" + condition + "))");
            line("    return;");
        }
        for (qsizetype i = 0; i < kept.size(); ++i)
            line('*' + kept[i] + " = " + call.names[i].toUtf8() + ';');
        line(start);
        if (atMost)
            line("    " + pause + "->start();");
        close("});");
    }
    note(first, g, call.name, true);
    Group timer{&c, "QTimer", g.sources};
    Call late = call;
    for (qsizetype i = kept.size(); i-- > 0;)
        late.before.prepend("const " + valueType(call.types[i]) + (call.types[i].endsWith('*') ? "" : " ") +
                            call.names[i].toUtf8() + " = *" + kept[i] + ';');
    late.types.clear();
    late.names.clear();
    const int second = lineNumber_;
    const QByteArray timeout = "connect(" + pause + ", &QTimer::timeout, ";
    if (call.isPlain() && kept.isEmpty()) {
        line(timeout + call.receiver + ", " + call.member + ");");
        note(second, g, call.name, call.helper);
        return;
    }
    const qsizetype inner = lines_.size();
    open(timeout + "this, [this" + (g.isMany() ? ", " + source_ : QByteArray()) +
         (kept.isEmpty() ? QByteArray() : ", " + kept.join(", ")) + "] {");
    body(g, late, {});
    close("});");
    note(second, g, call.name, !call.only.isEmpty() || call.helper);
    if (inner < lines_.size() - 1)
        lines_.move(lines_.size() - 1, inner);
}

Outcome WiringWriter::signalConnection(const Group &g)
{
    const Connection &c = *g.c;
    auto signal = reach_.signal(g.first(), c.part, c.signal);
    if (!signal)
        return at(c, signal.problem());
    auto call = callFor(g, *signal);
    if (!call)
        return call.problem();
    auto condition =
        conditionCode(c.when, {}, g.first(), g.isMany() ? source_ : QByteArray(), reach_, index_, {});
    if (!condition)
        return at(c, condition.problem());
    sentence(c);
    openLoop(g, c.part);
    const QByteArray from = signalCode(g, *signal);
    if (c.pacing.kind == PacingKind::AfterPause || c.pacing.kind == PacingKind::AtMostEvery)
        paced(g, from, *call, *condition);
    else
        connection(g, from, *call, *condition);
    closeLoop(g);
    return Done{};
}

} // namespace pipit
