// The call is queued for a thread that has ended.
//
// ask     boardButton
// verdict thread ended
// says    ended
#include "fault.h"
#include <QThread>

using namespace fault;

FAULT(thread_ended)
{
    Desk d;
    QThread thread;
    thread.setObjectName("harbour");
    QObject worker;
    worker.setObjectName("worker");
    worker.moveToThread(&thread);
    QObject::connect(&d.board, &QPushButton::clicked, &worker, [] {});
    thread.start();
    later(50, [&] { thread.quit(); thread.wait(); });
    return run(d, [&] { click(&d.board); });
}
