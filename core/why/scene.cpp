#include "core/why/scene.h"

#include <QEvent>

#include <algorithm>

namespace pipit
{

using link::Fact;

namespace
{

std::uint64_t hexOf(QStringView text)
{
    return text.toULongLong(nullptr, 16);
}

QList<std::uint64_t> hexesOf(const QString &text)
{
    QList<std::uint64_t> all;
    for (const QString &t : text.split('\t', Qt::SkipEmptyParts))
        all << hexOf(t);
    return all;
}

void readLine(ObjectState &s, const QString &key, const QString &value)
{
    if (key == "is")
        s.is = std::uint32_t(hexOf(value));
    else if (key == "own")
        s.own = true;
    else if (key == "in")
        s.in = hexOf(value);
    else if (key == "at") {
        const QStringList n = value.split(',');
        s.at = QRect(n.value(0).toInt(), n.value(1).toInt(), n.value(2).toInt(), n.value(3).toInt());
    } else if (key == "z")
        s.z = value.toInt();
    else if (key == "focus")
        s.focus = value.toInt();
    else if (key == "proxy")
        s.proxy = hexOf(value);
    else if (key == "menu")
        s.menu = value.toInt();
    else if (key == "text")
        s.text = value.toULongLong();
    else if (key == "value")
        s.value = value.toLongLong();
    else if (key == "model")
        s.model = hexOf(value);
    else if (key == "says")
        s.says = value;
    else if (key == "keys")
        s.keys = value.split('\t', Qt::SkipEmptyParts);
    else if (key == "limits")
        s.limits = value.split('\t', Qt::SkipEmptyParts);
    else if (key == "context")
        s.context = value.toInt();
    else if (key == "every")
        s.every = value.toInt();
    else if (key == "on")
        s.on = hexesOf(value);
    else if (key == "filters")
        s.filters = hexesOf(value);
}

WireRow wireOf(const QString &line)
{
    const QStringList f = line.split('\t');
    WireRow w;
    w.signal = f.value(0);
    w.receiver = hexOf(f.value(1));
    w.receiverClass = f.value(2);
    w.receiverName = f.value(3);
    w.slot = f.value(4);
    w.type = f.value(5).toInt();
    w.serial = hexOf(f.value(6));
    w.own = f.value(7) == "1";
    w.thread = f.value(8);
    return w;
}

template <class T> auto lastUntil(const std::vector<T> &rows, std::int64_t time)
{
    return std::upper_bound(rows.begin(), rows.end(), time,
                            [](std::int64_t t, const T &r) { return t < r.time; });
}

} // namespace

Scene::Scene(const TraceModel &trace) : trace_(trace)
{
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        switch (f.fact) {
        case Fact::State:
            learnState(f);
            break;
        case Fact::Wires: {
            Wired w{f.time, {}};
            for (const QString &line : trace.factText(f).split('\n', Qt::SkipEmptyParts))
                w.wires << wireOf(line);
            wires_[trace.object(f.object).address].push_back(std::move(w));
            break;
        }
        case Fact::Swept:
            looks_.push_back(f.time);
            break;
        case Fact::Connected:
        case Fact::NotConnected:
            learnConnect(f);
            break;
        case Fact::Offered:
            offers_.push_back({f.time, trace.object(f.object).address, trace.factText(f)});
            break;
        case Fact::Arguments:
        case Fact::NeverCame:
        case Fact::IsThread:
        case Fact::ThreadsLeft:
        case Fact::File:
        case Fact::Used:
            break;
        case Fact::Touched: {
            const QString text = trace.factText(f);
            const qsizetype cut = text.indexOf('\t');
            touches_.push_back({f.time, trace.object(f.object).address, f.other, f.object, text.left(cut),
                                cut < 0 ? std::nullopt : std::optional(text.mid(cut + 1)), f.span});
            break;
        }
        }
    }
}

void Scene::learnState(const FactRow &f)
{
    ObjectState s;
    s.time = f.time;
    s.object = f.object;
    s.address = trace_.object(f.object).address;
    const QString text = trace_.factText(f);
    s.gone = text == "gone";
    for (const QString &line : text.split('\n'))
        if (const qsizetype cut = line.indexOf('='); cut > 0)
            readLine(s, line.left(cut), line.mid(cut + 1));
    states_[s.address].push_back(std::move(s));
}

void Scene::learnConnect(const FactRow &f)
{
    ConnectRow c;
    c.time = f.time;
    c.object = f.object;
    c.sender = f.object ? trace_.object(f.object).address : 0;
    c.places = connectPlaces(trace_, f);
    c.failed = f.fact == Fact::NotConnected;
    const QString line = trace_.factText(f);
    c.wire = wireOf(line);
    if (c.failed)
        c.reason = line.section('\t', 6, 6);
    connects_.push_back(std::move(c));
}

const ObjectState *Scene::state(std::uint64_t address, std::int64_t time) const
{
    const auto it = states_.constFind(address);
    if (it == states_.constEnd())
        return nullptr;
    const auto after = lastUntil(*it, time);
    return after == it->begin() ? nullptr : &*(after - 1);
}

const ObjectState *Scene::nextState(std::uint64_t address, std::int64_t time) const
{
    const auto it = states_.constFind(address);
    if (it == states_.constEnd())
        return nullptr;
    const auto after = lastUntil(*it, time);
    return after == it->end() ? nullptr : &*after;
}

std::vector<const ObjectState *> Scene::all(std::int64_t time) const
{
    std::vector<const ObjectState *> found;
    for (auto it = states_.constBegin(); it != states_.constEnd(); ++it)
        if (const ObjectState *s = state(it.key(), time); s && !s->gone)
            found.push_back(s);
    std::sort(found.begin(), found.end(), [](auto *a, auto *b) { return a->address < b->address; });
    return found;
}

