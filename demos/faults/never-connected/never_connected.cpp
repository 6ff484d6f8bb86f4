#include "never_connected.h"

NeverConnected::NeverConnected(QWidget *parent) : NeverConnectedBase(parent)
{
}
