#include "connected_twice.h"

ConnectedTwice::ConnectedTwice(QWidget *parent) : ConnectedTwiceBase(parent)
{
}

void ConnectedTwice::boardPassenger()
{
}
