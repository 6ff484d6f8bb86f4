#include "drag_without_drop.h"

DragWithoutDrop::DragWithoutDrop(QWidget *parent) : DragWithoutDropBase(parent)
{
}

// True: handled here. False: the widget handles the event itself.
bool DragWithoutDrop::lookAtCar(QListWidget *source, QDragEnterEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return true;
}
