#include "app/look/row_list.h"

#include <QKeyEvent>
#include <QPaintEvent>

namespace pipit::app
{

void RowModel::setRows(std::vector<Row> rows)
{
    if (rows.size() == rows_.size()) {
        rows_ = std::move(rows);
        if (!rows_.empty())
            Q_EMIT dataChanged(index(0), index(int(rows_.size()) - 1));
        return;
    }
    if (rows.size() > rows_.size() && !rows_.empty()) {
        beginInsertRows({}, int(rows_.size()), int(rows.size()) - 1);
        rows_ = std::move(rows);
        endInsertRows();
        Q_EMIT dataChanged(index(0), index(int(rows_.size()) - 1));
        return;
    }
    beginResetModel();
    rows_ = std::move(rows);
    endResetModel();
}

const Row *RowModel::row(const QModelIndex &i) const
{
    return i.isValid() && i.row() < int(rows_.size()) ? &rows_[std::size_t(i.row())] : nullptr;
}

int RowModel::indexOf(const QString &key) const
{
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (rows_[i].key == key)
            return int(i);
    return -1;
}

int RowModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(rows_.size());
}

QVariant RowModel::data(const QModelIndex &index, int role) const
{
    const Row *r = row(index);
    if (!r)
        return {};
    if (role == Qt::DisplayRole || role == Qt::AccessibleTextRole || role == Qt::ToolTipRole)
        return QStringList({r->lead, r->text, r->tail}).join(' ').simplified();
    return {};
}

Qt::ItemFlags RowModel::flags(const QModelIndex &index) const
{
    const Row *r = row(index);
    return r && r->heading ? Qt::ItemIsEnabled : Qt::ItemIsEnabled | Qt::ItemIsSelectable;
}

void paintRowGround(QPainter *p, const QStyleOptionViewItem &option)
{
    const Tokens &t = Tokens::current();
    if (option.state & QStyle::State_Selected)
        p->fillRect(option.rect, t.buff);
    else if (option.state & QStyle::State_MouseOver)
        p->fillRect(option.rect, t.raised);
    if ((option.state & QStyle::State_HasFocus) && (option.state & QStyle::State_Selected)) {
        p->setPen(QPen(t.ink, 2));
        p->setBrush(Qt::NoBrush);
        p->drawRect(option.rect.adjusted(1, 1, -1, -1));
    }
}

