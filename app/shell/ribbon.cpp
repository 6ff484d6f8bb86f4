#include "app/shell/ribbon.h"

#include "app/look/tokens.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace pipit::app
{

namespace
{

constexpr std::int64_t minute = LiveFigures::ribbonStep * LiveFigures::ribbonSlots;

// 0 for 0.1 ms and less, 1 for 10 s and more.
double height(std::int64_t ns)
{
    if (ns <= 100'000)
        return 0;
    return std::min(1.0, std::log10(double(ns) / 1e5) / 5.0);
}

} // namespace

Ribbon::Ribbon(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setFixedHeight(ribbonHeight);
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName("Pace of the last minute");
    connect(&session->shown, &ShownTrace::figuresChanged, this, [this] {
        const LiveFigures &f = session_->shown.figures();
        const std::int64_t slot = f.now / LiveFigures::ribbonStep;
        const std::int64_t newest =
            f.ribbon.empty() || f.now <= 0 ? 0 : f.ribbon[LiveFigures::ribbonSlot(slot)];
        const Shown now{figure(), slot, newest};
        if (now == shown_)
            return;
        if (now.figure != shown_.figure)
            setAccessibleDescription(now.figure);
        shown_ = now;
        update();
    });
    connect(&session->runs, &Runs::stateChanged, this, qOverload<>(&QWidget::update));
}

QRect Ribbon::lineArea() const
{
    return QRect(scaled(64), 5, width() - scaled(64) - scaled(360), QWidget::height() - 10);
}

QString Ribbon::figure() const
{
    const LiveFigures &f = session_->shown.figures();
    if (f.open)
        return QStringLiteral("%1 is blocking the event loop, %2")
            .arg(f.open->contributors.front().handler.name, durationText(f.open->duration));
    if (f.stalls.empty()) {
        const Coverage seen = session_->shown.coverage();
        return !f.spans         ? QString()
               : !seen.loopSeen ? QString("the event loop was not reached")
                                : QStringLiteral("no stall over %1 ms").arg(stallBudget.count()) +
                                      (seen.whole() ? "" : ", where recorded");
    }
    std::int64_t worst = 0;
    for (const Stall &s : f.stalls)
        worst = std::max(worst, s.duration);
    return QStringLiteral("%1 %2, worst %3")
        .arg(f.stalls.size())
        .arg(f.stalls.size() == 1 ? "stall" : "stalls", durationText(worst));
}

std::optional<Ribbon::Span> Ribbon::notch(const Stall &s) const
{
    const LiveFigures &f = session_->shown.figures();
    const QRect area = lineArea();
    const double from = 1.0 - double(f.now - s.start) / double(minute);
    const double to = 1.0 - double(f.now - s.start - s.duration) / double(minute);
    if (to < 0)
        return std::nullopt;
    const qreal left = area.left() + std::max(0.0, from) * area.width();
    const qreal right = area.left() + std::min(1.0, to) * area.width();
    return Span{left, std::max(right, left + 6)};
}

void Ribbon::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    const LiveFigures &f = session_->shown.figures();
    QPainter p(this);
    p.fillRect(rect(), t.paper);
    p.setPen(t.hairline);
    p.drawLine(0, QWidget::height() - 1, width(), QWidget::height() - 1);
    p.setFont(smallFont());
    p.setPen(t.ink2);
    p.drawText(QRect(padding, 0, scaled(48), QWidget::height()), Qt::AlignVCenter, "pace");
    const QRect area = lineArea();
    p.setRenderHint(QPainter::Antialiasing);
    if (!f.ribbon.empty() && f.now) {
        const std::int64_t newest = f.now / LiveFigures::ribbonStep;
        QPainterPath line;
        for (int i = 0; i < LiveFigures::ribbonSlots; ++i) {
            const std::int64_t slot = newest - LiveFigures::ribbonSlots + 1 + i;
            const std::int64_t v = slot < 0 ? 0 : f.ribbon[LiveFigures::ribbonSlot(slot)];
            const QPointF at(area.left() + (i + 0.5) * area.width() / LiveFigures::ribbonSlots,
                             area.bottom() - pipit::app::height(v) * area.height());
            i ? line.lineTo(at) : line.moveTo(at);
        }
        // Without smoothing: it is painted some times a second, and smoothed it takes most of what Pipit
        // takes.
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(t.edge, 0));
        p.drawPath(line);
        p.setRenderHint(QPainter::Antialiasing);
    } else {
        p.setPen(QPen(t.hairline, 1));
        p.drawLine(area.bottomLeft(), area.bottomRight());
    }
    const auto drawNotch = [&](const Stall &s) {
        if (const auto n = notch(s)) {
            QPolygonF shape;
            shape << QPointF(n->from, area.top()) << QPointF(n->to, area.top())
                  << QPointF((n->from + n->to) / 2 + 1, area.bottom())
                  << QPointF((n->from + n->to) / 2 - 1, area.bottom());
            p.setPen(Qt::NoPen);
            p.setBrush(t.vermilion);
            p.drawPolygon(shape);
        }
    };
    for (const Stall &s : f.stalls)
        drawNotch(s);
    if (f.open)
        drawNotch(*f.open);
    const bool broken = f.open || !f.stalls.empty();
    p.setPen(broken ? t.vermilion : t.ink2);
    const QRect words(width() - scaled(360) + 12, 0, scaled(360) - 12 - padding, QWidget::height());
    p.drawText(words, Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(figure(), Qt::ElideRight, words.width()));
    if (hasFocus()) {
        p.setPen(QPen(t.ink, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(1, 1, -1, -1));
    }
}

void Ribbon::mousePressEvent(QMouseEvent *event)
{
    const LiveFigures &f = session_->shown.figures();
    for (std::size_t i = 0; i < f.stalls.size(); ++i)
        if (const auto n = notch(f.stalls[i]);
            n && event->position().x() >= n->from - 3 && event->position().x() <= n->to + 3) {
            Q_EMIT stallOpened(int(i));
            return;
        }
    if (f.open || !f.stalls.empty())
        Q_EMIT stallOpened(f.open ? -1 : int(f.stalls.size()) - 1);
}

void Ribbon::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
        Q_EMIT stallOpened(session_->shown.figures().open ? -1
                                                          : int(session_->shown.figures().stalls.size()) - 1);
    else
        QWidget::keyPressEvent(event);
}

} // namespace pipit::app
