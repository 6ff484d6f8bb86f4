#include "light_stays_on.h"

LightStaysOn::LightStaysOn(QWidget *parent) : LightStaysOnBase(parent)
{
}

// True: handled here. False: the widget handles the event itself.
bool LightStaysOn::lightDeck(QFrame *source, QEnterEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    return false;
}
