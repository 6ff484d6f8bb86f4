// The handler never returns.
//
// ask     boardButton
// verdict the handler has not ended
// says    did not return
#include "fault.h"
#include <QThread>

#include <cstdlib>

using namespace fault;

FAULT(handler_hangs)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        for (int i = 0; i < 60; ++i)
            QThread::msleep(10);
        std::quick_exit(0);
    });
    return run(d, [&] { click(&d.board); });
}
