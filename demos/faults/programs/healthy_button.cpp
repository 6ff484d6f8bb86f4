// A button that works.
//
// ask     boardButton
// verdict ok
#include "fault.h"

using namespace fault;

FAULT(healthy_button)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board); });
}
