#include "core/project/reach.h"

#include "core/project/selector.h"

#include <QRegularExpression>

namespace pipit
{

Reach::Reach(const Project &project) : project_(project), named_(project.named())
{
    for (const Handler &h : project.handlers) {
        handlers_.insert(h.name, &h);
        handlerNames_ << h.name;
    }
    project.eachWidget([&](const WidgetNode &w, const WidgetNode *) {
        if (!w.header.isEmpty())
            ownTypes_.insert(w.name, w.className.toUtf8());
    });
    for (const WindowNode &w : project.windows)
        for (const ObjectNode &o : w.objects) {
            if (!o.header.isEmpty())
                ownTypes_.insert(o.name, o.className.toUtf8());
            if (o.thread)
                onThread_.insert(o.name);
        }
}

const Project::Named *Reach::find(const QString &name) const
{
    const auto it = named_.constFind(name);
    return it == named_.constEnd() ? nullptr : &*it;
}

bool Reach::hasPart(const QString &cls, const QString &part)
{
    const Catalog &c = Catalog::get();
    if (part.isEmpty())
        return true;
    if (part == "viewport")
        return c.inherits(cls, "QAbstractScrollArea");
    if (part == "selection")
        return c.inherits(cls, "QAbstractItemView");
    if (c.inherits(cls, "QDialogButtonBox"))
        if (const PropertyEntry *p = c.property(cls, "standardButtons"))
            return p->keys.contains(part) && part != "NoButton";
    return false;
}

QString Reach::classOf(const QString &name, const QString &part) const
{
    const Project::Named *n = find(name);
    if (!n)
        return {};
    if (part.isEmpty())
        return n->className;
    return part == "viewport" ? "QWidget" : part == "selection" ? "QItemSelectionModel" : "QPushButton";
}

QByteArray Reach::typeOf(const QString &name, const QString &part) const
{
    if (part.isEmpty())
        if (const auto it = ownTypes_.constFind(name); it != ownTypes_.constEnd())
            return *it;
    return classOf(name, part).toUtf8();
}

QByteArray Reach::code(const QString &name, const QString &part, int window) const
{
    const Project::Named *n = find(name);
    if (!n)
        return {};
    const WindowNode &w = project_.windows[n->window];
    const bool root = w.root.name == name;
    QByteArray out;
    if (n->window == window)
        out = root ? QByteArray("this") : name.toUtf8();
    else
        out = root ? name.toUtf8() : w.root.name.toUtf8() + "->" + name.toUtf8();
    if (part == "viewport")
        out += "->viewport()";
    else if (part == "selection")
        out += "->selectionModel()";
    else if (!part.isEmpty())
        out += "->button(QDialogButtonBox::" + part.toUtf8() + ')';
    return out;
}

int Reach::home(const Connection &c, const QString &source) const
{
    const Project::Named *from = find(source);
    if (!from)
        return -1;
    if (c.targetKind == Connection::Target::Open)
        return 0;
    if (c.targetKind == Connection::Target::Handler) {
        const Handler *h = handler(c.to);
        const int at = h ? project_.windowOfHandler(*h) : 0;
        return at == 0 || at == from->window ? at : -1;
    }
    const Project::Named *to = find(c.to);
    return to && to->window == from->window ? to->window : 0;
}

Result<QStringList> Reach::sources(const Connection &c) const
{
    if (c.select.isEmpty())
        return QStringList{c.from};
    auto s = Selector::parse(c.select);
    if (!s)
        return s.problem();
    QStringList names;
    for (const SelectorMatch &m : s->matches(project_)) {
        const bool offers = c.sourceKind == Connection::Source::Event
                                ? Catalog::get().isWidget(classOf(m.name))
                                : bool(signal(m.name, c.part, c.signal));
        if (offers && hasPart(classOf(m.name), c.part))
            names << m.name;
    }
    return names;
}

QList<SignalEntry> Reach::members(const QString &name, Members which) const
{
    const Catalog &catalog = Catalog::get();
    const QString cls = classOf(name);
    QList<SignalEntry> all;
    if (const OwnClass *mine = project_.ownClassOf(name))
        all = which == Members::Signals ? mine->signalList : mine->slotList;
    return all + (which == Members::Signals ? catalog.signalsOf(cls) : catalog.slotsOf(cls));
}

bool Reach::areMembersKnown(const QString &name) const
{
    if (!ownTypes_.contains(name))
        return true;
    const OwnClass *mine = project_.ownClassOf(name);
    if (!mine)
        return false;
    QString base = mine->base; // what the toolkit has, past the user's own
    for (int n = 0; n < 50 && project_.own->contains(base); ++n)
        base = (*project_.own)[base].base;
    return base == "QObject" || Catalog::get().inherits(classOf(name), base);
}

Result<SignalEntry> Reach::signal(const QString &name, const QString &part, const QString &wanted) const
{
    const QString cls = classOf(name, part);
    const auto found = Catalog::get().signalsNamed(cls, wanted);
    if (!found.isEmpty())
        return found.first();
    if (const OwnClass *mine = part.isEmpty() ? project_.ownClassOf(name) : nullptr)
        for (const SignalEntry &s : mine->signalList)
            if (s.name() == wanted || s.signature == wanted)
                return s;
    static const QRegularExpression own("^[A-Za-z_]\\w{0,100}\\([A-Za-z0-9_:<>, *&]{0,200}\\)$");
    if (part.isEmpty() && ownTypes_.contains(name) && own.match(wanted).hasMatch()) {
        SignalEntry s;
        s.signature = wanted;
        s.owner = QString::fromUtf8(ownTypes_.value(name));
        return s;
    }
    QStringList names;
    for (const SignalEntry &s :
         part.isEmpty() ? members(name, Members::Signals) : Catalog::get().signalsOf(cls))
        names << s.name();
    const QString near = nearestName(wanted, names);
    return Problem{QStringLiteral("%1 has no signal '%2'").arg(QString::fromUtf8(typeOf(name, part)), wanted),
                   {},
                   near.isEmpty() ? "Choose a signal of " + cls : "Nearest: " + near};
}

} // namespace pipit