void RowDelegate::paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const
{
    const auto *model = static_cast<const RowModel *>(index.model());
    const Row *r = model->row(index);
    if (!r)
        return;
    const Tokens &t = Tokens::current();
    const bool selected = option.state & QStyle::State_Selected;
    p->save();
    if (!r->heading)
        paintRowGround(p, option);
    const QRect area = option.rect.adjusted(padding, 0, -padding, 0);
    int x = area.left();
    p->setFont(smallFont());
    if (lead_ > 0) {
        p->setPen(selected ? t.ink : t.ink2);
        p->drawText(QRect(x, area.top(), lead_ - 12, area.height()), Qt::AlignRight | Qt::AlignVCenter,
                    r->lead);
        x += lead_;
    }
    x += r->depth * 12;
    if (r->mark.isValid()) {
        drawMark(*p, r->shape, QPointF(x + 6, area.center().y() + 0.5), selected ? t.ink : r->mark);
        x += 20;
    }
    // A longer tail has what the text leaves.
    const QFontMetrics large(r->heading ? smallFont() : textFont()), small(smallFont());
    const int left = area.right() - x - large.horizontalAdvance(r->text) - 12;
    const int tailWidth =
        r->tail.isEmpty() ? 0 : std::max(tail_, std::min(left, small.horizontalAdvance(r->tail) + 2));
    p->setFont(r->heading ? smallFont() : textFont());
    p->setPen(r->broken && !selected ? t.vermilion : (r->faint || r->heading) && !selected ? t.ink2 : t.ink);
    const int width = area.right() - tailWidth - x;
    p->drawText(QRect(x, area.top(), width, area.height()), Qt::AlignLeft | Qt::AlignVCenter,
                p->fontMetrics().elidedText(r->text, Qt::ElideRight, width));
    if (tailWidth) {
        p->setFont(smallFont());
        p->setPen(r->broken && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(QRect(area.right() - tailWidth, area.top(), tailWidth, area.height()),
                    Qt::AlignRight | Qt::AlignVCenter, small.elidedText(r->tail, Qt::ElideRight, tailWidth));
    }
    p->restore();
}

QSize RowDelegate::sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const
{
    return {100, rowHeight};
}

RowList::RowList(const QString &name, int leadWidth, int tailWidth, QWidget *parent)
    : QListView(parent), model_(new RowModel(this))
{
    setModel(model_);
    setItemDelegate(new RowDelegate(leadWidth, tailWidth, this));
    setUniformItemSizes(true);
    setAccessibleName(name);
    setFrameShape(QFrame::NoFrame);
    setMouseTracking(true);
    setVerticalScrollMode(ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(this, &QListView::doubleClicked, this, [this](const QModelIndex &i) {
        const Row *r = model_->row(i);
        if (r && opensByDoubleClick_)
            Q_EMIT activatedRow(r->key, r->number);
    });
}

void RowList::setEmptyText(const QString &text)
{
    if (text != std::exchange(empty_, text))
        viewport()->update();
}

QString RowList::currentKey() const
{
    const Row *r = model_->row(currentIndex());
    return r ? r->key : QString();
}

void RowList::selectKey(const QString &key)
{
    const int i = key.isEmpty() ? -1 : model_->indexOf(key);
    if (i == currentIndex().row())
        return;
    quiet_ = true;
    setCurrentIndex(i < 0 ? QModelIndex() : model_->index(i));
    quiet_ = false;
    if (i < 0)
        clearSelection();
}

void RowList::currentChanged(const QModelIndex &current, const QModelIndex &previous)
{
    QListView::currentChanged(current, previous);
    told_ = QModelIndex();
    tell();
}

void RowList::selectionChanged(const QItemSelection &selected, const QItemSelection &deselected)
{
    QListView::selectionChanged(selected, deselected);
    tell(); // the mouse makes a row current first and selects it then
}

// Getting the focus makes a row current without selecting it; that is no choice of the person's.
void RowList::tell()
{
    const QModelIndex at = currentIndex();
    const Row *r = model_->row(at);
    if (!r || r->heading || !selectionModel()->isSelected(at) || told_ == at)
        return;
    told_ = at;
    if (!quiet_)
        Q_EMIT chosen(r->key, r->number);
}

void RowList::keyPressEvent(QKeyEvent *event)
{
    const Row *r = model_->row(currentIndex());
    if (r && event->modifiers() == Qt::NoModifier &&
        (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)) {
        Q_EMIT activatedRow(r->key, r->number);
        return;
    }
    QListView::keyPressEvent(event);
}

void paintEmpty(QPainter *p, const QRect &area, const QString &text)
{
    const Tokens &t = Tokens::current();
    p->save();
    const bool roomy = area.height() > 120 && area.width() > 160;
    if (roomy)
        drawMark(*p, Mark::Bird, QPointF(area.center().x(), area.center().y() - 38), t.edge, 40);
    p->setFont(textFont());
    p->setPen(t.ink2);
    const QRect box = area.adjusted(16, roomy ? area.height() / 2 - 4 : 8, -16, -8);
    p->drawText(box, Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, text);
    p->restore();
}

void RowList::paintEvent(QPaintEvent *event)
{
    QListView::paintEvent(event);
    if (model_->rowCount() == 0 && !empty_.isEmpty()) {
        QPainter p(viewport());
        paintEmpty(&p, viewport()->rect(), empty_);
    }
}

} // namespace pipit::app
