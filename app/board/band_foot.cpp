#include "app/board/band_foot.h"

#include "app/look/tokens.h"

#include <QMouseEvent>
#include <QPainter>

namespace pipit::app
{

namespace
{

constexpr Measure folded{30}, unfolded{72};

struct FootBand {
    Mark mark;
    QColor colour;
    QString words, fewer;
};

FootBand bandOf(Shape shape)
{
    const Tokens &t = Tokens::current();
    if (shape == Shape::OneGo)
        return {Mark::Loop, t.slate, "on the loop", "loop"};
    if (shape == Shape::Steps)
        return {Mark::Timer, t.ochre, "on a timer", "timer"};
    return {Mark::Background, t.teal, "in the background", "background"};
}

} // namespace

BandFoot::BandFoot(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("bandFoot");
    setFixedHeight(folded);
    setAccessibleName("Bands of handlers");
    setToolTip("Click a band to see its handlers; drop a card on it to change how the handler runs");
    connect(&session->document, &Document::changed, this, qOverload<>(&QWidget::update));
}

void BandFoot::setDragging(bool dragging, const QPoint &global)
{
    const auto over = dragging ? bandAt(global) : std::nullopt;
    if (dragging_ == dragging && over == over_)
        return;
    dragging_ = dragging;
    over_ = over;
    setFixedHeight(dragging ? unfolded : folded);
    update();
}

QRect BandFoot::zoneOf(Shape shape) const
{
    const int narrow = width() * 3 / 10; // the third one's words are longer
    const int i = shape == Shape::OneGo ? 0 : shape == Shape::Steps ? 1 : 2;
    return QRect(i * narrow, 0, i == 2 ? width() - 2 * narrow : narrow, height()).adjusted(4, 3, -4, -3);
}

std::optional<Shape> BandFoot::bandAt(const QPoint &global) const
{
    for (const Shape s : bands)
        if (zoneOf(s).contains(mapFromGlobal(global)))
            return s;
    return std::nullopt;
}

void BandFoot::paintEvent(QPaintEvent *)
{
    const Tokens &t = Tokens::current();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(t.hairline);
    p.drawLine(0, 0, width(), 0);
    p.setFont(smallFont());
    const auto wordsFor = [](const FootBand &band, int form) {
        return form == 0 ? band.words + "  " : form == 1 ? band.fewer + "  " : QString();
    };
    int form = 0; // of all three alike: the most words that fit, else the counts alone
    for (const Shape s : bands)
        while (form < 2 &&
               p.fontMetrics().horizontalAdvance(wordsFor(bandOf(s), form) + "000") > zoneOf(s).width() - 24)
            ++form;
    for (const Shape s : bands) {
        const FootBand band = bandOf(s);
        const QRect zone = zoneOf(s);
        int count = 0;
        if (session_->document.isOpen())
            for (const Handler &h : session_->document.project().handlers)
                count += h.shape == s;
        if (dragging_) {
            p.setPen(QPen(over_ == s ? t.ink : t.edge, over_ == s ? 2 : 1));
            p.setBrush(over_ == s ? t.buff : t.surface);
            p.drawRoundedRect(zone, radius, radius);
        }
        drawMark(p, band.mark, QPointF(zone.left() + 12, zone.center().y() + 0.5),
                 over_ == s ? t.ink : band.colour);
        p.setPen(over_ == s || count ? t.ink : t.ink2);
        p.drawText(zone.adjusted(24, 0, 0, 0), Qt::AlignVCenter,
                   wordsFor(band, form) + QString::number(count));
    }
}

void BandFoot::mousePressEvent(QMouseEvent *event)
{
    if (const auto band = bandAt(event->globalPosition().toPoint()))
        Q_EMIT bandAsked(*band);
}

} // namespace pipit::app
