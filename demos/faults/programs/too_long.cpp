// A field is full.
//
// ask     ticketField
// verdict refused
// says    at most 3 characters
#include "fault.h"

using namespace fault;

FAULT(too_long)
{
    Desk d;
    d.ticket.setMaxLength(3);
    d.ticket.setText("abc");
    QObject::connect(&d.ticket, &QLineEdit::textEdited, &d, [&] { d.says("typed"); });
    return run(d, [&] {
        d.ticket.setFocus();
        key(&d, Qt::Key_D, {}, "d");
    });
}
