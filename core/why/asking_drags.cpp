// Drags: whether one began, and whether it was let in.
#include "core/why/asking.h"

#include <QEvent>

namespace pipit
{

// A press on a list and moves with it, and no drag came of it.
bool Asking::dragNeverStarted(const InputEvent &press)
{
    int moves = 0;
    for (const InputEvent &e : events_) {
        if (e.start <= press.start)
            continue;
        if (e.type == QEvent::MouseButtonRelease)
            break;
        if (e.type == QEvent::DragEnter || e.type == QEvent::Drop)
            return false;
        moves += e.type == QEvent::MouseMove && e.info && e.info->button;
    }
    const ObjectState *w = self(press.start);
    if (moves < 3 || !w || !w->has(link::IsView) || w->has(link::DragsAway))
        return false;
    // It may have been meant to select rows.
    const QString sentence =
        QStringLiteral("no drag was started: %1 does not let its rows be dragged").arg(name());
    unknown(QStringLiteral("drag"), sentence, QStringLiteral("drag never started"), sentence,
            QStringLiteral("If they are to be dragged, call setDragEnabled(true) on %1").arg(name()));
    return true;
}

// A viewport takes drops for its list.
bool Asking::takesDrops(std::int64_t time) const
{
    const ObjectState *w = self(time);
    if (!w || w->has(link::TakesDrops))
        return true;
    for (const ObjectState *s : scene_.all(time))
        if (s->in == address_ && s->has(link::TakesDrops))
            return true;
    return false;
}

QString Asking::offeredBetween(std::int64_t from, std::int64_t to) const
{
    QString types;
    for (const OfferRow &o : scene_.offers())
        if (o.time >= from && o.time <= to)
            types = o.types;
    return types;
}

void Asking::byOffer(const OfferRow &offer)
{
    a_.at = offer.time;
    a_.interaction = QStringLiteral("drag");
    if (a_.stations.empty())
        fine(QStringLiteral("window system"),
             QStringLiteral("something was dragged over it at %1").arg(secondsOf(trace_, offer.time)));
    if (!isWhole(offer.time))
        return;
    const QString what = offer.types.isEmpty() ? QString() : QStringLiteral(" (%1)").arg(offer.types);
    if (!takesDrops(offer.time)) {
        broken(QStringLiteral("drop"), QStringLiteral("drop refused"),
               QStringLiteral("the drop%1 was refused: %2 does not accept drops").arg(what, name()),
               QStringLiteral("Call setAcceptDrops(true) on %1, and accept the drag in dragEnterEvent()")
                   .arg(name()));
        return;
    }
    unknown(QStringLiteral("drop"),
            QStringLiteral("the drag%1 did not reach %2, and why is not known").arg(what, name()));
}

void Asking::byDrag(const InputEvent &drag)
{
    a_.at = drag.start;
    a_.span = drag.span;
    a_.interaction = drag.type == QEvent::Drop ? QStringLiteral("drop") : QStringLiteral("drag");
    fine(QStringLiteral("window system"),
         QStringLiteral("something was dragged here at %1").arg(secondsOf(trace_, drag.start)));
    const ObjectState *w = self(drag.start);
    if (w && !isWhole(drag.start))
        return;
    if (w && !takesDrops(drag.start)) {
        byOffer({drag.start, address_, offeredBetween(drag.start, drag.end)});
        return;
    }
    if (!passedFilters(drag))
        return;
    const auto way = wayOf(trace_, trace_.span(drag.span));
    bool accepted = !way;
    if (way)
        for (const Hop &h : *way)
            accepted = accepted || h.outcome == Hop::Accepted || (h.outcome == Hop::Kept && h.accepted);
    if (!accepted) {
        const QString types = offeredBetween(drag.start - 50'000'000, drag.end);
        broken(QStringLiteral("drop"), QStringLiteral("drop refused"),
               QStringLiteral("%1 refused the drag%2: it was ignored in %3")
                   .arg(name(), types.isEmpty() ? QString() : QStringLiteral(", which offered ") + types,
                        drag.type == QEvent::Drop ? QStringLiteral("dropEvent()")
                                                  : QStringLiteral("dragEnterEvent()")),
               QStringLiteral("Accept it there, if what is offered fits"));
        return;
    }
    fine(QStringLiteral("drop"), QStringLiteral("%1 accepted it").arg(name()));
    if (drag.type != QEvent::Drop) {
        unknown(QStringLiteral("drop"), QStringLiteral("it was not dropped here in this recording"));
        return;
    }
    after(effectsOf(drag.start, drag.end, {drag.span}), {});
}

} // namespace pipit
