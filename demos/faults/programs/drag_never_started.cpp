// A list whose rows may not be dragged.
//
// ask     carList
// verdict drag never started
// says    drag
#include "fault.h"
#include <QListWidget>

using namespace fault;

FAULT(drag_never_started)
{
    Desk d;
    QListWidget cars;
    cars.setObjectName("carList");
    cars.addItems({"car 1", "car 2"});
    d.layout.addWidget(&cars, 1);
    return run(d, [&] {
        const QPoint at = cars.mapTo(&d, QPoint(20, 10));
        mouse(&d, at, QEvent::MouseButtonPress, Qt::LeftButton, Qt::LeftButton);
        for (int i = 1; i < 8; ++i)
            mouse(&d, at + QPoint(10 * i, 0), QEvent::MouseMove, Qt::NoButton, Qt::LeftButton);
        mouse(&d, at + QPoint(80, 0), QEvent::MouseButtonRelease, Qt::LeftButton, Qt::NoButton);
    });
}
