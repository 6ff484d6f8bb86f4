// What could come next in a connection that is being typed.
#include "core/catalog/catalog.h"
#include "core/project/fit.h"
#include "core/project/selector.h"
#include "core/sentences/sentence.h"
#include "core/userfiles/cpp_scan.h"

#include <QRegularExpression>
#include <QSet>

namespace pipit
{

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

// `between`: what stands between a widget and its slot, as it was typed.
void completeTarget(const Project &p, const QString &head, const QString &between, QStringList &lines)
{
    for (const Handler &h : p.handlers)
        lines << head + h.name;
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (lines.size() > 3000)
            return;
        for (const char *slot : {"setText", "setEnabled", "setVisible", "setValue", "clear", "setFocus"})
            for (const SignalEntry &s : Catalog::get().slotsOf(w.knownClass()))
                if (s.name() == QLatin1String(slot)) {
                    lines << head + w.name + between + s.name();
                    break;
                }
    });
    const auto ownSlots = [&](const QString &name) {
        if (const OwnClass *own = p.ownClassOf(name))
            for (const SignalEntry &s : own->slotList)
                lines << head + name + between + s.name();
    };
    p.eachWidget([&](const WidgetNode &w, const WidgetNode *) { ownSlots(w.name); });
    for (const WindowNode &w : p.windows)
        for (const ObjectNode &o : w.objects)
            ownSlots(o.name);
    for (const WindowNode &w : p.windows)
        for (const TimerNode &t : w.timers)
            lines << head + t.name + between + "start" << head + t.name + between + "stop";
}

// `head`: the source and what was typed behind it.
void completeWhat(const QString &head, const QString &cls, QStringList &lines)
{
    for (const SignalEntry &s : Catalog::get().signalsOf(cls)) {
        const bool overloaded = Catalog::get().signalsNamed(cls, s.name()).size() > 1;
        lines << head + (overloaded ? s.signature : s.name()) + " calls ";
    }
    for (const EventEntry &e : Catalog::get().eventsOf(cls)) {
        lines << head + e.words + " calls ";
        if (e.cppClass == "QKeyEvent")
            for (const char *key : {"Return", "Escape", "Ctrl+S", "F1", "Delete"})
                lines << head + e.words + " (key " + QLatin1String(key) + ") calls ";
        if (e.words == "mouse press" || e.words == "mouse release")
            for (const char *button : {"left", "right", "middle"})
                lines << head + e.words + " (button " + QLatin1String(button) + ") calls ";
        if (e.words == "drop" || e.words == "drag enter")
            lines << head + e.words + " (type text/plain) calls ";
    }
}

// The source at the beginning of what is typed, and what divides it from the rest: a dot of either kind,
// with or without spaces, or a space. Offered lines keep it, or they would not go on from the text.
struct Begun {
    QString source, between, cls;
    QString head() const { return source + between; }
};

QString classOfSource(const Project &p, const QString &source)
{
    const QString name = source.section('.', 0, 0), part = source.section('.', 1);
    if (const QString cls = p.classOf(name); !cls.isEmpty() && Reach::hasPart(cls, part))
        return part.isEmpty() ? cls : Reach(p).classOf(name, part);
    if (looksLikeSelector(source) || Catalog::get().has(source))
        if (auto s = Selector::parse(source))
            if (const auto found = s->matches(p); !found.isEmpty())
                return p.classOf(found.first().name);
    return {};
}

Begun begunBy(const Project &p, const QString &typed)
{
    static const QRegularExpression between("\\s*[·.]\\s*|\\s+");
    Begun longest;
    for (auto it = between.globalMatch(typed); it.hasNext();) {
        const auto m = it.next();
        const QString source = typed.left(m.capturedStart());
        if (const QString cls = classOfSource(p, source); !source.isEmpty() && !cls.isEmpty())
            longest = {source, m.captured(), cls};
    }
    return longest;
}

} // namespace

QStringList sentenceCompletions(const Project &p, UserFiles &files, const QString &typed)
{
    QStringList lines;
    static const QRegularExpression verb("^(.*?)\\s(calls|opens)\\s+(.*)$");
    const auto said = verb.match(typed);
    const Begun begun = begunBy(p, said.hasMatch() ? said.captured(1) : typed);
    if (begun.cls.isEmpty() && !said.hasMatch()) {
        for (const QString &name : p.objectNames())
            lines << name + '.';
        return lines;
    }
    if (!said.hasMatch()) {
        if (const OwnClass *own = p.ownClassOf(begun.source))
            for (const SignalEntry &s : own->signalList)
                lines << begun.head() + s.name() + " calls ";
        completeWhat(begun.head(), begun.cls, lines);
        if (Reach::hasPart(p.classOf(begun.source), "selection"))
            lines << begun.head() + "selection." << begun.head() + "viewport.";
        return lines;
    }
    const QString head = typed.left(said.capturedStart(3)), rest = said.captured(3);
    if (said.captured(2) == "opens") {
        for (qsizetype i = 1; i < p.windows.size(); ++i)
            lines << head + p.windows[i].root.name;
        return lines;
    }
    if (const qsizetype comma = typed.indexOf(',', head.size()); comma > 0) {
        for (const char *pacing :
             {"next turn", "after a pause of 300 ms", "at most every 100 ms", "with the source"})
            lines << typed.left(comma) + ", " + QLatin1String(pacing);
        for (const Conversion &c : conversions())
            lines << typed.left(comma) + ", as " + c.words + (c.mayFail ? " else skip" : "");
        lines.removeDuplicates();
        return lines;
    }
    const QString what = said.captured(1).mid(begun.head().size()).section('(', 0, 0).simplified();
    if (!looksLikeSelector(begun.source))
        for (const QString &f : functionsThatFit(p, files, begun.source, what))
            lines << head + f;
    static const QRegularExpression divided("^\\w+(\\s*[·.]\\s*|\\s+)");
    const auto m = divided.match(rest);
    completeTarget(p, head, m.hasMatch() ? m.captured(1) : QString("."), lines);
    return lines;
}

} // namespace pipit
