// The mouse button is let go of outside.
//
// ask     boardButton
// verdict released outside
// says    let go
#include "fault.h"

using namespace fault;

FAULT(released_outside)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] {
        const QPoint at = d.board.mapTo(&d, d.board.rect().center());
        mouse(&d, at, QEvent::MouseButtonPress, Qt::LeftButton, Qt::LeftButton);
        mouse(&d, QPoint(at.x(), 235), QEvent::MouseMove, Qt::NoButton, Qt::LeftButton);
        mouse(&d, QPoint(at.x(), 235), QEvent::MouseButtonRelease, Qt::LeftButton, Qt::NoButton);
    });
}