// Whether somebody pressed something in between.
static bool isPressedBetween(const TraceModel &trace, std::int64_t from, std::int64_t to)
{
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        for (std::uint32_t i = rows.firstFrom(from);
             trace.isMain(t) && i < rows.count() && rows.start(i) < to; ++i)
            if (rows.kind(i) == SpanKind::Dispatch)
                if (const Span s = rows.at(i);
                    (s.flags & FromWindow) &&
                    (s.what == QEvent::MouseButtonPress || s.what == QEvent::KeyPress))
                    return true;
    }
    return false;
}

std::int64_t Scene::lastMoment() const
{
    std::vector<std::int64_t> closed; // windows, for good
    const auto isSeen = [](const ObjectState &s) {
        return !s.gone && s.has(link::IsWidget) && s.has(link::IsWindow) && s.has(link::IsVisible) &&
               !s.has(link::IsPopup); // a menu is closed as a matter of course
    };
    for (const auto &states : states_) {
        if (states.empty())
            continue;
        if (isSeen(states.back()))
            return trace_.now();
        const auto last = std::find_if(states.rbegin(), states.rend(), isSeen);
        if (last != states.rend())
            closed.push_back(std::prev(last)->time);
    }
    if (closed.empty())
        return trace_.now();
    // One closes the others; what was closed before somebody went on is not part of it.
    std::sort(closed.begin(), closed.end());
    std::size_t first = closed.size() - 1;
    while (first > 0 && !isPressedBetween(trace_, closed[first - 1], closed[first]))
        --first;
    return closed[first] - 1;
}

QList<std::uint64_t> Scene::called(const QString &name) const
{
    QList<std::uint64_t> named, captioned, classed;
    for (auto it = states_.constBegin(); it != states_.constEnd(); ++it)
        for (const ObjectState &s : *it) {
            const ObjectInfo o = trace_.object(s.object);
            QList<std::uint64_t> *into = o.name == name ? &named
                                         : o.text() == name || o.className + " \"" + s.says + '"' == name
                                             ? &captioned
                                         : o.className == name ? &classed
                                                               : nullptr;
            if (into && !into->contains(it.key()))
                *into << it.key();
        }
    QList<std::uint64_t> best = !named.isEmpty() ? named : !captioned.isEmpty() ? captioned : classed;
    std::sort(best.begin(), best.end());
    return best;
}

QStringList Scene::names() const
{
    QStringList all;
    for (auto it = states_.constBegin(); it != states_.constEnd(); ++it)
        if (const QString n = trace_.object(it->back().object).text(); !n.startsWith("qt_"))
            all << n;
    all.sort();
    all.removeDuplicates();
    return all;
}

QString Scene::text(std::uint64_t address, std::int64_t time) const
{
    const ObjectState *s = state(address, time);
    return s ? trace_.object(s->object).text() : QString();
}

std::int64_t Scene::lookedBefore(std::int64_t time) const
{
    const auto after = std::upper_bound(looks_.begin(), looks_.end(), time);
    return after == looks_.begin() ? 0 : *(after - 1);
}

std::int64_t Scene::lookedAfter(std::int64_t time) const
{
    const auto after = std::upper_bound(looks_.begin(), looks_.end(), time);
    return after == looks_.end() ? 0 : *after;
}

QList<WireRow> Scene::wires(std::uint64_t sender, std::int64_t time) const
{
    const auto it = wires_.constFind(sender);
    if (it == wires_.constEnd())
        return {};
    const auto after = lastUntil(*it, time);
    return after == it->begin() ? QList<WireRow>() : (after - 1)->wires;
}

QRect Scene::onScreen(const ObjectState &widget, std::int64_t time) const
{
    QRect r = widget.at;
    const ObjectState *w = &widget;
    for (int guard = 0; guard < 200 && w && !w->has(link::IsWindow); ++guard) {
        w = state(w->in, time);
        if (w)
            r.translate(w->at.topLeft());
    }
    return r;
}

QRect Scene::shown(const ObjectState &widget, std::int64_t time) const
{
    QRect r = onScreen(widget, time);
    const ObjectState *w = &widget;
    for (int guard = 0; guard < 200 && w && !w->has(link::IsWindow); ++guard) {
        w = state(w->in, time);
        if (w && w->has(link::IsWidget))
            r &= onScreen(*w, time);
    }
    return r;
}

const ObjectState *Scene::windowOf(const ObjectState &widget, std::int64_t time) const
{
    const ObjectState *w = &widget;
    for (int guard = 0; guard < 200 && w && !w->has(link::IsWindow); ++guard)
        w = state(w->in, time);
    return w;
}

bool Scene::isInside(const ObjectState &inner, std::uint64_t outer, std::int64_t time) const
{
    const ObjectState *w = &inner;
    for (int guard = 0; guard < 200 && w; ++guard) {
        if (w->address == outer)
            return true;
        if (w->has(link::IsWindow))
            return false;
        w = state(w->in, time);
    }
    return false;
}

const ObjectState *Scene::widgetAt(const ObjectState &window, const QPoint &screen, std::int64_t time) const
{
    QHash<std::uint64_t, std::vector<const ObjectState *>> children;
    for (const ObjectState *s : all(time))
        if (s->has(link::IsWidget) && !s->has(link::IsWindow))
            children[s->in].push_back(s);
    const ObjectState *found = &window;
    for (;;) {
        const ObjectState *next = nullptr;
        for (const ObjectState *c : children.value(found->address))
            if (c->has(link::IsVisible) && !c->has(link::IsTransparent) &&
                onScreen(*c, time).contains(screen) && (!next || c->z > next->z))
                next = c;
        if (!next)
            return found;
        found = next;
    }
}

} // namespace pipit
