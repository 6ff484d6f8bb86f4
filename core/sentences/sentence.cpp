#include "core/sentences/sentence.h"

#include "core/catalog/catalog.h"
#include "core/project/fit.h"
#include "core/project/selector.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>
#include <QSet>

namespace pipit
{

namespace
{

QString scopeWords(Connection::Scope s)
{
    return s == Connection::Scope::Window        ? "in the window"
           : s == Connection::Scope::Application ? "in the application"
                                                 : "";
}

// Where a word stands outside quotes and parentheses; -1: nowhere.
qsizetype outside(const QString &text, const QString &word)
{
    int depth = 0;
    bool quoted = false;
    for (qsizetype i = 0; i < text.size(); ++i) {
        if (text[i] == '"')
            quoted = !quoted;
        else if (!quoted && (text[i] == '(' || text[i] == '['))
            ++depth;
        else if (!quoted && (text[i] == ')' || text[i] == ']'))
            --depth;
        if (!quoted && depth == 0 && QStringView(text).mid(i).startsWith(word))
            return i;
    }
    return -1;
}

Problem noSentence()
{
    return {"This is no connection yet", {}, "Write it as boardButton · clicked calls boardPassenger"};
}

bool takeSuffix(QString &text, const QString &suffix)
{
    if (!text.endsWith(' ' + suffix))
        return false;
    text = text.chopped(suffix.size() + 1).trimmed();
    return true;
}

// "ticketField · key press (key Escape) afterwards".
Outcome parseOccasion(QString text, ConnectRequest &r)
{
    text = text.trimmed();
    r.after = takeSuffix(text, "afterwards");
    if (takeSuffix(text, "in the window"))
        r.scope = Connection::Scope::Window;
    else if (takeSuffix(text, "in the application"))
        r.scope = Connection::Scope::Application;
    r.after = r.after || takeSuffix(text, "afterwards");
    static const QRegularExpression condition("^(.*\\S)\\s+\\(((?:[^\"()]|\"[^\"]*\")*)\\)$"),
        plain("^([A-Za-z]\\w*(?:\\.(?:viewport|selection|[A-Z]\\w*))?)\\s*(?:\\.|\\s)\\s*(\\S.*)$");
    if (const auto m = condition.match(text); m.hasMatch()) {
        text = m.captured(1);
        r.when = m.captured(2).trimmed();
    }
    if (const qsizetype dot = outside(text, "·"); dot > 0) {
        r.source = text.left(dot).trimmed();
        r.what = text.mid(dot + 1).simplified();
    } else if (const auto m = plain.match(text); m.hasMatch()) {
        r.source = m.captured(1);
        r.what = m.captured(2).simplified();
    }
    if (r.source.isEmpty() || r.what.isEmpty())
        return noSentence();
    return Done{};
}

Outcome parseClause(const QString &clause, ConnectRequest &r)
{
    static const QRegularExpression as("^as (?:an? )?(.+)$");
    if (clause == "switched off") {
        r.enabled = false;
        return Done{};
    }
    if (clause.startsWith("accepting ")) {
        r.drop = clause.mid(10).simplified();
        if (!QStringList{"copy", "move", "copy or move"}.contains(r.drop))
            return Problem{QStringLiteral("A drop cannot accept '%1'").arg(r.drop.left(60)),
                           {},
                           "Write accepting copy, accepting move, or accepting copy or move"};
        return Done{};
    }
    if (const auto m = as.match(clause); m.hasMatch()) {
        r.convert = m.captured(1).simplified();
        return Done{};
    }
    auto pacing = Pacing::parse(clause);
    if (!pacing)
        return pacing.problem();
    r.pacing = *pacing;
    return Done{};
}

} // namespace

QString phraseFor(const Connection &c)
{
    return c.what() + (c.targetKind == Connection::Target::Open ? " opens " : " calls ") + c.target();
}

QString markFor(const Connection &c)
{
    QStringList marks;
    if (!c.when.isEmpty())
        marks << c.when;
    if (c.after)
        marks << "afterwards";
    if (c.scope != Connection::Scope::Widget)
        marks << scopeWords(c.scope);
    if (!c.convert.isEmpty())
        marks << "as " + c.convert;
    if (!c.drop.isEmpty())
        marks << "accepting " + c.drop;
    if (c.pacing.kind != PacingKind::AtOnce)
        marks << c.pacing.text();
    if (!c.enabled)
        marks << "switched off";
    return marks.join(", ");
}

QString sentenceFor(const Connection &c)
{
    QString s = c.subject() + " · " + c.what();
    if (!c.when.isEmpty())
        s += " (" + c.when + ')';
    if (c.after)
        s += " afterwards";
    if (c.scope != Connection::Scope::Widget)
        s += ' ' + scopeWords(c.scope);
    s += (c.targetKind == Connection::Target::Open ? " opens " : " calls ") + c.target();
    if (!c.convert.isEmpty())
        s += ", as " + c.convert;
    if (!c.drop.isEmpty())
        s += ", accepting " + c.drop;
    if (c.pacing.kind != PacingKind::AtOnce)
        s += ", " + c.pacing.text();
    return c.enabled ? s : s + ", switched off";
}

Result<ConnectRequest> parseSentence(const QString &whole)
{
    if (whole.size() > 20'000)
        return Problem{"This is too long to be a connection", {}, noSentence().remedy};
    const QString text = whole.simplified();
    qsizetype verb = outside(text, " calls ");
    const qsizetype opens = outside(text, " opens ");
    ConnectRequest r;
    r.opens = verb < 0 && opens > 0;
    verb = r.opens ? opens : verb;
    if (verb < 0)
        return noSentence();
    if (auto ok = parseOccasion(text.left(verb), r); !ok)
        return ok.problem();
    QStringList parts = text.mid(verb + 7).split(',');
    static const QRegularExpression target(
        "^([A-Za-z*][\\w*]*)(?:\\s*(?:·|\\.)\\s*(\\w+(?:\\([^()]*\\))?))?$");
    const auto m = target.match(parts.takeFirst().trimmed());
    if (!m.hasMatch())
        return noSentence();
    r.target = m.captured(1) + (m.captured(2).isEmpty() ? QString() : '.' + m.captured(2));
    for (const QString &clause : std::as_const(parts))
        if (auto ok = parseClause(clause.simplified(), r); !ok)
            return ok.problem();
    return r;
}

namespace
{

// Functions that the user wrote in the window's class, that are no handlers yet and that take what this
// signal gives, or a part of it.
QStringList functionsThatFit(const Project &p, UserFiles &files, const QString &source, const QString &what)
{
    const Reach reach(p);
    const QString name = source.section('.', 0, 0), part = source.section('.', 1);
    const auto found = reach.find(name);
    auto choice = found ? occasionOf(reach, name, part, what) : Problem{};
    if (!choice || !choice->signal)
        return {};
    const WindowNode &window = p.windows[found->window];
    auto text = files.text(window.sourceFile());
    if (!text)
        return {};
    QSet<QString> taken;
    for (const Handler &h : p.handlers)
        for (const HandlerFunction &f : h.functions())
            taken << f.name;
    QStringList names;
    for (const Definition &d : definitionsIn(*text)) {
        const bool returnsNothing = QString(d.head).simplified().startsWith("void ");
        if (d.className != window.className || taken.contains(d.name) || !returnsNothing)
            continue;
        Handler h;
        h.name = d.name;
        h.arguments = parameterTypes(d);
        if (fitOf(h, *choice->signal, reach, name, part, {}).misfit == Misfit::None)
            names << d.name;
    }
    return names;
}

void completeTarget(const Project &p, const QString &head, QStringList &lines)
{
    for (const Handler &h : p.handlers)
        lines << head + h.name;
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (lines.size() > 3000)
            return;
        for (const char *slot : {"setText", "setEnabled", "setVisible", "setValue", "clear", "setFocus"})
            for (const SignalEntry &s : Catalog::get().slotsOf(w.knownClass()))
                if (s.name() == QLatin1String(slot)) {
                    lines << head + w.name + " · " + s.name();
                    break;
                }
    });
    for (const WindowNode &w : p.windows)
        for (const TimerNode &t : w.timers)
            lines << head + t.name + " · start" << head + t.name + " · stop";
}

void completeWhat(const QString &source, const QString &cls, QStringList &lines)
{
    for (const SignalEntry &s : Catalog::get().signalsOf(cls)) {
        const bool overloaded = Catalog::get().signalsNamed(cls, s.name()).size() > 1;
        lines << source + " · " + (overloaded ? s.signature : s.name()) + " calls ";
    }
    for (const EventEntry &e : Catalog::get().eventsOf(cls)) {
        lines << source + " · " + e.words + " calls ";
        if (e.cppClass == "QKeyEvent")
            for (const char *key : {"Return", "Escape", "Ctrl+S", "F1", "Delete"})
                lines << source + " · " + e.words + " (key " + QLatin1String(key) + ") calls ";
        if (e.words == "mouse press" || e.words == "mouse release")
            for (const char *button : {"left", "right", "middle"})
                lines << source + " · " + e.words + " (button " + QLatin1String(button) + ") calls ";
        if (e.words == "drop" || e.words == "drag enter")
            lines << source + " · " + e.words + " (type text/plain) calls ";
    }
}

} // namespace

