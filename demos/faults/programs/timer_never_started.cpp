// A timer that is not started.
//
// ask     gateTimer
// verdict never started
// says    never started
#include "fault.h"

using namespace fault;

FAULT(timer_never_started)
{
    Desk d;
    QTimer gate;
    gate.setObjectName("gateTimer");
    gate.setInterval(50);
    QObject::connect(&gate, &QTimer::timeout, &d, [&] { d.says("gate"); });
    return run(d, [] {});
}
