// A list whose rows all have the same height, as quick with millions of them as with five: where a row
// stands follows from its number. Keyboard, selection and screen readers are as in every view.
//
// Threads: the loop's thread only.
#pragma once

#include <QAbstractItemView>

#include <functional>

namespace pipit::app
{

class TallList : public QAbstractItemView
{
    Q_OBJECT
public:
    explicit TallList(QWidget *parent = nullptr);

    QRect visualRect(const QModelIndex &index) const override;
    void scrollTo(const QModelIndex &index, ScrollHint hint = EnsureVisible) override;
    QModelIndex indexAt(const QPoint &point) const override;
    // Paints those rows in sight anew that it says yes to.
    void updateRows(const std::function<bool(int row)> &which);
    void setEmptyText(const QString &text); // what belongs here, and the first step
    // Typed text is emitted: searching millions of rows for it would block the event loop.
    void keyboardSearch(const QString &text) override { Q_EMIT typed(text); }
    bool atEnd() const;
    void scrollToEnd();

Q_SIGNALS:
    void typed(const QString &text);

protected:
    QModelIndex moveCursor(CursorAction action, Qt::KeyboardModifiers modifiers) override;
    int horizontalOffset() const override { return 0; }
    int verticalOffset() const override;
    bool isIndexHidden(const QModelIndex &) const override { return false; }
    void setSelection(const QRect &rect, QItemSelectionModel::SelectionFlags command) override;
    QRegion visualRegionForSelection(const QItemSelection &selection) const override;
    void updateGeometries() override;
    void rowsInserted(const QModelIndex &parent, int start, int end) override;
    void rowsAboutToBeRemoved(const QModelIndex &parent, int start, int end) override;
    void paintEvent(QPaintEvent *event) override;
    void scrollContentsBy(int dx, int dy) override;
    bool viewportEvent(QEvent *event) override;
    void changeEvent(QEvent *event) override;

private:
    int rows() const { return model() ? model()->rowCount(rootIndex()) : 0; }
    int rowHeight() const;
    // The scroll bar counts pixels, or so many of them at once that it can count all.
    qint64 top() const;
    qint64 unit() const;
    void hover(int row);
    void updateFrom(int row); // and all below
    QString empty_;
    mutable int height_ = 0; // of a row; 0: not asked yet
    int hovered_ = -1;
};

} // namespace pipit::app
