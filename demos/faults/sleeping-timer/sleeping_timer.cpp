#include "sleeping_timer.h"

SleepingTimer::SleepingTimer(QWidget *parent) : SleepingTimerBase(parent)
{
}

void SleepingTimer::readGate()
{
}
