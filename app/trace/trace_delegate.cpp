#include "app/trace/trace_delegate.h"

#include "app/look/row_list.h"
#include "app/trace/thread_columns.h"
#include "core/pace/stalls.h"
#include "core/trace/account.h"
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
    const ThreadColumns columns(session_->shown.trace());
    const int right = a.right() - tookColumn - 2 - threadColumn * columns.count();
    p.drawText(QRect(a.left(), 0, timeColumn, height()), Qt::AlignRight | Qt::AlignVCenter, "time");
    p.drawText(QRect(a.left() + timeColumn + 20, 0, scaled(200), height()), Qt::AlignVCenter,
               "what happened");
    for (int i = 0; i < columns.count(); ++i)
        p.drawText(QRect(right + 8 + threadColumn * i, 0, threadColumn - 6, height()), Qt::AlignVCenter,
                   p.fontMetrics().elidedText(columns.name(i), Qt::ElideRight, threadColumn - 6));
    p.drawText(QRect(a.right() - tookColumn, 0, tookColumn, height()), Qt::AlignRight | Qt::AlignVCenter,
               "took");
    p.setPen(t.hairline);
    p.drawLine(0, height() - 1, width(), height() - 1);
}

TraceHeading::TraceHeading(Session *session) : session_(session)
{
    connect(&session->shown, &ShownTrace::figuresChanged, this, qOverload<>(&QWidget::update));
    connect(&session->shown, &ShownTrace::reset, this, qOverload<>(&QWidget::update));
    setFixedHeight(scaled(22));
}

TraceDelegate::TraceDelegate(Session *session, TraceRows *model, const Lit *lit)
    : QStyledItemDelegate(model), session_(session), model_(model), lit_(lit)
{
}

QSize TraceDelegate::sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const
{
    return {200, scaled(26)};
}

namespace
{

// A chevron: points down where the rows follow, to the right where they are folded.
void paintChevron(QPainter *p, const QPointF &centre, bool opened, const QColor &colour)
{
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(colour, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    const double r = 3;
    p->drawPolyline(opened ? QPolygonF{centre + QPointF(-r, -r / 2), centre + QPointF(0, r / 2),
                                       centre + QPointF(r, -r / 2)}
                           : QPolygonF{centre + QPointF(-r / 2, -r), centre + QPointF(r / 2, 0),
                                       centre + QPointF(-r / 2, r)});
    p->restore();
}

} // namespace

struct TraceDelegate::Place {
    QRect row, inner;
    int line, story, right; // x of the line beside the times, of the sentences, of where they end
    bool selected;
};

// The line beside the times; of what is selected, from what began it to what came of it at last.
void TraceDelegate::paintLine(QPainter *p, const Place &at, const StoryRow &r) const
{
    const Tokens &t = Tokens::current();
    p->setPen(t.hairline);
    p->drawLine(at.line, at.row.top(), at.line, at.row.bottom());
    if (lit_->to <= 0 || r.start < lit_->from || r.start > lit_->to)
        return;
    p->fillRect(QRect(at.line, at.row.top(), 2, at.row.height()), t.edge);
    const bool cause = r.span && lit_->causes.count(r.span), effect = r.span && lit_->effects.count(r.span);
    if (!cause && !effect)
        return;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(t.ink, 1.5));
    p->setBrush(cause ? t.ink : at.selected ? t.buff : t.surface);
    p->drawEllipse(QPointF(at.line + 1, at.inner.center().y() + 0.5), 4, 4);
    p->restore();
}

void TraceDelegate::paintIdle(QPainter *p, const Place &at, const StoryRow &r) const
{
    const Tokens &t = Tokens::current();
    const QString waits = idleText(*session_->shown.trace(), r, model_->choice());
    p->setPen(at.selected ? t.ink : t.ink2);
    p->drawText(QRect(at.story, at.inner.top(), at.right - at.story, at.inner.height()), Qt::AlignVCenter,
                waits);
    p->setPen(QPen(t.hairline, 1, Qt::DashLine));
    p->drawLine(at.story + p->fontMetrics().horizontalAdvance(waits) + 16, at.inner.center().y(), at.right,
                at.inner.center().y());
}

void TraceDelegate::paintTook(QPainter *p, const Place &at, const QString &text, const QColor &colour) const
{
    p->setFont(smallFont());
    p->setPen(colour);
    p->drawText(QRect(at.inner.right() - tookColumn, at.inner.top(), tookColumn, at.inner.height()),
                Qt::AlignRight | Qt::AlignVCenter, text);
}

void TraceDelegate::paintFold(QPainter *p, const Place &at, const StoryRow &r, const QString &sentence) const
{
    const Tokens &t = Tokens::current();
    const int x = at.story + std::min(r.depth, 12) * 18;
    paintChevron(p, QPointF(x + 4, at.inner.center().y() + 0.5), r.repeats->opened,
                 at.selected ? t.ink : t.ink2);
    p->setFont(textFont());
    p->setPen(t.ink);
    const QRect area(x + 16, at.inner.top(), at.right - x - 16, at.inner.height());
    p->drawText(area, Qt::AlignVCenter, p->fontMetrics().elidedText(sentence, Qt::ElideRight, area.width()));
    paintTook(p, at, "in " + durationText(r.repeats->end - r.start), at.selected ? t.ink : t.ink2);
}

