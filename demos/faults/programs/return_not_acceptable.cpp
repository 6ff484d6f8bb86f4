// What stands in a field is too small when Return is pressed.
//
// ask     ticketField
// verdict refused
// says    did not emit returnPressed
#include "fault.h"
#include <QIntValidator>

using namespace fault;

FAULT(return_not_acceptable)
{
    Desk d;
    d.ticket.setValidator(new QIntValidator(100, 999, &d.ticket));
    QObject::connect(&d.ticket, &QLineEdit::returnPressed, &d, [&] { d.says("aboard"); });
    return run(d, [&] {
        d.ticket.setFocus();
        key(&d, Qt::Key_4, {}, "4");
        key(&d, Qt::Key_Return, {}, "\r");
    });
}
