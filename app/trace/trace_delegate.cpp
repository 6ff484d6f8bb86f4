#include "app/trace/trace_delegate.h"

#include "app/look/row_list.h"
#include "core/pace/stalls.h"
#include "core/trace/dispatches.h"

#include <QPainter>

#include <cmath>

namespace pipit::app
{

namespace
{

// What the columns are; the same measures in heading and rows.
constexpr Measure timeColumn{72}, threadColumn{84}, tookColumn{88};

// Who was asked to take an input, one after the other: filled where it was accepted, hollow where it was
// ignored, barred where a filter swallowed it, a point where one passed it on.
void paintWay(QPainter *p, const TraceModel &trace, const Span &s, const QRect &area)
{
    constexpr Measure step{15}, size{8};
    const auto way = wayOf(trace, s);
    if (!way || !isWorthTelling(s, *way))
        return;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QColor ink = p->pen().color();
    QRectF at(area.left(), area.center().y() - size / 2.0 + 0.5, size, size);
    for (const Hop &h : *way) {
        if (at.right() + size > area.right())
            break; // the sentence below tells all
        p->setPen(QPen(ink, 1.2));
        p->setBrush(h.outcome == Hop::Accepted ? QBrush(ink) : Qt::NoBrush);
        if (h.outcome == Hop::Passed)
            p->fillRect(QRectF(at.center() - QPointF(1, 1), QSizeF(2, 2)), ink);
        else
            p->drawEllipse(at);
        if (h.outcome == Hop::Kept)
            p->drawLine(QPointF(at.left() - 1, at.bottom() + 1), QPointF(at.right() + 1, at.top() - 1));
        at.translate(step, 0);
    }
    p->restore();
}

} // namespace

void TraceHeading::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    p.setFont(smallFont());
    p.setPen(t.ink2);
    const QRect a = rect().adjusted(padding, 0, -padding, 0);
    const int right = a.right() - tookColumn - 2 - threadColumn * 2;
    p.drawText(QRect(a.left(), 0, timeColumn, height()), Qt::AlignRight | Qt::AlignVCenter, "time");
    p.drawText(QRect(a.left() + timeColumn + 20, 0, scaled(200), height()), Qt::AlignVCenter,
               "what happened");
    p.drawText(QRect(right + 8, 0, threadColumn, height()), Qt::AlignVCenter, "loop");
    p.drawText(QRect(right + 8 + threadColumn, 0, threadColumn, height()), Qt::AlignVCenter, "threads");
    p.drawText(QRect(a.right() - tookColumn, 0, tookColumn, height()), Qt::AlignRight | Qt::AlignVCenter,
               "took");
    p.setPen(t.hairline);
    p.drawLine(0, height() - 1, width(), height() - 1);
}

TraceHeading::TraceHeading()
{
    setFixedHeight(scaled(22));
}

TraceDelegate::TraceDelegate(Session *session, TraceRows *model)
    : QStyledItemDelegate(model), session_(session), model_(model)
{
}

QSize TraceDelegate::sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const
{
    return {200, scaled(26)};
}

void TraceDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    const StoryRow r = model_->at(index.row());
    const Tokens &t = Tokens::current();
    const bool selected = option.state & QStyle::State_Selected;
    p->save();
    paintRowGround(p, option);
    const QRect a = option.rect.adjusted(padding, 0, -padding, 0);
    p->setFont(smallFont());
    p->setPen(selected ? t.ink : t.ink2);
    p->drawText(QRect(a.left(), a.top(), timeColumn, a.height()), Qt::AlignRight | Qt::AlignVCenter,
                QStringLiteral("%1 s").arg(double(r.start - trace->firstTime()) / 1e9, 0, 'f', 3));
    const int columns = threadColumn, story = a.left() + timeColumn + 20,
              right = a.right() - tookColumn - 2 - columns * 2;
    p->setPen(t.hairline);
    p->drawLine(a.left() + timeColumn + 10, option.rect.top(), a.left() + timeColumn + 10,
                option.rect.bottom());
    const Span s = r.span ? trace->span(r.span) : Span{};
    if (r.span && s.kind == SpanKind::Turn && !selected) { // where a turn begins
        p->setPen(t.hairline);
        p->drawLine(a.left(), option.rect.top(), a.right(), option.rect.top());
    }
    if (!r.span) {
        const QString waits = "the loop waits for " + durationText(r.idle);
        p->setPen(selected ? t.ink : t.ink2);
        p->drawText(QRect(story, a.top(), right - story, a.height()), Qt::AlignVCenter, waits);
        p->setPen(QPen(t.hairline, 1, Qt::DashLine));
        p->drawLine(story + p->fontMetrics().horizontalAdvance(waits) + 16, a.center().y(), right,
                    a.center().y());
        p->restore();
        return;
    }
    const bool main = trace->isMain(s.thread);
    const std::int64_t duration = s.judged() ? s.duration(trace->now()) : 0;
    const bool slow = overBudget(duration) && s.kind == SpanKind::Call && main;
    const bool call = s.kind == SpanKind::Call;
    QFont f = textFont();
    f.setWeight(call ? QFont::Medium : QFont::Normal);
    p->setFont(f);
    p->setPen(slow && !selected                                ? t.vermilion
              : s.kind == SpanKind::Signal || call || selected ? t.ink
                                                               : t.ink2);
    const int x = story + std::min(r.depth, 12) * 18;
    const QString sentence =
        p->fontMetrics().elidedText(model_->sentence(index.row()), Qt::ElideRight, right - x);
    p->drawText(QRect(x, a.top(), right - x, a.height()), Qt::AlignVCenter, sentence);
    paintWay(p, *trace, s,
             QRect(QPoint(x + p->fontMetrics().horizontalAdvance(sentence) + 14, a.top()),
                   QPoint(right, a.bottom())));
    // The thread columns: the loop's, then the others'; a bar as high as its row, wider when longer.
    const int column = right + 8 + (main ? 0 : columns);
    const QColor colour = slow ? t.vermilion : main ? t.slate : t.teal;
    const int w = int(
        std::clamp(8.0 + 60.0 * std::log10(1.0 + double(duration) / 1e5) / 4.0, 8.0, double(columns - 16)));
    if (call || s.kind == SpanKind::Dispatch)
        p->fillRect(QRect(column, a.center().y() - 3, w, 7), call ? colour : t.hairline);
    if (s.kind != SpanKind::Message && s.kind != SpanKind::Loop) {
        p->setFont(smallFont());
        p->setPen(slow && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(QRect(a.right() - tookColumn, a.top(), tookColumn, a.height()),
                    Qt::AlignRight | Qt::AlignVCenter,
                    !s.judged() ? "not known"
                    : s.open()  ? "running"
                                : durationText(duration));
    }
    p->restore();
}

} // namespace pipit::app
