// Two buttons of one name, and the other one is connected.
//
// ask     boardButton
// verdict another object is connected
// says    another object
#include "fault.h"

using namespace fault;

FAULT(same_name)
{
    Desk d;
    QWidget spare;
    QPushButton other("Board", &spare);
    other.setObjectName("boardButton");
    QObject::connect(&other, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board); });
}
