#include "hectic_timer.h"

HecticTimer::HecticTimer(QWidget *parent) : HecticTimerBase(parent)
{
}

void HecticTimer::readGate()
{
}
