// How a sentence and a card are painted.
#include "app/board/wiring_view.h"

#include "app/look/row_list.h"
#include "app/look/tokens.h"

#include <QPainter>

namespace pipit::app
{

namespace
{

QColor bandColour(Shape shape)
{
    const Tokens &t = Tokens::current();
    return shape == Shape::OneGo ? t.slate : shape == Shape::Steps ? t.ochre : t.teal;
}

Mark bandMark(Shape shape)
{
    return shape == Shape::OneGo ? Mark::Loop : shape == Shape::Steps ? Mark::Timer : Mark::Background;
}

} // namespace

int SentenceDelegate::rowHeightOf()
{
    return rowHeight;
}

void SentenceDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const
{
    const SentenceRow r = model_->row(index.row());
    const Tokens &t = Tokens::current();
    const bool selected = option.state & QStyle::State_Selected;
    p->save();
    paintRowGround(p, option);
    const QRect a = option.rect.adjusted(8, 0, -8, 0);
    const int sourceWidth = scaled(a.width() < scaled(440) ? 108 : 128);
    const bool noticed = !r.finding.isEmpty(), broken = noticed && r.broken;
    const bool quiet = !r.enabled || r.connection.isEmpty();
    const QColor words = selected ? t.ink : broken ? t.vermilion : quiet ? t.ink2 : t.ink;
    if (r.first && index.row() > 0 && !selected) {
        p->setPen(t.hairline);
        p->drawLine(option.rect.topLeft(), option.rect.topRight());
    }
    drawMark(*p,
             noticed   ? Mark::Finding
             : r.event ? Mark::Event
                       : Mark::Signal,
             QPointF(a.left() + 8, a.center().y() + 0.5),
             selected  ? t.ink
             : broken  ? t.vermilion
             : noticed ? t.ink2
                       : t.slate);
    QFont medium = textFont();
    medium.setWeight(QFont::Medium);
    p->setFont(medium);
    p->setPen(words);
    if (r.first || selected)
        p->drawText(QRect(a.left() + 20, a.top(), sourceWidth - 8, a.height()), Qt::AlignVCenter,
                    p->fontMetrics().elidedText(r.source, Qt::ElideMiddle, sourceWidth - 8));
    p->setFont(textFont());
    const int figures = session_->shown.figures().connections.isEmpty() ? 4 : scaled(112);
    const QRect phrase(a.left() + 20 + sourceWidth, a.top(), a.width() - 20 - sourceWidth - figures,
                       a.height());
    const QString text = p->fontMetrics().elidedText(r.phrase, Qt::ElideRight, phrase.width());
    p->drawText(phrase, Qt::AlignVCenter, text);
    int used = p->fontMetrics().horizontalAdvance(text) + 8;
    if (r.shape != Shape::OneGo && used + 14 < phrase.width()) { // which band its handler is in
        drawMark(*p, bandMark(r.shape), QPointF(phrase.left() + used + 5, a.center().y() + 0.5),
                 selected ? t.ink : bandColour(r.shape));
        used += 20;
    }
    if (const QString words = r.mark; !words.isEmpty()) {
        p->setFont(smallFont());
        const int room = phrase.width() - used;
        if (room > 24) {
            const QString mark = p->fontMetrics().elidedText(words, Qt::ElideRight, room - 12);
            const QRect box(phrase.left() + used, a.center().y() - scaled(9),
                            p->fontMetrics().horizontalAdvance(mark) + 10, scaled(19));
            p->setPen(selected ? t.ink : t.edge);
            p->setBrush(Qt::NoBrush);
            p->drawRoundedRect(box, 4, 4);
            p->setPen(selected ? t.ink : t.ink2);
            p->drawText(box, Qt::AlignCenter, mark);
        }
    }
    const CallFigures f = session_->shown.figures().connections.value(r.connection);
    if (f.count) {
        p->setFont(smallFont());
        p->setPen(selected ? t.ink : t.ink2);
        p->drawText(QRect(a.right() - scaled(112), a.top(), scaled(44), a.height()),
                    Qt::AlignRight | Qt::AlignVCenter, QString::number(f.count));
        p->setPen(overBudget(f.worstOnLoop) && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(QRect(a.right() - scaled(66), a.top(), scaled(66), a.height()),
                    Qt::AlignRight | Qt::AlignVCenter, durationText(f.worst));
    }
    p->restore();
}

QSize CardDelegate::sizeHint(const QStyleOptionViewItem &, const QModelIndex &index) const
{
    const CardRow &r = model_->rows()[index.row()];
    if (r.kind == CardRow::Band)
        return {200, bandHeading + 4};
    return {200, (session_->selection.now().handler == r.name ? cardOpen : cardHeight) + 6};
}

QRect CardDelegate::openWord(const QRect &card)
{
    return QRect(card.left() + 12, card.bottom() - scaled(30), scaled(84), scaled(24));
}
QRect CardDelegate::moveWord(const QRect &card)
{
    return QRect(card.left() + scaled(100), card.bottom() - scaled(30), card.width() - scaled(112),
                 scaled(24));
}

void CardDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const
{
    const CardRow &r = model_->rows()[index.row()];
    const Tokens &t = Tokens::current();
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    if (r.kind == CardRow::Band) {
        const QRect a = option.rect.adjusted(4, 4, -8, 0);
        drawMark(*p, bandMark(r.shape), QPointF(a.left() + 8, a.center().y()), bandColour(r.shape));
        p->setFont(smallFont());
        p->setPen(t.ink2);
        p->drawText(a.adjusted(22, 0, 0, 0), Qt::AlignVCenter, r.name);
        const int used = 22 + p->fontMetrics().horizontalAdvance(r.name) + 10;
        p->setPen(t.hairline);
        p->drawLine(a.left() + used, a.center().y(), a.right(), a.center().y());
        p->restore();
        return;
    }
    const bool selected = session_->selection.now().handler == r.name;
    const QRect card = option.rect.adjusted(4, 0, -8, -6);
    p->setPen(QPen(selected ? t.ink : t.hairline, selected ? 2 : 1));
    p->setBrush(selected ? t.buff : option.state & QStyle::State_MouseOver ? t.raised : t.surface);
    p->drawRoundedRect(card, radius, radius);
    p->setPen(Qt::NoPen);
    p->setBrush(bandColour(r.shape));
    p->drawRoundedRect(QRect(card.left() + 4, card.top() + 8, 3, scaled(28)), 1.5, 1.5);
    QFont medium = textFont();
    medium.setWeight(QFont::Medium);
    p->setFont(medium);
    p->setPen(t.ink);
    const QRect text = card.adjusted(14, 4, -12, 0);
    p->drawText(QRect(text.left(), text.top(), text.width(), scaled(19)), Qt::AlignVCenter, r.name);
    const int named = p->fontMetrics().horizontalAdvance(r.name) + padding;
    p->setFont(smallFont());
    if (!r.pace.isEmpty() && named < text.width()) {
        p->setPen(selected ? t.ink : t.ink2);
        const QRect rest(text.left() + named, text.top(), text.width() - named, scaled(19));
        p->drawText(rest, Qt::AlignVCenter | Qt::AlignRight,
                    p->fontMetrics().elidedText(r.pace, Qt::ElideRight, rest.width()));
    }
    const CallFigures f = figuresOfHandler(*session_, r.name);
    const QRect second(text.left(), text.top() + scaled(19), text.width(), scaled(18));
    if (!r.finding.isEmpty()) {
        p->setPen(selected ? t.ink : r.broken ? t.vermilion : t.ink2);
        p->drawText(second, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(r.finding, Qt::ElideRight, second.width()));
    } else if (f.count) {
        const bool slow = overBudget(f.worstOnLoop);
        p->setPen(slow && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(
            second, Qt::AlignVCenter,
            QStringLiteral("%1 %2 · worst %3%4")
                .arg(f.count)
                .arg(f.count == 1 ? "call" : "calls", durationText(f.worst), f.running ? " · running" : ""));
    } else {
        p->setPen(selected ? t.ink : t.ink2);
        p->drawText(second, Qt::AlignVCenter, r.place);
    }
    if (selected) {
        p->setPen(t.ink);
        p->drawText(QRect(text.left(), text.top() + scaled(40), text.width(), scaled(18)), Qt::AlignVCenter,
                    QStringLiteral("%1reached from %2 %3")
                        .arg(f.count ? r.place + " · " : QString()) // else it stands above
                        .arg(r.connections)
                        .arg(r.connections == 1 ? "place" : "places"));
        QFont underlined = smallFont();
        underlined.setUnderline(true);
        p->setFont(underlined);
        p->drawText(openWord(card), Qt::AlignVCenter, "Open code");
        p->drawText(moveWord(card), Qt::AlignVCenter,
                    r.shape == Shape::OneGo ? "Run in the background…" : "Run in one go…");
    }
    p->restore();
}

} // namespace pipit::app
