// A button without a size.
//
// ask     boardButton
// verdict size nothing
// says    no size
#include "fault.h"

using namespace fault;

FAULT(size_nothing)
{
    QWidget d;
    d.setObjectName("ferryDesk");
    QPushButton board("Board", &d);
    board.setObjectName("boardButton");
    board.setGeometry(10, 10, 0, 0);
    return run(d, [&] { click(&d, QPoint(10, 10)); });
}
