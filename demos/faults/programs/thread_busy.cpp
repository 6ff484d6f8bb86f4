// The loop of the thread is busy with something else.
//
// ask     boardButton
// verdict thread busy
// says    busy
#include "fault.h"
#include <QThread>

#include <cstdlib>

using namespace fault;

FAULT(thread_busy)
{
    Desk d;
    QThread thread;
    thread.setObjectName("harbour");
    QObject worker;
    worker.setObjectName("worker");
    worker.moveToThread(&thread);
    QObject::connect(&d.board, &QPushButton::clicked, &worker, [] {});
    thread.start();
    later(50, [&] { QMetaObject::invokeMethod(&worker, [] { QThread::msleep(1500); }); });
    const int code = run(d, [&] { click(&d.board); });
    std::quick_exit(code);
}
