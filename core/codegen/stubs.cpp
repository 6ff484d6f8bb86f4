#include "core/codegen/stubs.h"

#include "core/catalog/catalog.h"

namespace pipit
{

namespace
{

struct Stub {
    QString comment, body;
};

Stub stubOf(const Handler &h, Part part, const QStringList &names)
{
    if (part == Part::Work)
        return {"// On a worker thread: compute from the input alone; no widget may be touched here.\n",
                QString("    Q_UNUSED(promise)\n") + (h.input == "void" ? "" : "    Q_UNUSED(input)\n") +
                    (h.result == "void" ? "" : "    return {};\n")};
    if (part == Part::Step)
        return {"// On the loop, again and again: one piece of the work. True: there is more.\n",
                "    Q_UNUSED(state)\n    return false;\n"};
    if (part == Part::End)
        return {"// On the loop, once there is no more.\n", "    Q_UNUSED(state)\n"};
    if (part == Part::Add)
        return {"// On the loop, while it works and in the end: add what has come since.\n",
                "    Q_UNUSED(some)\n"};
    if (part == Part::Show)
        return {"// On the loop: show the result, the error or the cancellation.\n",
                "    Q_UNUSED(outcome)\n"};
    if (h.kind == HandlerKind::Event)
        return {"// True: handled here. False: the widget handles the event itself.\n",
                "    Q_UNUSED(source)\n    Q_UNUSED(event)\n    return false;\n"};
    Stub stub;
    if (part == Part::Take)
        stub.comment = "// On the loop: read the widgets and return what the work needs.\n";
    if (!h.source.isEmpty())
        stub.body += "    Q_UNUSED(source)\n";
    for (const QString &name : names)
        stub.body += "    Q_UNUSED(" + name + ")\n";
    if (part == Part::Begin)
        stub.comment = "// On the loop: read the widgets and return what the steps work on.\n";
    if ((part == Part::Take && h.input != "void") || part == Part::Begin)
        stub.body += "    return {};\n";
    else if (part == Part::Take && h.declines)
        stub.body += "    return true;\n";
    return stub;
}

} // namespace

Stubs::Stubs(const Project &project) : project_(project), reach_(project)
{
    for (const Connection &c : project.connections)
        if (c.sourceKind == Connection::Source::Signal && c.targetKind == Connection::Target::Handler &&
            c.convert.isEmpty() && !first_.contains(c.to))
            first_.insert(c.to, &c);
}

QStringList Stubs::argumentNames(const Handler &h) const
{
    static const QStringList plain = {"value", "second", "third", "fourth"};
    QStringList given;
    if (const Connection *c = first_.value(h.name)) {
        const auto all = reach_.sources(*c);
        if (all && !all->isEmpty())
            if (const auto signal = reach_.signal(all->first(), c->part, c->signal))
                given = signal->arguments;
    }
    QStringList names;
    for (qsizetype i = 0; i < h.arguments.size(); ++i) {
        QString name = given.value(i);
        if (name.isEmpty() && i == 0 && h.arguments[0] == "const QString &")
            name = "text";
        const bool taken = names.contains(name) || reach_.find(name) || name == "source";
        if (!isIdentifier(name) || taken)
            name = plain.value(i, QStringLiteral("a%1").arg(i));
        names << name;
    }
    return names;
}

QString Stubs::declaration(const Handler &h, const HandlerFunction &f, const QString &className) const
{
    const QString scope = className.isEmpty() ? QString() : className + "::";
    if (f.part == Part::Work)
        return QStringLiteral("%1 %2(QPromise<%1> &promise%3)")
            .arg(h.result, f.name, h.input == "void" ? QString() : ", const " + h.input + " &input");
    if (f.part == Part::Add)
        return QStringLiteral("void %1%2(const %3 &some)").arg(scope, f.name, h.result);
    if (f.part == Part::Show)
        return QStringLiteral("void %1%2(const Outcome<%3> &outcome)").arg(scope, f.name, h.result);
    QStringList arguments;
    if (!h.source.isEmpty())
        arguments << h.source + " *source";
    if (f.part == Part::Step || f.part == Part::End)
        return QStringLiteral("%1 %2%3(%4 &state)")
            .arg(f.part == Part::Step ? "bool" : "void", scope, f.name, h.state);
    const bool event = h.kind == HandlerKind::Event;
    QString gives = event ? "bool" : "void";
    if (f.part == Part::Take)
        gives = h.input == "void" ? (h.declines ? "bool" : "void")
                                  : (h.declines ? "std::optional<" + h.input + '>' : h.input);
    if (f.part == Part::Begin)
        gives = h.declines ? "std::optional<" + h.state + '>' : h.state;
    const QStringList names = event ? QStringList{"source", "event"} : argumentNames(h);
    for (qsizetype i = 0; i < h.arguments.size(); ++i) {
        const QString type = h.arguments[i];
        arguments << type + (type.endsWith('*') || type.endsWith('&') ? "" : " ") + names.value(i);
    }
    return QStringLiteral("%1 %2%3(%4)").arg(gives, scope, f.name, arguments.join(", "));
}

QString Stubs::text(const Handler &h) const
{
    const QString cls = project_.windowFor(h).className;
    QString out;
    for (const HandlerFunction &f : h.functions()) {
        const Stub stub =
            stubOf(h, f.part,
                   f.part == Part::Whole || f.part == Part::Take || f.part == Part::Begin ? argumentNames(h)
                                                                                          : QStringList());
        out += '\n' + stub.comment + declaration(h, f, f.isFree() ? QString() : cls) + "\n{\n" + stub.body +
               "}\n";
    }
    return out;
}

} // namespace pipit
