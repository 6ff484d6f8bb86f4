// A button made after its window was shown, and not shown itself.
//
// ask     boardButton
// verdict hidden
// says    hidden
#include "fault.h"

using namespace fault;

FAULT(never_shown)
{
    QWidget d;
    d.setObjectName("ferryDesk");
    later(100, [&] {
        auto *board = new QPushButton("Board", &d);
        board->setObjectName("boardButton");
        board->setGeometry(10, 10, 100, 30);
    });
    return run(d, [&] { click(&d, QPoint(50, 20)); });
}
