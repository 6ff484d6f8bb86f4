#include "core/pace/strains_parts.h"

#include <QEvent>
#include <QSet>

#include <algorithm>

namespace pipit
{

namespace
{

// What the recorder tells of widgets and actions only; timers and signals may be another thread's own.
bool isOfWidgets(const QString &what)
{
    static const QSet<QString> words{"text",        "checked", "value",          "index",     "title",
                                     "windowTitle", "enabled", "disabled",       "hidden",    "shown",
                                     "focus",       "repaint", "updatesEnabled", "grabMouse", "grabKeyboard"};
    return words.contains(what);
}

struct Crossing {
    Strain strain;
    std::uint64_t place = 0;
};

using Crossings = std::map<std::tuple<std::uint32_t, QString, std::uint16_t, std::uint64_t>, Crossing>;

void count(Crossings &all, std::uint32_t object, const QString &what, std::uint16_t thread,
           std::uint64_t place, std::int64_t at)
{
    Crossing &c = all[{object, what, thread, place}];
    if (!c.strain.count++)
        c.strain.at = at;
    c.place = place;
}

Crossings touchesOffTheLoop(const TraceModel &trace, TimeRange range)
{
    Crossings all;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        if (f.fact != link::Fact::Touched || !f.object || trace.isMain(f.thread) || f.time < range.from ||
            f.time > range.to)
            continue;
        const QString what = trace.factText(f).section('\t', 0, 0);
        if (isOfWidgets(what))
            count(all, f.object, "'s " + what + " was set", f.thread, f.other, f.time);
    }
    return all;
}

// QWidget::update() and its like post these; a worker that posts one has called it.
void addPosted(Crossings &all, const TraceModel &trace, TimeRange range)
{
    for (std::uint16_t t = 0; t < trace.threadCount(); ++t) {
        const ThreadRows &rows = trace.rows(t);
        if (!trace.isMain(t))
            continue;
        for (std::uint32_t n = 0; n < rows.postedCount() && rows.postedRow(n) < rows.count(); ++n) {
            const Span s = rows.at(rows.postedRow(n));
            if (s.what != QEvent::UpdateRequest && s.what != QEvent::LayoutRequest &&
                s.what != QEvent::UpdateLater)
                continue;
            const SpanId cause = rows.posting(s.id.row()).cause;
            if (cause && !trace.isMain(cause.thread()) && s.start >= range.from && s.start <= range.to)
                count(all, s.object,
                      s.what == QEvent::LayoutRequest ? " was laid out again" : " was asked to repaint",
                      cause.thread(), 0, s.start);
        }
    }
}

} // namespace

void addCrossings(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, TimeRange range)
{
    Crossings crossings = touchesOffTheLoop(trace, range);
    addPosted(crossings, trace, range);
    for (auto &[key, c] : crossings) {
        Strain s = c.strain;
        s.kind = StrainKind::OffTheLoop;
        s.who = trace.object(std::get<0>(key)).text() + std::get<1>(key);
        s.why = trace.thread(std::get<2>(key)).name;
        if (c.place)
            if (const StackFrame at = handlers.placeAt(c.place); at.own) {
                s.file = at.file;
                s.line = at.line;
            }
        all.push_back(std::move(s));
    }
}

void addReEntries(std::vector<Strain> &all, const TraceModel &trace, Handlers &handlers, std::uint16_t thread,
                  TimeRange range)
{
    struct Open {
        std::uint32_t after = 0;
        QString identity; // of a call; empty: a pass that was asked for
    };
    std::vector<Open> open; // calls and passes around the row, the outermost first
    std::map<QString, Strain> found;
    const ThreadRows &rows = trace.rows(thread);
    for (std::uint32_t i = 0; i < rows.count(); ++i) {
        const SpanKind kind = rows.kind(i);
        if (kind != SpanKind::Call && kind != SpanKind::ForcedPass)
            continue;
        while (!open.empty() && i >= open.back().after)
            open.pop_back();
        const Span s = rows.at(i);
        const std::uint32_t after = s.open() ? UINT32_MAX : rows.after(i);
        if (kind == SpanKind::ForcedPass) {
            open.push_back({after, {}});
            continue;
        }
        if (handlers.isHelper(s.what))
            continue;
        const QString identity = handlers.identity(s.what);
        const auto pass =
            std::find_if(open.rbegin(), open.rend(), [](const Open &o) { return o.identity.isEmpty(); });
        const bool inside =
            std::any_of(pass, open.rend(), [&](const Open &o) { return o.identity == identity; });
        open.push_back({after, identity});
        if (!inside || s.start < range.from || s.start > range.to)
            continue;
        Strain &f = found[identity];
        if (!f.count++) {
            const HandlerName &h = handlers.of(s.what);
            f.kind = StrainKind::ReEntry;
            f.who = h.name;
            f.file = h.file;
            f.line = h.line;
            f.at = s.start;
        }
        f.took += s.duration(trace.now());
    }
    for (auto &[identity, strain] : found)
        all.push_back(std::move(strain));
}

} // namespace pipit
