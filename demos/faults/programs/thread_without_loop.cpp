// The call is queued for a thread that runs no event loop.
//
// ask     boardButton
// verdict no event loop
// says    no event loop
#include "fault.h"
#include <QThread>

using namespace fault;

namespace
{

struct Diligent : QThread {
    void run() override { msleep(1000); }
};

} // namespace

FAULT(thread_without_loop)
{
    Desk d;
    Diligent thread;
    QObject worker;
    worker.setObjectName("worker");
    worker.moveToThread(&thread);
    QObject::connect(&d.board, &QPushButton::clicked, &worker, [] {});
    thread.start();
    const int code = run(d, [&] { click(&d.board); });
    thread.wait();
    return code;
}
