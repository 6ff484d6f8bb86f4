// The button in an empty list that does the first step. It is there while the list has no rows and a step is
// offered.
//
// Threads: the loop's thread only. Owned by the view that it stands in.
#pragma once

#include <QAbstractItemView>
#include <QPushButton>

namespace pipit::app
{

class EmptyAction : public QPushButton
{
    Q_OBJECT
public:
    explicit EmptyAction(QAbstractItemView *view);
    void offer(const QString &words); // empty: nothing is offered

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void place();

    QAbstractItemView *view_;
};

} // namespace pipit::app
