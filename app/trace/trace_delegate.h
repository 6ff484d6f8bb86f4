// How a row of the Trace page looks: when, what happened, on which threads, how long it took.
//
// Threads: the loop's thread only.
#pragma once

#include "app/trace/trace_rows.h"

#include <QStyledItemDelegate>
#include <QWidget>

namespace pipit::app
{

class TraceHeading : public QWidget
{
public:
    TraceHeading();

protected:
    void paintEvent(QPaintEvent *event) override;
};

class TraceDelegate : public QStyledItemDelegate
{
public:
    TraceDelegate(Session *session, TraceRows *model);
    QSize sizeHint(const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;

private:
    Session *session_;
    TraceRows *model_;
};

} // namespace pipit::app
