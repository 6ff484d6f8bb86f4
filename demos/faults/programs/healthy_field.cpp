// Return in a field.
//
// ask     ticketField
// verdict ok
#include "fault.h"

using namespace fault;

FAULT(healthy_field)
{
    Desk d;
    QObject::connect(&d.ticket, &QLineEdit::returnPressed, &d, [&] { d.says("aboard"); });
    d.ticket.setFocus();
    return run(d, [&] { key(&d, Qt::Key_Return, {}, "\r"); });
}
