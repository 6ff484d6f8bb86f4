#include "nothing_selected.h"

NothingSelected::NothingSelected(QWidget *parent) : NothingSelectedBase(parent)
{
}

void NothingSelected::keyDown(int value)
{
    Q_UNUSED(value)
}
