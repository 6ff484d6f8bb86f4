// The three bands, always in reach below the cards: how many handlers are in each, a click goes there.
// While a card is dragged they grow, and it can be let go on one.
//
// Threads: the loop's thread only.
#pragma once

#include "app/session/session.h"

#include <QWidget>

#include <array>
#include <optional>

namespace pipit::app
{

class BandFoot : public QWidget
{
    Q_OBJECT
public:
    explicit BandFoot(Session *session, QWidget *parent = nullptr);
    void setDragging(bool dragging, const QPoint &global = {});
    std::optional<Shape> bandAt(const QPoint &global) const;
    QRect zoneOf(Shape shape) const;

Q_SIGNALS:
    void bandAsked(pipit::Shape shape);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    static constexpr std::array<Shape, 3> bands = {Shape::OneGo, Shape::Steps, Shape::Background};
    Session *session_;
    bool dragging_ = false;
    std::optional<Shape> over_;
};

} // namespace pipit::app
