// The picture of a running program's window: as it is painted there, or as a recording kept it. A click
// chooses the widget at that place; what is chosen is framed.
//
// Threads: the loop's thread only.
#pragma once

#include "core/why/live_wiring.h"

#include <QHash>
#include <QImage>
#include <QWidget>

namespace pipit::app
{

class PictureView : public QWidget
{
    Q_OBJECT
public:
    explicit PictureView(QWidget *parent = nullptr);
    struct Picture {
        QImage image;
        double ratio = 1; // its pixels to one of the window's own
    };
    // By their windows' addresses; without any the view is not there.
    void setPictures(QHash<std::uint64_t, Picture> pictures);
    void setObjects(const std::vector<LiveObject> *objects);
    void choose(std::uint64_t object); // frames it, and shows its window
    // The innermost that stands at a place of the view; 0: none.
    std::uint64_t objectAt(const QPoint &at) const;
    // Where a place of the window shown is, in the view.
    QRectF placeOf(const QRect &inWindow) const;
    bool isEmpty() const { return pictures_.isEmpty(); }
    QSize sizeHint() const override;
    int heightForWidth(int width) const override;
    bool hasHeightForWidth() const override { return true; }

Q_SIGNALS:
    void chosen(std::uint64_t object);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    QRectF area() const; // of the picture in the view
    const Picture *shown() const;
    const LiveObject *find(std::uint64_t address) const;

    QHash<std::uint64_t, Picture> pictures_;
    const std::vector<LiveObject> *objects_ = nullptr;
    std::uint64_t window_ = 0, chosen_ = 0;
    QImage small_;       // as it is painted
    qint64 smallOf_ = 0; // the key of the image that it was made from
};

} // namespace pipit::app
