#include "endless_timer.h"

EndlessTimer::EndlessTimer(QWidget *parent) : EndlessTimerBase(parent)
{
}

void EndlessTimer::blink()
{
}
