// A timer that is stopped.
//
// ask     gateTimer
// verdict stopped
// says    stopped
#include "fault.h"

using namespace fault;

FAULT(timer_stopped)
{
    Desk d;
    QTimer gate;
    gate.setObjectName("gateTimer");
    QObject::connect(&gate, &QTimer::timeout, &d, [&] {
        d.says("gate");
        gate.stop();
    });
    gate.start(50);
    return run(d, [] {});
}
