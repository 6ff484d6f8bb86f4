// The call is queued for a thread that was not started.
//
// ask     boardButton
// verdict thread not started
// says    not started
#include "fault.h"
#include <QThread>

using namespace fault;

FAULT(thread_not_started)
{
    Desk d;
    QThread thread;
    thread.setObjectName("harbour");
    QObject worker;
    worker.setObjectName("worker");
    worker.moveToThread(&thread);
    QObject::connect(&d.board, &QPushButton::clicked, &worker, [] {});
    return run(d, [&] { click(&d.board); });
}
