#include "app/look/tall_list.h"

#include "app/look/row_list.h"

#include <QHoverEvent>
#include <QPaintEvent>
#include <QPainter>
#include <QScrollBar>

#include <algorithm>

namespace pipit::app
{

TallList::TallList(QWidget *parent) : QAbstractItemView(parent)
{
    setSelectionMode(SingleSelection);
    setSelectionBehavior(SelectRows);
    setVerticalScrollMode(ScrollPerPixel);
    setEditTriggers(NoEditTriggers);
    viewport()->setAttribute(Qt::WA_Hover);
}

int TallList::rowHeight() const
{
    if (height_ == 0) {
        QStyleOptionViewItem option;
        initViewItemOption(&option);
        height_ = std::max(1, itemDelegate()->sizeHint(option, {}).height());
    }
    return height_;
}

qint64 TallList::unit() const
{
    constexpr qint64 most = 1 << 30;
    return std::max<qint64>(1, qint64(rows()) * rowHeight() / most + 1);
}

qint64 TallList::top() const
{
    return verticalScrollBar()->value() * unit();
}

int TallList::verticalOffset() const
{
    return int(std::min<qint64>(top(), INT_MAX));
}

QRect TallList::visualRect(const QModelIndex &index) const
{
    if (!index.isValid())
        return {};
    const int h = rowHeight();
    const qint64 y = qint64(index.row()) * h - top();
    if (y < -100'000 || y > 100'000) // far outside
        return {0, y < 0 ? -100'000 : 100'000, viewport()->width(), h};
    return {0, int(y), viewport()->width(), h};
}

QModelIndex TallList::indexAt(const QPoint &point) const
{
    const qint64 row = (top() + point.y()) / rowHeight();
    return point.y() >= 0 && row < rows() ? model()->index(int(row), 0, rootIndex()) : QModelIndex();
}

void TallList::changeEvent(QEvent *event)
{
    height_ = 0; // another font, perhaps
    QAbstractItemView::changeEvent(event);
    updateGeometries();
}

void TallList::scrollTo(const QModelIndex &index, ScrollHint hint)
{
    if (!index.isValid())
        return;
    const qint64 h = rowHeight(), y = index.row() * h, view = viewport()->height();
    qint64 to = top();
    if (hint == PositionAtCenter)
        to = y - (view - h) / 2;
    else if (hint == PositionAtTop || (hint == EnsureVisible && y < to))
        to = y;
    else if (hint == PositionAtBottom || (hint == EnsureVisible && y + h > to + view))
        to = y + h - view + unit() - 1;
    verticalScrollBar()->setValue(int(std::max<qint64>(0, to) / unit()));
}

bool TallList::atEnd() const
{
    return verticalScrollBar()->value() >= verticalScrollBar()->maximum() - 4;
}

void TallList::scrollToEnd()
{
    verticalScrollBar()->setValue(verticalScrollBar()->maximum());
}

QModelIndex TallList::moveCursor(CursorAction action, Qt::KeyboardModifiers)
{
    const int count = rows();
    if (!count)
        return {};
    const int page = std::max(1, viewport()->height() / rowHeight() - 1);
    int row = currentIndex().row();
    if (row < 0) // begin where one looks
        return indexAt({0, 0});
    switch (action) {
    case MoveUp:
    case MovePrevious:
        --row;
        break;
    case MoveDown:
    case MoveNext:
        ++row;
        break;
    case MovePageUp:
        row -= page;
        break;
    case MovePageDown:
        row += page;
        break;
    case MoveHome:
        row = 0;
        break;
    case MoveEnd:
        row = count - 1;
        break;
    default:
        break;
    }
    return model()->index(std::clamp(row, 0, count - 1), 0, rootIndex());
}

void TallList::setSelection(const QRect &rect, QItemSelectionModel::SelectionFlags command)
{
    const QModelIndex at = indexAt(rect.center());
    selectionModel()->select(at.isValid() ? QItemSelection(at, at) : QItemSelection(), command);
}

QRegion TallList::visualRegionForSelection(const QItemSelection &selection) const
{
    QRegion region;
    for (const QItemSelectionRange &r : selection)
        region += QRect(visualRect(r.topLeft()).topLeft(), visualRect(r.bottomRight()).bottomRight());
    return region & viewport()->rect();
}

void TallList::updateGeometries()
{
    const qint64 all = qint64(rows()) * rowHeight(), view = viewport()->height();
    verticalScrollBar()->setRange(0, int(std::max<qint64>(0, all - view + unit() - 1) / unit()));
    verticalScrollBar()->setPageStep(int(std::max<qint64>(1, view / unit())));
    verticalScrollBar()->setSingleStep(int(std::max<qint64>(1, rowHeight() / unit())));
    QAbstractItemView::updateGeometries();
}

// The base class would lay all of it out anew after a while; here there is nothing to lay out.
void TallList::rowsInserted(const QModelIndex &, int start, int)
{
    updateGeometries();
    updateFrom(start);
}

void TallList::updateFrom(int row)
{
    const qint64 y = qint64(row) * rowHeight() - top();
    if (y < viewport()->height())
        viewport()->update(0, int(std::max<qint64>(0, y)), viewport()->width(), viewport()->height());
    else if (row == 0)
        viewport()->update();
}

void TallList::updateRows(const std::function<bool(int)> &which)
{
    const int h = rowHeight(), count = rows();
    for (qint64 row = top() / h; row < count && row * h - top() < viewport()->height(); ++row)
        if (which(int(row)))
            viewport()->update(0, int(row * h - top()), viewport()->width(), h);
}

void TallList::setEmptyText(const QString &text)
{
    if (text != std::exchange(empty_, text))
        viewport()->update();
}

void TallList::rowsAboutToBeRemoved(const QModelIndex &parent, int start, int end)
{
    QAbstractItemView::rowsAboutToBeRemoved(parent, start, end);
    updateFrom(start);
}

void TallList::paintEvent(QPaintEvent *event)
{
    if (!model())
        return;
    QPainter p(viewport());
    QStyleOptionViewItem option;
    initViewItemOption(&option);
    const int h = rowHeight(), count = rows();
    if (count == 0 && !empty_.isEmpty())
        paintEmpty(&p, viewport()->rect(), empty_);
    const QStyle::State plain = option.state & ~(QStyle::State_HasFocus | QStyle::State_Selected);
    const QModelIndex current = currentIndex();
    for (qint64 row = (top() + event->rect().top()) / h; row < count; ++row) {
        const int y = int(row * h - top());
        if (y > event->rect().bottom())
            break;
        const QModelIndex index = model()->index(int(row), 0, rootIndex());
        option.rect = QRect(0, y, viewport()->width(), h);
        option.state = plain;
        option.state.setFlag(QStyle::State_Selected, selectionModel()->isSelected(index));
        option.state.setFlag(QStyle::State_HasFocus, hasFocus() && index == current);
        option.state.setFlag(QStyle::State_MouseOver, row == hovered_);
        itemDelegateForIndex(index)->paint(&p, option, index);
    }
}

// What stays in sight is moved, not painted again.
void TallList::scrollContentsBy(int, int dy)
{
    const qint64 by = dy * unit();
    if (std::abs(by) < viewport()->height())
        viewport()->scroll(0, int(by));
    else
        viewport()->update();
}

void TallList::hover(int row)
{
    if (row == hovered_)
        return;
    for (const int r : {std::exchange(hovered_, row), row})
        if (r >= 0 && r < rows())
            viewport()->update(visualRect(model()->index(r, 0, rootIndex())));
}

bool TallList::viewportEvent(QEvent *event)
{
    if (event->type() == QEvent::HoverMove || event->type() == QEvent::HoverEnter)
        hover(indexAt(static_cast<QHoverEvent *>(event)->position().toPoint()).row());
    else if (event->type() == QEvent::HoverLeave)
        hover(-1);
    return QAbstractItemView::viewportEvent(event);
}

} // namespace pipit::app
