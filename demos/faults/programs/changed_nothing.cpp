// A handler that returns early.
//
// ask     boardButton
// verdict changed nothing
// says    changed nothing
#include "fault.h"

using namespace fault;

FAULT(changed_nothing)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        if (d.ticket.text().isEmpty())
            return;
        d.says("aboard");
    });
    return run(d, [&] { click(&d.board); });
}
