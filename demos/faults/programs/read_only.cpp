// A field may only be read.
//
// ask     ticketField
// verdict read only
// says    read only
#include "fault.h"

using namespace fault;

FAULT(read_only)
{
    Desk d;
    d.ticket.setReadOnly(true);
    QObject::connect(&d.ticket, &QLineEdit::textEdited, &d, [&] { d.says("typed"); });
    return run(d, [&] {
        d.ticket.setFocus();
        key(&d, Qt::Key_K, {}, "k");
    });
}
