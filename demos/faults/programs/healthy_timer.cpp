// A timer that fires.
//
// ask     gateTimer
// verdict ok
#include "fault.h"

using namespace fault;

FAULT(healthy_timer)
{
    Desk d;
    QTimer gate;
    gate.setObjectName("gateTimer");
    QObject::connect(&gate, &QTimer::timeout, &d, [&, n = 0]() mutable { d.says(QString::number(++n)); });
    gate.start(50);
    return run(d, [] {});
}
