// The order in which Tab goes through a window, walked: the widgets are chosen one after the other in
// the preview or, with Space, in the outline, and the line says how far it has come.
//
// Threads: the loop's thread only. Nothing is changed before it is done; then it is one step of undo.
#pragma once

#include "app/session/session.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

class TabWalk : public QWidget
{
    Q_OBJECT
public:
    explicit TabWalk(Session *session, QWidget *parent = nullptr);
    bool walking() const { return !window_.isEmpty(); }
    // Through the window that holds what is selected.
    void begin();
    // The next widget; one that was chosen already is the last from then on.
    void choose(const QString &widget);
    void finish();
    void leave();
    const QStringList &order() const { return order_; }

Q_SIGNALS:
    void changed(); // the order, or whether it walks

private:
    void show(const QStringList &order);

    Session *session_;
    QLabel *words_;
    QPushButton *done_;
    QString window_; // the root's name; empty: not walking
    QStringList order_;
};

} // namespace pipit::app
