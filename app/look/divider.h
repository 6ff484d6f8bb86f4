// The line between two columns. It is dragged with the mouse, or moved with the arrow keys while it has the
// focus; a double click gives the usual widths back. Its owner does what it says.
//
// Threads: the loop's thread only.
#pragma once

#include "app/look/tokens.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWidget>

namespace pipit::app
{

class Divider : public QWidget
{
    Q_OBJECT
public:
    explicit Divider(const QString &name, QWidget *parent = nullptr) : QWidget(parent)
    {
        setObjectName("divider");
        setAccessibleName(name);
        setToolTip(name + ": drag, or use the arrow keys; double-click for the default width");
        setFixedWidth(7);
        setCursor(Qt::SplitHCursor);
        setFocusPolicy(Qt::TabFocus);
    }

Q_SIGNALS:
    void moved(int by); // pixels to the right
    void reset();

protected:
    void mousePressEvent(QMouseEvent *event) override { at_ = int(event->globalPosition().x()); }
    void mouseMoveEvent(QMouseEvent *event) override
    {
        const int now = int(event->globalPosition().x());
        if (const int by = now - std::exchange(at_, now); by && event->buttons() & Qt::LeftButton)
            Q_EMIT moved(by);
    }
    void mouseDoubleClickEvent(QMouseEvent *) override { Q_EMIT reset(); }
    void keyPressEvent(QKeyEvent *event) override
    {
        if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
            Q_EMIT moved(event->key() == Qt::Key_Left ? -16 : 16);
        else if (event->key() == Qt::Key_Home)
            Q_EMIT reset();
        else
            QWidget::keyPressEvent(event);
    }
    void paintEvent(QPaintEvent *) override
    {
        const Tokens &t = Tokens::current();
        QPainter p(this);
        p.fillRect(QRect(width() / 2 - (hasFocus() ? 1 : 0), 0, hasFocus() ? 3 : 1, height()),
                   hasFocus() ? t.ink : t.hairline);
    }

private:
    int at_ = 0;
};

} // namespace pipit::app
