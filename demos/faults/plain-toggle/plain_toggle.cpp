#include "plain_toggle.h"

PlainToggle::PlainToggle(QWidget *parent) : PlainToggleBase(parent)
{
}

void PlainToggle::openBoarding(bool value)
{
    Q_UNUSED(value)
}
