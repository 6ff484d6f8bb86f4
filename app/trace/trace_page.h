// The Trace: what happened, as sentences, time downward; idle time folded to one row.
//
// Threads: the loop's thread only; rows are gathered on a worker. While the program runs the view
// follows the end unless a row is selected or it is paused.
#pragma once

#include "app/look/row_list.h"
#include "app/session/session.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

namespace pipit::app
{

struct TraceRow {
    std::uint32_t span = 0; // UINT32_MAX: idle
    int depth = 0;
    std::int64_t start = 0, idle = 0;
};

class TraceRows : public QAbstractListModel
{
    Q_OBJECT
public:
    explicit TraceRows(Session *session) : QAbstractListModel(session), session_(session) {}
    void setRows(std::vector<TraceRow> rows);
    const std::vector<TraceRow> &rows() const { return rows_; }
    int rowCount(const QModelIndex &p = {}) const override { return p.isValid() ? 0 : int(rows_.size()); }
    QVariant data(const QModelIndex &index, int role) const override;
    QString sentence(int row) const;

private:
    Session *session_;
    std::vector<TraceRow> rows_;
};

class TracePage : public QWidget
{
    Q_OBJECT
public:
    explicit TracePage(Session *session, QWidget *parent = nullptr);
    QListView *list() const { return list_; }
    TraceRows *model() const { return model_; }
    QLineEdit *filter() const { return filter_; }
    void showTime(std::int64_t ns); // selects the row at or before it

Q_SIGNALS:
    void placeAsked(const QString &file, int line);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void gather();
    void tellAbout(const QModelIndex &index);
    void showRowMenu(const QModelIndex &index, const QPoint &global);
    int rowOfSpan(std::uint32_t span) const; // -1: not shown

    Session *session_;
    QListView *list_;
    TraceRows *model_;
    QLineEdit *filter_;
    QPushButton *pause_, *all_;
    QLabel *about_;
    bool gathering_ = false, again_ = false;
    std::int64_t wanted_ = 0;
};

} // namespace pipit::app
