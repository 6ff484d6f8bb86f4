// A list of rows that we paint ourselves: a stock list view underneath, so that keyboard,
// selection, screen readers and virtual scrolling are as everywhere.
//
// Threads: the loop's thread only. A row's `text` is the sentence that a screen reader reads.
#pragma once

#include "app/look/tokens.h"

#include <QAbstractListModel>
#include <QListView>
#include <QStyledItemDelegate>

#include <functional>
#include <vector>

namespace pipit::app
{

struct Row {
    QString text;  // the whole row as a sentence
    QString lead;  // small text at the left, right-aligned in its column
    QString tail;  // figures at the right
    QString key;   // what it stands for
    int depth = 0; // indentation steps
    bool heading = false;
    bool faint = false;
    bool broken = false; // vermilion
    QColor mark;         // colour of the mark; invalid: none
    Mark shape = Mark::Signal;
    int number = -1;
};

class RowModel : public QAbstractListModel
{
    Q_OBJECT
public:
    using QAbstractListModel::QAbstractListModel;
    // Replaces the rows; views keep their place as far as the count stays the same.
    void setRows(std::vector<Row> rows);
    const std::vector<Row> &rows() const { return rows_; }
    const Row *row(const QModelIndex &i) const;
    int indexOf(const QString &key) const;

    int rowCount(const QModelIndex &parent = {}) const override;
    QVariant data(const QModelIndex &index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex &index) const override;

private:
    std::vector<Row> rows_;
};

// Paints Row: lead column, mark, indented sentence, tail.
class RowDelegate : public QStyledItemDelegate
{
    Q_OBJECT
public:
    RowDelegate(int leadWidth, int tailWidth, QObject *parent)
        : QStyledItemDelegate(parent), lead_(scaled(leadWidth)), tail_(scaled(tailWidth))
    {
    }
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override;
    QSize sizeHint(const QStyleOptionViewItem &option, const QModelIndex &index) const override;

private:
    int lead_, tail_;
};

class RowList : public QListView
{
    Q_OBJECT
public:
    RowList(const QString &accessibleName, int leadWidth, int tailWidth, QWidget *parent = nullptr);
    RowModel *rowModel() const { return model_; }
    // Whether a double click is as good as Return; it is unless said otherwise.
    void setOpensByDoubleClick(bool opens) { opensByDoubleClick_ = opens; }
    void setEmptyText(const QString &text); // what belongs here, and the first step
    QString currentKey() const;
    void selectKey(const QString &key);

Q_SIGNALS:
    void chosen(const QString &key, int number);       // current row changed by the person
    void activatedRow(const QString &key, int number); // Return or double click

protected:
    void paintEvent(QPaintEvent *event) override;
    void currentChanged(const QModelIndex &current, const QModelIndex &previous) override;
    void selectionChanged(const QItemSelection &selected, const QItemSelection &deselected) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    RowModel *model_;
    QString empty_;
    void tell();
    bool quiet_ = false;
    bool opensByDoubleClick_ = true;
    QPersistentModelIndex told_; // the row that was chosen last
};

// The ground of a row: selection, hover, focus ring.
void paintRowGround(QPainter *p, const QStyleOptionViewItem &option);
// A few lines in the middle of an empty view, under the bird.
void paintEmpty(QPainter *p, const QRect &area, const QString &text);

} // namespace pipit::app
