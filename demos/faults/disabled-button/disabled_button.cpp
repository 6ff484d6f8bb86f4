#include "disabled_button.h"

DisabledButton::DisabledButton(QWidget *parent) : DisabledButtonBase(parent)
{
}

void DisabledButton::boardPassenger()
{
}
