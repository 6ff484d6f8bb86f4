// The pace ribbon: a quiet line of the last minute on a logarithmic scale. A stall is a notch that
// can be opened; one that lasts now grows while it lasts.
#pragma once

#include "app/session/session.h"

#include <QWidget>

namespace pipit::app
{

class Ribbon : public QWidget
{
    Q_OBJECT
public:
    explicit Ribbon(Session *session, QWidget *parent = nullptr);

Q_SIGNALS:
    void stallOpened(int index); // into LiveFigures::stalls; -1: the one that lasts now

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    struct Span {
        qreal from, to;
    };
    std::optional<Span> notch(const Stall &s) const;
    QString figure() const;
    QRect lineArea() const;
    struct Shown {
        QString figure;
        std::int64_t slot = 0, newest = 0;
        bool operator==(const Shown &) const = default;
    };
    Session *session_;
    Shown shown_; // when it was painted last
};

} // namespace pipit::app
