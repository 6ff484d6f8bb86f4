// A button answers the left mouse button only.
//
// ask     boardButton
// verdict ignored
// says    left
#include "fault.h"

using namespace fault;

FAULT(right_button)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board, Qt::RightButton); });
}
