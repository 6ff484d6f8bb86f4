// A widget that takes other things than what is dropped.
//
// ask     deckLane
// verdict drop refused
// says    refused
#include "fault.h"
#include <QDragEnterEvent>

using namespace fault;

namespace
{

struct Lane : QWidget {
    void dragEnterEvent(QDragEnterEvent *e) override
    {
        if (e->mimeData()->hasFormat("application/x-skerry-car"))
            e->acceptProposedAction();
    }
    void dropEvent(QDropEvent *) override { setToolTip("dropped"); }
};
void dropOn(QWidget *w)
{
    auto *data = new QMimeData;
    data->setText("car 4");
    const QPoint at = w->mapTo(w->window(), w->rect().center());
    QWindow *window = w->window()->windowHandle();
    QWindowSystemInterface::handleDrag(window, data, at, Qt::CopyAction, Qt::LeftButton, {});
    QWindowSystemInterface::handleDrop(window, data, at, Qt::CopyAction, Qt::NoButton, {});
}

} // namespace

FAULT(drop_of_wrong_type)
{
    Desk d;
    Lane lane;
    lane.setObjectName("deckLane");
    lane.setAcceptDrops(true);
    d.layout.addWidget(&lane, 1);
    return run(d, [&] { dropOn(&lane); });
}
