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
    const QString statement = text.mid(p.sleep->begin, p.sleep->end - p.sleep->begin).trimmed();
    if (!readSleep(statement.endsWith(';') ? statement.chopped(1).trimmed() : statement, p))
        return std::nullopt;
    QSet<int> declaredBefore, usedAfter;
    for (const CodeFunction::Parameter &parameter : function.parameters)
        declaredBefore.insert(parameter.decl);
    for (int i = 0; i < at; ++i)
        declaredBefore += effects.locals(statements[i]).declares;
    for (int i = at + 1; i < statements.size(); ++i) {
        const Locals l = effects.locals(statements[i]);
        usedAfter += l.reads + l.writes;
    }
    for (const int decl : usedAfter &declaredBefore)
        p.usedLater << decl;
    std::sort(p.usedLater.begin(), p.usedLater.end());
    return p;
}

namespace
{

QString freeName(const Project &project, const QString &className, const QString &text, const QString &wanted)
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

void wire(Project &project, const Pause &p, const Handler &handler, const QString &className,
          const QString &timer, const QString &then)
{
    TimerNode t;
    t.id = project.newId("t");
    t.name = timer;
    t.interval = p.milliseconds ? p.milliseconds : t.interval;
    t.repeat = t.autostart = false;
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

PausedHandler partAtPause(const Pause &p, const Project &project, const Handler &handler,
                          const QString &className, const QString &text, const Definition &d)
{
    PausedHandler made{project, {}, {}};
    const QString timer = freeName(project, className, text, handler.name + "Pause"),
                  then = freeName(project, className, text, handler.name + "GoesOn");
    wire(made.after, p, handler, className, timer, then);
    const qsizetype sleepEnd = text.indexOf(';', p.sleep->end - 1) + 1;
    QString rest = text.mid(sleepEnd, d.bodyClose - sleepEnd);
    while (rest.startsWith('\n'))
        rest.remove(0, 1);
    made.text = text.mid(d.begin, p.sleep->begin - d.begin) + timer + "->start(" + p.expression +
                ");\n}\n\n// After the pause.\nvoid " + className + "::" + then + "()\n{\n" + rest + '}';
    const QString length =
        p.milliseconds ? QStringLiteral("%1 ms").arg(p.milliseconds) : QStringLiteral("as long as it slept");
    made.sentences
        << QStringLiteral("It ends with starting %1, %2; the loop goes on meanwhile.").arg(timer, length)
        << then + " does what stands behind the sleep."
        << "What it shows before is seen during the pause; it was not, before."
        << "Triggered again meanwhile, the pause begins anew: what stands behind it is done once, after the "
           "last "
           "trigger.";
    return made;
}

} // namespace pipit
