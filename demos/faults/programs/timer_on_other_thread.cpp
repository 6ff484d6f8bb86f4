// A worker starts a timer of the window's.
//
// ask     gateTimer
// verdict started on another thread
// says    another thread
#include "fault.h"
#include <QTimer>
#include <thread>

using namespace fault;

FAULT(timer_on_other_thread)
{
    Desk d;
    QTimer gate(&d);
    gate.setObjectName("gateTimer");
    QObject::connect(&gate, &QTimer::timeout, &d, [&] { d.says("open"); });
    QObject::connect(&d.board, &QPushButton::clicked, &d,
                     [&] { std::thread([&] { gate.start(50); }).join(); });
    return run(d, [&] { click(&d.board); });
}
