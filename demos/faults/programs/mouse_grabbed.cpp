// Another widget grabs the mouse.
//
// ask     boardButton
// verdict the mouse is grabbed
// says    grabs the mouse
#include "fault.h"

using namespace fault;

FAULT(mouse_grabbed)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [&] { d.status.grabMouse(); });
    return run(d, [&] { click(&d.board); });
}