// The thread columns: the loop's with what waits in its queue by the end of it, then the others'; a bar is
// wider where it took longer.
void TraceDelegate::paintThreads(QPainter *p, const Place &at, const TraceModel &trace, const Span &s,
                                 const QColor &colour) const
{
    const bool call = s.kind == SpanKind::Call;
    const std::int64_t duration = s.judged() ? s.duration(trace.now()) : 0;
    const int column = at.right + 8 + threadColumn * ThreadColumns(&trace).of(s.thread);
    const int w = int(std::clamp(8.0 + 40.0 * std::log10(1.0 + double(duration) / 1e5) / 4.0, 8.0,
                                 double(threadColumn - 40)));
    if (call || s.kind == SpanKind::Dispatch)
        p->fillRect(QRect(column, at.inner.center().y() - 3, w, 7),
                    call ? colour : Tokens::current().hairline);
    constexpr std::int64_t worthCounting = 1'000'000;
    if (duration < worthCounting || (!call && s.kind != SpanKind::Turn))
        return;
    constexpr int most = 99;
    const int waiting = waitingAt(trace, s.thread, s.end < 0 ? trace.now() : s.end, most);
    if (!waiting)
        return;
    p->setFont(smallFont());
    p->setPen(at.selected ? Tokens::current().ink : Tokens::current().ink2);
    p->drawText(QRect(column, at.inner.top(), threadColumn - 12, at.inner.height()),
                Qt::AlignRight | Qt::AlignVCenter,
                QStringLiteral("%1%2 wait").arg(waiting).arg(waiting == most ? "+" : ""));
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
    const Place at{option.rect,
                   a,
                   a.left() + timeColumn + 10,
                   a.left() + timeColumn + 20,
                   a.right() - tookColumn - 2 - threadColumn * ThreadColumns(trace).count(),
                   selected};
    p->setFont(smallFont());
    p->setPen(selected ? t.ink : t.ink2);
    p->drawText(QRect(a.left(), a.top(), timeColumn, a.height()), Qt::AlignRight | Qt::AlignVCenter,
                QStringLiteral("%1 s").arg(double(r.start - trace->firstTime()) / 1e9, 0, 'f', 3));
    const Span s = r.span ? trace->span(r.span) : Span{};
    if (r.span && s.kind == SpanKind::Turn && !selected) { // where a turn begins
        p->setPen(t.hairline);
        p->drawLine(a.left(), option.rect.top(), a.right(), option.rect.top());
    }
    paintLine(p, at, r);
    p->setFont(smallFont());
    if (!r.span)
        paintIdle(p, at, r);
    else if (r.repeats)
        paintFold(p, at, r, model_->sentence(index.row()));
    else
        paintSpan(p, at, r, s, model_->sentence(index.row()));
    p->restore();
}

// A marked row: a diamond beside its time, and the note where the sentences end.
void TraceDelegate::paintMark(QPainter *p, const Place &at, const Bookmarks::Mark &mark) const
{
    const Tokens &t = Tokens::current();
    const QPointF c(at.inner.left() + 6, at.inner.center().y() + 0.5);
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(Qt::NoPen);
    p->setBrush(t.ink);
    p->drawPolygon(QPolygonF{c + QPointF(0, -5), c + QPointF(5, 0), c + QPointF(0, 5), c + QPointF(-5, 0)});
    p->restore();
    p->setFont(smallFont());
    p->setPen(t.ink);
    const int room = (at.right - at.story) / 2;
    p->drawText(QRect(at.right - room - 8, at.inner.top(), room, at.inner.height()),
                Qt::AlignRight | Qt::AlignVCenter,
                p->fontMetrics().elidedText(mark.note, Qt::ElideRight, room));
}

void TraceDelegate::paintSpan(QPainter *p, const Place &at, const StoryRow &r, const Span &s,
                              const QString &text) const
{
    const Tokens &t = Tokens::current();
    const TraceModel &trace = *session_->shown.trace();
    const bool main = trace.isMain(s.thread), call = s.kind == SpanKind::Call;
    const std::int64_t duration = s.judged() ? s.duration(trace.now()) : 0;
    const bool slow = overBudget(duration) && call && main;
    QFont f = textFont();
    f.setWeight(call ? QFont::Medium : QFont::Normal);
    p->setFont(f);
    p->setPen(slow && !at.selected                                ? t.vermilion
              : s.kind == SpanKind::Signal || call || at.selected ? t.ink
                                                                  : t.ink2);
    const int x = at.story + std::min(r.depth, 12) * 18;
    const QString sentence = p->fontMetrics().elidedText(text, Qt::ElideRight, at.right - x);
    p->drawText(QRect(x, at.inner.top(), at.right - x, at.inner.height()), Qt::AlignVCenter, sentence);
    paintWay(p, trace, s,
             QRect(QPoint(x + p->fontMetrics().horizontalAdvance(sentence) + 14, at.inner.top()),
                   QPoint(at.right, at.inner.bottom())));
    if (const Bookmarks::Mark *m = session_->bookmarks.of(r.span))
        paintMark(p, at, *m);
    paintThreads(p, at, trace, s, slow ? t.vermilion : main ? t.slate : t.teal);
    if (s.kind != SpanKind::Message && s.kind != SpanKind::Loop)
        paintTook(p, at,
                  !s.judged() ? QString("not known")
                  : s.open()  ? QString("running")
                              : durationText(duration),
                  slow && !at.selected ? t.vermilion
                  : at.selected        ? t.ink
                                       : t.ink2);
}

} // namespace pipit::app
