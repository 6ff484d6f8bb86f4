#include "drop_refused.h"

DropRefused::DropRefused(QWidget *parent) : DropRefusedBase(parent)
{
}

// True: handled here. False: the widget handles the event itself.
bool DropRefused::loadCar(QListWidget *source, QDropEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return true;
}