QStringList sentenceCompletions(const Project &p, UserFiles &files, const QString &typed)
{
    QStringList lines;
    const qsizetype dot = outside(typed, "·");
    const QString source =
        dot > 0 ? typed.left(dot).trimmed() : typed.section(QRegularExpression("\\s"), 0, 0);
    QString cls = p.classOf(source.section('.', 0, 0));
    if (looksLikeSelector(source))
        if (auto s = Selector::parse(source))
            if (const auto found = s->matches(p); !found.isEmpty())
                cls = p.classOf(found.first().name);
    if (cls.isEmpty() || (dot < 0 && !typed.contains(' ') && source == typed && !looksLikeSelector(source))) {
        for (const QString &name : p.objectNames())
            lines << name + " · ";
        if (cls.isEmpty())
            return lines;
    }
    const qsizetype calls = outside(typed, " calls ");
    if (const qsizetype opens = outside(typed, " opens "); opens > 0) {
        for (qsizetype i = 1; i < p.windows.size(); ++i)
            lines << typed.left(opens) + " opens " + p.windows[i].root.name;
        return lines;
    }
    if (calls > 0) {
        const QString head = typed.left(calls) + " calls ";
        const qsizetype comma = typed.indexOf(',', calls);
        if (comma > 0) {
            for (const char *pacing : {"next turn", "after a pause of 300 ms", "at most every 100 ms"})
                lines << typed.left(comma) + ", " + QLatin1String(pacing);
            for (const Conversion &c : conversions())
                if (const QString line =
                        typed.left(comma) + ", as " + c.words + (c.mayFail ? " else skip" : "");
                    !lines.contains(line))
                    lines << line;
            return lines;
        }
        if (dot > 0 && !looksLikeSelector(source)) {
            const QString what = typed.mid(dot + 1, calls - dot - 1).section('(', 0, 0).simplified();
            for (const QString &f : functionsThatFit(p, files, source, what))
                lines << head + f;
        }
        completeTarget(p, head, lines);
        return lines;
    }
    completeWhat(source, cls, lines);
    return lines;
}

} // namespace pipit
