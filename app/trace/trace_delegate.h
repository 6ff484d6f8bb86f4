// How a row of the Trace page looks: when, what happened, on which threads, how long it took.
//
// Threads: the loop's thread only.
#pragma once

#include "app/trace/account_panel.h"
#include "app/trace/trace_rows.h"

#include <QStyledItemDelegate>
#include <QWidget>

namespace pipit::app
{

class TraceHeading : public QWidget
{
public:
    explicit TraceHeading(Session *session);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Session *session_;
};

class TraceDelegate : public QStyledItemDelegate
{
public:
    TraceDelegate(Session *session, TraceRows *model, const Lit *lit);
    QSize sizeHint(const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;

private:
    struct Place;
    void paintLine(QPainter *p, const Place &at, const StoryRow &row) const;
    void paintIdle(QPainter *p, const Place &at, const StoryRow &row) const;
    void paintFold(QPainter *p, const Place &at, const StoryRow &row, const QString &sentence) const;
    void paintSpan(QPainter *p, const Place &at, const StoryRow &row, const Span &span,
                   const QString &sentence) const;
    void paintMark(QPainter *p, const Place &at, const Bookmarks::Mark &mark) const;
    void paintThreads(QPainter *p, const Place &at, const TraceModel &trace, const Span &span,
                      const QColor &colour) const;
    void paintTook(QPainter *p, const Place &at, const QString &text, const QColor &colour) const;

    Session *session_;
    TraceRows *model_;
    const Lit *lit_;
};

} // namespace pipit::app
