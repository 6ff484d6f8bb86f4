// The text is painted only after the handler has ended.
//
// ask     boardButton
// verdict painted too late
// says    painted only after
#include "fault.h"
#include <QThread>

using namespace fault;

FAULT(painted_too_late)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        d.says("working");
        QThread::msleep(300);
    });
    return run(d, [&] { click(&d.board); }, 800);
}
