#include "drop_never_taken.h"

DropNeverTaken::DropNeverTaken(QWidget *parent) : DropNeverTakenBase(parent)
{
}

// True: handled here. False: the widget handles the event itself.
bool DropNeverTaken::loadCar(QListWidget *source, QDropEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return false;
}
