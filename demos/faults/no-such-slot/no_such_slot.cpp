#include "no_such_slot.h"

NoSuchSlot::NoSuchSlot(QWidget *parent) : NoSuchSlotBase(parent)
{
}
