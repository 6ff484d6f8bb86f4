#include "drag_not_enabled.h"

DragNotEnabled::DragNotEnabled(QWidget *parent) : DragNotEnabledBase(parent)
{
}

// True: handled here. False: the widget handles the event itself.
bool DragNotEnabled::loadCar(QListWidget *source, QDropEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return true;
}
