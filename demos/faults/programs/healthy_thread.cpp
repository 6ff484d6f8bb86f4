// A worker that answers.
//
// ask     boardButton
// verdict ok
#include "fault.h"
#include <QThread>

using namespace fault;

FAULT(healthy_thread)
{
    Desk d;
    QThread thread;
    thread.setObjectName("harbour");
    QObject worker;
    worker.moveToThread(&thread);
    thread.start();
    QObject::connect(&d.board, &QPushButton::clicked, &worker, [&] {
        QMetaObject::invokeMethod(&d, [&] { d.says("aboard"); }, Qt::QueuedConnection);
    });
    const int code = run(d, [&] { click(&d.board); });
    thread.quit();
    thread.wait();
    return code;
}
