// A field for numbers is typed a letter.
//
// ask     ticketField
// verdict refused
// says    QIntValidator
#include "fault.h"
#include <QIntValidator>

using namespace fault;

FAULT(validator_refuses)
{
    Desk d;
    d.ticket.setValidator(new QIntValidator(1, 99, &d.ticket));
    QObject::connect(&d.ticket, &QLineEdit::textEdited, &d, [&] { d.says("typed"); });
    return run(d, [&] {
        d.ticket.setFocus();
        key(&d, Qt::Key_K, {}, "k");
    });
}
