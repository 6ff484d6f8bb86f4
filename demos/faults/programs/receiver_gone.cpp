// The receiver was deleted, and the connection with it.
//
// ask     boardButton
// verdict receiver gone
// says    deleted
#include "fault.h"

using namespace fault;

FAULT(receiver_gone)
{
    Desk d;
    auto *clerk = new QLabel("clerk", &d);
    clerk->setObjectName("clerkLabel");
    QObject::connect(&d.board, &QPushButton::clicked, clerk, [&] { d.says("aboard"); });
    later(100, [=] { delete clerk; });
    return run(d, [&] { click(&d.board); });
}
