// A choice from a list, painted in our look; a stock combo box underneath.
#pragma once

#include "app/look/tokens.h"

#include <QComboBox>
#include <QPaintEvent>

namespace pipit::app
{

class ChoiceBox : public QComboBox
{
public:
    // `accessible`: what a screen reader says that it chooses.
    ChoiceBox(const char *name, const char *accessible)
    {
        setObjectName(name);
        setAccessibleName(accessible);
        setSizeAdjustPolicy(AdjustToMinimumContentsLengthWithIcon);
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        const Tokens &t = Tokens::current();
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(hasFocus() ? t.ink : t.edge, hasFocus() ? 2 : 1));
        p.setBrush(t.surface);
        p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
        p.setFont(textFont());
        p.setPen(isEnabled() && count() ? t.ink : t.ink2);
        const QRect words = rect().adjusted(10, 0, -26, 0);
        const QString text = isEditable() ? QString() : count() ? currentText() : placeholderText();
        p.drawText(words, Qt::AlignVCenter, p.fontMetrics().elidedText(text, Qt::ElideMiddle, words.width()));
        const QPointF c(width() - 15, height() / 2.0);
        p.setPen(QPen(t.ink2, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawPolyline(QPolygonF() << c + QPointF(-4, -2) << c + QPointF(0, 2) << c + QPointF(4, -2));
    }
};

} // namespace pipit::app
