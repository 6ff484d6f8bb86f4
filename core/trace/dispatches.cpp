#include "core/trace/dispatches.h"

#include "core/trace/inputs.h"

#include <QEvent>
#include <QStringList>

#include <algorithm>

namespace pipit
{

std::optional<std::vector<Hop>> wayOf(const TraceModel &trace, const Span &s)
{
    if (s.kind != SpanKind::Dispatch || s.open() || !(s.flags & (WayIsKnown | HasHops)))
        return std::nullopt;
    std::vector<Hop> way;
    if (s.flags & HasHops)
        way = trace.rows(s.thread).hops(s.id.row());
    for (Hop &h : way) // what happens on its viewport a scroll area gets by a filter of its own
        if (h.outcome == Hop::Kept && trace.object(h.object).name == "qt_abstractscrollarea_filter") {
            h.role = Hop::ScrollArea;
            h.outcome = h.accepted ? Hop::Accepted : Hop::Ignored;
        }
    if (s.flags & OneGotIt) { // after its own filters, and before those of others
        const auto others =
            std::find_if(way.begin(), way.end(), [&](const Hop &h) { return h.before != s.object; });
        way.insert(others, {s.object, 0, s.flags & Accepted ? Hop::Accepted : Hop::Ignored, Hop::Receiver});
    }
    return way;
}

QString roleWords(Hop::Role role)
{
    switch (role) {
    case Hop::Filter:
        return QStringLiteral("filter");
    case Hop::ApplicationFilter:
        return QStringLiteral("application filter");
    case Hop::ScrollArea:
        return QStringLiteral("scroll area");
    default:
        return QStringLiteral("receiver");
    }
}

QString outcomeWords(Hop::Outcome outcome)
{
    switch (outcome) {
    case Hop::Accepted:
        return QStringLiteral("accepted");
    case Hop::Passed:
        return QStringLiteral("passed on");
    case Hop::Kept:
        return QStringLiteral("swallowed");
    default:
        return QStringLiteral("ignored");
    }
}

QString hopText(const TraceModel &trace, const Hop &hop)
{
    const QString who = trace.object(hop.object).text(), did = outcomeWords(hop.outcome);
    if (hop.role == Hop::Receiver)
        return who + ' ' + did + " it";
    if (hop.role == Hop::ScrollArea)
        return "the scroll area around " + trace.object(hop.before).text() + ' ' + did + " it";
    const QString filter = hop.ofToolkit                        ? QStringLiteral("a filter of the toolkit")
                           : hop.role == Hop::ApplicationFilter ? "the application's filter " + who
                                                                : "the filter " + who;
    return hop.outcome == Hop::Kept
               ? QStringLiteral("%1 swallowed it before %2").arg(filter, trace.object(hop.before).text())
               : filter + " passed it on";
}

bool canBeRefused(int type)
{
    switch (type) {
    case QEvent::MouseButtonPress:
    case QEvent::MouseButtonRelease:
    case QEvent::MouseButtonDblClick:
    case QEvent::MouseMove:
    case QEvent::KeyPress:
    case QEvent::KeyRelease:
    case QEvent::ShortcutOverride:
    case QEvent::Wheel:
    case QEvent::DragEnter:
    case QEvent::DragMove:
    case QEvent::Drop:
    case QEvent::ContextMenu:
    case QEvent::Close:
    case QEvent::InputMethod:
    case QEvent::ToolTip:
    case QEvent::WhatsThis:
    case QEvent::StatusTip:
    case QEvent::TabletMove:
    case QEvent::TabletPress:
    case QEvent::TabletRelease:
    case QEvent::TouchBegin:
    case QEvent::TouchUpdate:
    case QEvent::TouchEnd:
    case QEvent::Gesture:
    case QEvent::NativeGesture:
        return true;
    default:
        return false;
    }
}

bool isWorthTelling(const Span &dispatch, const std::vector<Hop> &way)
{
    const auto receivers = std::count_if(way.begin(), way.end(), [](const Hop &h) {
        return h.role == Hop::Receiver || h.role == Hop::ScrollArea;
    });
    return receivers != 1 || way.back().outcome == Hop::Kept || canBeRefused(int(dispatch.what));
}

QString wayText(const TraceModel &trace, const Span &s)
{
    const auto way = wayOf(trace, s);
    if (!way || !isWorthTelling(s, *way))
        return {};
    if (way->empty()) {
        const auto input = s.what == QEvent::MouseMove ? inputOf(trace, s) : std::nullopt;
        return QStringLiteral("No receiver got it: notify() did not deliver it") +
               (input && !input->button
                    ? "; without mouse tracking, a widget gets moves only while a button is held"
                    : "");
    }
    QStringList hops;
    for (const Hop &h : *way)
        hops << hopText(trace, h);
    QString text = hops.join(", then ");
    const bool taken = std::any_of(way->begin(), way->end(), [](const Hop &h) {
        return h.outcome == Hop::Accepted || h.outcome == Hop::Kept;
    });
    if (!taken && canBeRefused(int(s.what)))
        text += ", so no widget accepted it";
    if (way->front().role != Hop::Receiver) // a name stays as it is
        text[0] = text[0].toUpper();
    return text;
}

} // namespace pipit
