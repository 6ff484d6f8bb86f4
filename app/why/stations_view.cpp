#include "app/why/stations_view.h"

#include "app/look/row_list.h"

#include <QPainter>
#include <QStyledItemDelegate>

namespace pipit::app
{

namespace
{

constexpr Measure nameColumn{132}, gap{10};

class StationDelegate : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    static QRect wordsIn(const QRect &row)
    {
        return row.adjusted(padding + scaled(28) + nameColumn, gap / 2, -padding, -gap / 2);
    }
    QSize sizeHint(const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        const auto *model = static_cast<const StationsModel *>(index.model());
        const Station *s = model->at(index.row());
        const auto *view = static_cast<const QListView *>(option.widget);
        const QRect words = wordsIn(QRect(0, 0, view->viewport()->width(), 1000));
        const QFontMetrics metrics(textFont());
        const int height =
            s ? metrics
                    .boundingRect(QRect(0, 0, std::max(80, words.width()), 4000), Qt::TextWordWrap, s->detail)
                    .height()
              : 0;
        return {100, std::max<int>(rowHeight + 4, height + gap)};
    }
    void paint(QPainter *p, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        const auto *model = static_cast<const StationsModel *>(index.model());
        const Station *s = model->at(index.row());
        if (!s)
            return;
        const Tokens &t = Tokens::current();
        p->save();
        paintRowGround(p, option);
        const bool selected = option.state & QStyle::State_Selected;
        const bool broken = s->state == Station::Broken;
        paintStop(p, option.rect, *model, index.row());
        const QRect words = wordsIn(option.rect);
        p->setFont(smallFont());
        p->setPen(broken && !selected ? t.vermilion : selected ? t.ink : t.ink2);
        p->drawText(QRect(words.left() - nameColumn, words.top(), nameColumn - 8, rowHeight - gap + 4),
                    Qt::AlignLeft | Qt::AlignVCenter, s->name);
        p->setFont(textFont());
        p->setPen(broken && !selected                         ? t.vermilion
                  : s->state == Station::Unknown && !selected ? t.ink2
                                                              : t.ink);
        p->drawText(words, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, s->detail);
        p->restore();
    }

private:
    // A filled stop is fine, a ring is not known, a crossed one is broken, and the line ends there.
    static void paintStop(QPainter *p, const QRect &row, const StationsModel &model, int i)
    {
        const Tokens &t = Tokens::current();
        const Station *s = model.at(i);
        const qreal x = row.left() + padding + scaled(10), y = row.center().y() + 0.5, r = scaled(5);
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(QPen(t.edge, 2));
        if (i > 0)
            p->drawLine(QPointF(x, row.top()), QPointF(x, y - r));
        if (i + 1 < model.rowCount() && s->state != Station::Broken)
            p->drawLine(QPointF(x, y + r), QPointF(x, row.bottom() + 1));
        p->setBrush(s->state == Station::Fine ? t.ink : t.paper);
        p->setPen(QPen(s->state == Station::Broken ? t.vermilion : t.ink, 2));
        if (s->state != Station::Broken) {
            p->drawEllipse(QPointF(x, y), r, r);
            return;
        }
        const qreal d = r * 1.2;
        p->drawLine(QPointF(x - d, y - d), QPointF(x + d, y + d));
        p->drawLine(QPointF(x - d, y + d), QPointF(x + d, y - d));
    }
};

} // namespace

void StationsModel::set(std::vector<Station> stations)
{
    beginResetModel();
    stations_ = std::move(stations);
    endResetModel();
}

const Station *StationsModel::at(int row) const
{
    return row >= 0 && std::size_t(row) < stations_.size() ? &stations_[std::size_t(row)] : nullptr;
}

int StationsModel::rowCount(const QModelIndex &parent) const
{
    return parent.isValid() ? 0 : int(stations_.size());
}

QVariant StationsModel::data(const QModelIndex &index, int role) const
{
    const Station *s = at(index.row());
    if (!s || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    return QStringLiteral("%1, %2: %3").arg(s->name, stationWords(s->state), s->detail);
}

StationsView::StationsView(QWidget *parent) : QListView(parent), model_(new StationsModel(this))
{
    setModel(model_);
    setItemDelegate(new StationDelegate(this));
    setObjectName("stations");
    setAccessibleName("Stations of the input");
    setFrameShape(QFrame::NoFrame);
    setVerticalScrollMode(ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setResizeMode(Adjust);
    setMouseTracking(true);
}

void StationsView::set(std::vector<Station> stations)
{
    model_->set(std::move(stations));
    for (int i = 0; i < model_->rowCount(); ++i)
        if (model_->at(i)->state == Station::Broken)
            scrollTo(model_->index(i));
}

void StationsView::setEmptyText(const QString &text)
{
    if (text != std::exchange(empty_, text))
        viewport()->update();
}

void StationsView::paintEvent(QPaintEvent *event)
{
    QListView::paintEvent(event);
    if (model_->rowCount() > 0 || empty_.isEmpty())
        return;
    QPainter p(viewport());
    paintEmpty(&p, viewport()->rect(), empty_);
}

void StationsView::resizeEvent(QResizeEvent *event)
{
    QListView::resizeEvent(event);
    scheduleDelayedItemsLayout();
}

} // namespace pipit::app
