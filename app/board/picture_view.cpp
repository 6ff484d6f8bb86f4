#include "app/board/picture_view.h"

#include "app/look/tokens.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace pipit::app
{

namespace
{
constexpr Measure tallest{200}, around{8};
} // namespace

PictureView::PictureView(QWidget *parent) : QWidget(parent)
{
    setObjectName("livePicture");
    setAccessibleName("The program's window");
    setToolTip("The window as the program painted it. Click to select a widget.");
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    hide();
}

const PictureView::Picture *PictureView::shown() const
{
    const auto it = pictures_.constFind(window_);
    return it != pictures_.constEnd() ? &*it : pictures_.isEmpty() ? nullptr : &*pictures_.constBegin();
}

void PictureView::setPictures(QHash<std::uint64_t, Picture> pictures)
{
    const bool other =
        pictures.isEmpty() != pictures_.isEmpty() ||
        (shown() && pictures.contains(window_) && pictures[window_].image.size() != shown()->image.size());
    pictures_ = std::move(pictures);
    if (!pictures_.contains(window_) && !pictures_.isEmpty()) {
        // The largest one.
        const auto size = [this](std::uint64_t w) {
            return qint64(pictures_[w].image.width()) * pictures_[w].image.height();
        };
        const QList<std::uint64_t> all = pictures_.keys();
        window_ =
            *std::max_element(all.begin(), all.end(), [&](auto a, auto b) { return size(a) < size(b); });
    }
    setVisible(!pictures_.isEmpty());
    if (other)
        updateGeometry();
    update();
}

void PictureView::setObjects(const std::vector<LiveObject> *objects)
{
    objects_ = objects;
    update();
}

const LiveObject *PictureView::find(std::uint64_t address) const
{
    if (objects_ && address)
        for (const LiveObject &o : *objects_)
            if (o.address == address)
                return &o;
    return nullptr;
}

void PictureView::choose(std::uint64_t object)
{
    chosen_ = object;
    if (const LiveObject *o = find(object); o && pictures_.contains(o->window) && window_ != o->window) {
        window_ = o->window;
        updateGeometry();
    }
    update();
}

int PictureView::heightForWidth(int width) const
{
    const Picture *p = shown();
    if (!p || p->image.isNull())
        return 0;
    const int inside = std::max(1, width - 2 * around);
    const double shrink = std::min(1.0, double(inside) * p->ratio / p->image.width());
    return std::min(int(tallest), int(p->image.height() / p->ratio * shrink)) + 2 * around;
}

QSize PictureView::sizeHint() const
{
    return {264, heightForWidth(264)};
}

QRectF PictureView::area() const
{
    const Picture *p = shown();
    if (!p || p->image.isNull())
        return {};
    const QSizeF natural = QSizeF(p->image.size()) / p->ratio,
                 room(std::max(1, width() - 2 * around), std::max(1, height() - 2 * around));
    const QSizeF size = natural.width() > room.width() || natural.height() > room.height()
                            ? natural.scaled(room, Qt::KeepAspectRatio)
                            : natural;
    return {QPointF((width() - size.width()) / 2, around), size};
}

QRectF PictureView::placeOf(const QRect &inWindow) const
{
    const Picture *p = shown();
    if (!p)
        return {};
    const QRectF in = area();
    const double scale = in.width() * p->ratio / p->image.width();
    return QRectF(in.topLeft() + QPointF(inWindow.topLeft()) * scale, QSizeF(inWindow.size()) * scale);
}

std::uint64_t PictureView::objectAt(const QPoint &at) const
{
    std::uint64_t found = 0;
    if (objects_)
        for (const LiveObject &o : *objects_) // what stands later lies above
            if (o.window == window_ && o.visible && !o.at.isEmpty() && placeOf(o.at).contains(at))
                found = o.address;
    return found;
}

void PictureView::mousePressEvent(QMouseEvent *event)
{
    if (const std::uint64_t object = objectAt(event->pos()))
        Q_EMIT chosen(object);
}

void PictureView::paintEvent(QPaintEvent *)
{
    const Picture *picture = shown();
    if (!picture)
        return;
    const Tokens &t = Tokens::current();
    QPainter p(this);
    const QSize pixels = (area().size() * devicePixelRatioF()).toSize();
    if (smallOf_ != picture->image.cacheKey() ||
        small_.size() != pixels) { // at most 800 wide: some milliseconds
        small_ = picture->image.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
        smallOf_ = picture->image.cacheKey();
    }
    p.drawImage(area(), small_);
    p.setPen(QPen(t.hairline, 1));
    p.drawRect(area().adjusted(-1, -1, 0, 0));
    if (const LiveObject *o = find(chosen_); o && o->window == window_ && !o->at.isEmpty()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(t.ink, 2));
        p.drawRoundedRect(placeOf(o->at).adjusted(-1, -1, 1, 1), 2, 2);
    }
}

} // namespace pipit::app
