// The button was made anew, and the new one is not connected.
//
// ask     boardButton
// verdict not connected
// says    not connected
#include "fault.h"

using namespace fault;

FAULT(sender_gone)
{
    Desk d;
    auto *old = new QPushButton("Old", &d);
    old->setObjectName("oldButton");
    QObject::connect(old, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [=] { delete old; });
    return run(d, [&] { click(&d.board); });
}
