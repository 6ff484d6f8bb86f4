// A timer that is started anew before it fires.
//
// ask     saveTimer
// verdict restarted before it fired
// says    before
#include "fault.h"

using namespace fault;

FAULT(timer_restarted)
{
    Desk d;
    QTimer save, typing;
    save.setObjectName("saveTimer");
    save.setSingleShot(true);
    save.setInterval(300);
    QObject::connect(&save, &QTimer::timeout, &d, [&] { d.says("saved"); });
    QObject::connect(&typing, &QTimer::timeout, &d, [&] { save.start(); });
    typing.start(40);
    return run(d, [] {});
}
