// A widget that takes no drops.
//
// ask     deckLane
// verdict drop refused
// says    refused
#include "fault.h"

using namespace fault;

static void dropTextOn(QWidget *w)
{
    auto *data = new QMimeData;
    data->setText("car 4");
    const QPoint at = w->mapTo(w->window(), w->rect().center());
    QWindow *window = w->window()->windowHandle();
    QWindowSystemInterface::handleDrag(window, data, at, Qt::CopyAction, Qt::LeftButton, {});
    QWindowSystemInterface::handleDrop(window, data, at, Qt::CopyAction, Qt::NoButton, {});
}

FAULT(drop_refused)
{
    Desk d;
    QWidget lane;
    lane.setObjectName("deckLane");
    d.layout.addWidget(&lane, 1);
    return run(d, [&] { dropTextOn(&lane); });
}
