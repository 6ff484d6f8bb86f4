#include "core/moves/pause.h"

#include <QRegularExpression>

#include <algorithm>

namespace pipit
{

namespace
{

// How long a statement sleeps, by its words: "QThread::msleep(1500)", "std::this_thread::sleep_for(2s)".
bool readSleep(const QString &statement, Pause &p)
{
    struct Form {
        const char *pattern;
        double unit; // in ms
    };
    static const Form forms[] = {
        {R"(^(?:QThread|this->thread\(\))::msleep\s*\((.*)\)$)", 1},
        {R"(^QThread::sleep\s*\((.*)\)$)", 1000},
        {R"(^(?:QThread::usleep|(?:::)?usleep)\s*\((.*)\)$)", 0.001},
        {R"(^(?:std::)?this_thread::sleep_for\s*\(\s*(?:std::)?(?:chrono::)?milliseconds\s*[({]\s*(.*?)\s*[)}]\s*\)$)",
         1},
        {R"(^(?:std::)?this_thread::sleep_for\s*\(\s*(?:std::)?(?:chrono::)?seconds\s*[({]\s*(.*?)\s*[)}]\s*\)$)",
         1000},
        {R"(^(?:std::)?this_thread::sleep_for\s*\(\s*([\d']+)ms\s*\)$)", 1},
        {R"(^(?:std::)?this_thread::sleep_for\s*\(\s*([\d']+)s\s*\)$)", 1000},
        {R"(^(?:::)?sleep\s*\((.*)\)$)", 1000},
    };
    for (const Form &f : forms) {
        const auto m =
            QRegularExpression(f.pattern, QRegularExpression::DotMatchesEverythingOption).match(statement);
        if (!m.hasMatch())
            continue;
        const QString argument = m.captured(1).trimmed();
        bool number = false;
        const double value = QString(argument).remove('\'').toDouble(&number);
        if (number) {
            p.milliseconds = std::max(1, int(value * f.unit + 0.5));
            return value > 0;
        }
        if (f.unit != 1) // of another unit it would have to be reckoned
            return false;
        p.expression = argument;
        return !argument.isEmpty();
    }
    return false;
}

QString textOf(const CodeNode &n, const QString &text)
{
    const QString statement = text.mid(n.begin, n.end - n.begin).trimmed();
    return statement.endsWith(';') ? statement.chopped(1).trimmed() : statement;
}

// A loop that waits: it sleeps, and perhaps tells of it.
bool readLoop(const CodeNode &loop, const QString &text, const Effects &effects, Pause &p)
{
    const CodeNode *condition = loop.child("condition"), *body = loop.child("body");
    if (!loop.is("while") || !condition || !body || condition->is("declare") || condition->macro ||
        effects.mayTakeLong(*condition))
        return false;
    const QList<CodeNode> statements = body->is("block") ? body->children : QList<CodeNode>{*body};
    int sleeps = 0, from = body->is("block") ? body->begin + 1 : body->begin;
    for (const CodeNode &s : statements) {
        QString whole = text.mid(from, s.end - from); // with what stands above it
        while (whole.startsWith('\n'))
            whole.remove(0, 1);
        from = s.end;
        if (const int line = int(text.indexOf('\n', s.end));
            text.mid(s.end, line - s.end).trimmed().startsWith("//")) {
            whole += text.mid(s.end, line - s.end);
            from = line;
        }
        bool leaves = false, pumps = false;
        s.each([&](const CodeNode &n) {
            leaves = leaves || n.is("break") || n.is("continue") || n.is("return") || n.is("goto");
            return !n.is("lambda");
        });
        const QList<Effect> all = effects.of(s);
        for (const Effect &e : all)
            pumps = pumps || e.kind == Effect::Pumps;
        if (leaves || s.is("declare"))
            return false;
        if (readSleep(textOf(s, text), p))
            ++sleeps;
        else if (effects.mayTakeLong(s))
            return false;
        else if (!pumps)
            p.meanwhile << whole;
        else if (all.size() > 1)
            return false;
    }
    p.condition = text.mid(condition->begin, condition->end - condition->begin).trimmed();
    return sleeps == 1;
}

} // namespace

std::optional<Pause> pauseIn(const Effects &effects, const CodeFunction &function, const QString &text)
{
    const QList<CodeNode> &statements = function.body.children;
    int at = -1;
    for (int i = 0; i < statements.size(); ++i)
        if (effects.mayTakeLong(statements[i])) {
            if (at >= 0)
                return std::nullopt;
            at = i;
        }
    if (at < 0)
        return std::nullopt;
    Pause p;
    p.sleep = &statements[at];
    if (p.sleep->is("while") ? !readLoop(*p.sleep, text, effects, p) : !readSleep(textOf(*p.sleep, text), p))
        return std::nullopt;
    QSet<int> declaredBefore, usedAfter;
    for (const CodeFunction::Parameter &parameter : function.parameters)
        declaredBefore.insert(parameter.decl);
    for (int i = 0; i < at; ++i)
        declaredBefore += effects.locals(statements[i]).declares;
    for (int i = p.condition.isEmpty() ? at + 1 : at; i < statements.size(); ++i) {
        const Locals l = effects.locals(statements[i]);
        usedAfter += l.reads + l.writes;
    }
    for (const int decl : usedAfter &declaredBefore)
        p.usedLater << decl;
    std::sort(p.usedLater.begin(), p.usedLater.end());
    if (!p.condition.isEmpty() && !p.usedLater.isEmpty())
        return std::nullopt; // it has a count of its own, and goes on round by round
    return p;
}

QString freeNameFor(const Project &project, const QString &className, const QString &text,
                    const QString &wanted)
{
    const QString code = codeOnly(text);
    const auto taken = [&](const QString &name) {
        return project.timer(name) || project.widget(name) || project.object(name) || project.handler(name) ||
               code.contains(QRegularExpression("\\b" + name + "\\b")) || definitionOf(text, className, name);
    };
    QString name = wanted;
    for (int n = 2; taken(name); ++n)
        name = wanted + QString::number(n);
    return name;
}

namespace
{

void wire(Project &project, const Pause &p, const Handler &handler, const QString &className,
          const QString &timer, const QString &then)
{
    TimerNode t;
    t.id = project.newId("t");
    t.name = timer;
    t.interval = p.milliseconds ? p.milliseconds : t.interval;
    t.repeat = !p.condition.isEmpty();
    t.autostart = false;
    for (WindowNode &w : project.windows)
        if (w.className == className)
            w.timers.append(t);
    Handler h;
    h.id = project.newId("h");
    h.name = then;
    h.window = handler.window;
    h.file = handler.file;
    const auto at = std::find_if(project.handlers.begin(), project.handlers.end(),
                                 [&](const Handler &each) { return each.name == handler.name; });
    project.handlers.insert(at == project.handlers.end() ? at : at + 1, h);
    Connection c;
    c.id = project.newId("c");
    c.from = timer;
    c.signal = "timeout";
    c.to = then;
    project.connections.append(c);
}

} // namespace

namespace
{

// The second part, from its head on.
QString goesOn(const Pause &p, const QString &head, const QString &timer, const QString &rest)
{
    if (p.condition.isEmpty())
        return "// After the pause.\n" + head + "\n{\n" + rest + '}';
    QString waits;
    for (const QString &each : p.meanwhile)
        waits += each + '\n';
    waits = "    if (" + p.condition +
            (waits.isEmpty() ? ")\n        return;\n" : ") {\n" + waits + "        return;\n    }\n");
    return "// Looks whether it is time to go on.\n" + head + "\n{\n" + waits + "    " + timer +
           "->stop();\n" + rest + '}';
}

} // namespace

PausedHandler partAtPause(const Pause &p, const Project &project, const Handler &handler,
                          const QString &className, const QString &text, const Definition &d)
{
    PausedHandler made{project, {}, {}};
    const bool waits = !p.condition.isEmpty();
    const QString timer = freeNameFor(project, className, text, handler.name + (waits ? "Poll" : "Pause")),
                  then = freeNameFor(project, className, text, handler.name + "GoesOn");
    wire(made.after, p, handler, className, timer, then);
    qsizetype sleepEnd = p.sleep->end;
    if (!waits || (sleepEnd < text.size() && text[sleepEnd] == ';'))
        sleepEnd = text.indexOf(';', p.sleep->end - 1) + 1;
    QString rest = text.mid(sleepEnd, d.bodyClose - sleepEnd);
    while (rest.startsWith('\n'))
        rest.remove(0, 1);
    made.text = text.mid(d.begin, p.sleep->begin - d.begin) + timer + "->start(" + p.expression + ");\n" +
                (waits ? "    " + then + "();\n" : QString()) + "}\n\n" +
                goesOn(p, "void " + className + "::" + then + "()", timer, rest);
    const QString length =
        p.milliseconds ? QStringLiteral("%1 ms").arg(p.milliseconds) : QStringLiteral("as long as the sleep");
    if (waits)
        made.sentences
            << QStringLiteral("It ends with starting %1, every %2. The event loop runs meanwhile.")
                   .arg(timer, p.milliseconds ? length : "time of the sleep")
            << QStringLiteral("%1 checks at once and then at each tick. When the condition is over, it stops "
                              "%2 and runs the code after the loop.")
                   .arg(then, timer)
            << "Triggered again meanwhile, the waiting restarts. The code after the loop runs once.";
    else
        made.sentences << QStringLiteral("It ends with starting %1, %2. The event loop runs meanwhile.")
                              .arg(timer, length)
                       << then + " runs the code after the sleep."
                       << "What it shows before the pause is now visible during the pause."
                       << "Triggered again meanwhile, the pause restarts. The code after it runs once, after "
                          "the last trigger.";
    return made;
}

} // namespace pipit
