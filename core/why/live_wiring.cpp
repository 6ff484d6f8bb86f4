#include "core/why/live_wiring.h"

#include "core/trace/queries.h"

#include <algorithm>

namespace pipit
{

namespace
{

constexpr std::size_t mostObjects = 5000;

// When its objects were seen last: all of them are gone at the end.
std::int64_t whenItLived(const Scene &scene, const TraceModel &trace)
{
    std::int64_t last = 0;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (const FactRow &f = trace.fact(i); f.fact == link::Fact::State && trace.factText(f) != "gone")
            last = std::max(last, f.time);
    for (const ObjectState *s : scene.all(trace.now()))
        if (s->has(link::IsWindow) && s->has(link::IsVisible))
            return trace.now();
    // The last look before the first of the windows went.
    const std::int64_t looked = scene.lookedBefore(last + 1);
    return std::max(last, looked);
}

QString wordsOf(const ObjectInfo &o, const ObjectState &s)
{
    const QString a = QString("aeiouAEIOU").contains(o.className.left(1)) ? "an " : "a ";
    const QString what =
        a + o.className + (s.says.isEmpty() ? QString() : QStringLiteral(" saying “%1”").arg(s.says));
    return o.name.isEmpty() ? what : o.name + ", " + what;
}

class Outline
{
public:
    Outline(const Scene &scene, std::int64_t time) : scene_(scene), time_(time)
    {
        for (const ObjectState *s : scene.all(time))
            (s->has(link::IsWindow) ? tops_ : children_[s->in]).push_back(s);
        std::stable_sort(tops_.begin(), tops_.end(),
                         [](auto *a, auto *b) { return a->has(link::IsVisible) > b->has(link::IsVisible); });
    }
    void tell(LiveBoard *into)
    {
        for (const ObjectState *top : tops_)
            if (top->has(link::IsVisible) || !scene_.trace().object(top->object).name.isEmpty())
                add(*top, 0, into);
    }

private:
    void add(const ObjectState &s, int depth, LiveBoard *into)
    {
        const ObjectInfo o = scene_.trace().object(s.object);
        const bool inner = o.name.startsWith("qt_") || (o.name.isEmpty() && o.className.endsWith("Private"));
        const ObjectState *top = s.has(link::IsWidget) ? scene_.windowOf(s, time_) : nullptr;
        const std::uint64_t window = top ? top->address : 0;
        if (!inner && into->objects.size() >= mostObjects)
            ++into->more;
        else if (!inner)
            into->objects.push_back({s.address, o.text(), wordsOf(o, s), depth, s.has(link::IsVisible),
                                     s.has(link::IsEnabled), isSilent(s), window, placeOf(s)});
        std::vector<const ObjectState *> &in = children_[s.address];
        // Widgets first, then actions, timers and the like.
        std::stable_sort(in.begin(), in.end(), [](auto *a, auto *b) {
            const bool first = a->has(link::IsWidget), second = b->has(link::IsWidget);
            return first != second ? first : a->z < b->z;
        });
        for (const ObjectState *c : in)
            if (depth < 60)
                add(*c, inner ? depth : depth + 1, into);
    }
    QRect placeOf(const ObjectState &s) const
    {
        const ObjectState *window = s.has(link::IsWidget) ? scene_.windowOf(s, time_) : nullptr;
        if (!window || !s.has(link::IsVisible))
            return {};
        const QPoint corner = scene_.onScreen(*window, time_).topLeft();
        return scene_.shown(s, time_).translated(-corner);
    }
    bool isSilent(const ObjectState &s) const
    {
        if (!s.has(link::IsButton) || s.has(link::IsCheckable) || !s.has(link::IsVisible))
            return false;
        for (const WireRow &w : scene_.wires(s.address, time_))
            if (w.signalName() != "destroyed" && w.signalName() != "objectNameChanged")
                return false;
        return true;
    }

    const Scene &scene_;
    const std::int64_t time_;
    std::vector<const ObjectState *> tops_;
    QHash<std::uint64_t, std::vector<const ObjectState *>> children_;
};

} // namespace

void LiveWiring::count(const TraceModel &trace, Handlers &handlers)
{
    next_.resize(trace.threadCount());
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        const bool main = trace.isMain(t);
        for (std::uint32_t &row = next_[t]; row < rows.count(); ++row) {
            if (rows.kind(row) != SpanKind::Call)
                continue;
            const Span s = rows.at(row);
            if (!isCall(handlers, s))
                continue;
            Counted &c = counted_[s.what];
            ++c.calls;
            if (s.judged())
                c.worst = std::max(c.worst, s.duration(trace.now()));
            (main ? c.onLoop : c.elsewhere) = true;
        }
    }
}

LiveBoard LiveWiring::read(const TraceModel &trace, Handlers &handlers)
{
    LiveBoard board;
    const Scene scene(trace);
    board.known = scene.isKnown();
    count(trace, handlers);
    const std::int64_t time = whenItLived(scene, trace);
    Outline(scene, time).tell(&board);

    // Counts by what they are called: slots bound by name have no link of their own.
    QHash<QString, Counted> byName;
    QHash<std::uint64_t, Counted> bySerial;
    std::vector<LiveHandler> all;
    QHash<QString, std::size_t> at;
    for (auto it = counted_.constBegin(); it != counted_.constEnd(); ++it) {
        const HandlerName &h = handlers.of(it.key());
        if (const std::uint64_t serial = trace.link(it.key()).serial)
            bySerial[serial] = *it;
        else
            byName[h.name] = *it;
        const QString key = handlers.identity(it.key());
        if (!at.contains(key)) {
            at.insert(key, all.size());
            all.push_back({h.name, h.file, h.line});
        }
        LiveHandler &l = all[at.value(key)];
        l.calls += it->calls;
        l.worst = std::max(l.worst, it->worst);
        l.onLoop = l.onLoop || it->onLoop;
        l.inBackground = l.inBackground || it->elsewhere;
    }
    for (WiringRow &w : wiringOf(trace, handlers, scene, time)) {
        LiveSentence s;
        const Counted c = w.serial ? bySerial.value(w.serial) : byName.value(w.handler.section('(', 0, 0));
        s.calls = c.calls;
        s.worst = c.worst;
        const ObjectState *sender = scene.state(w.sender, time);
        if (sender && sender->has(link::IsTimer) && sender->every == 0 && c.calls > 1)
            for (LiveHandler &h : all)
                h.onTimer = h.onTimer || (h.name == w.handler && h.line == w.handlerLine);
        s.wire = std::move(w);
        board.sentences.push_back(std::move(s));
    }
    std::sort(all.begin(), all.end(), [](auto &a, auto &b) { return a.name < b.name; });
    board.handlers = std::move(all);
    return board;
}

} // namespace pipit
