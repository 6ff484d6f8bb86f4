// What the handler changes is hidden.
//
// ask     boardButton
// verdict hidden
// says    hidden
#include "fault.h"

using namespace fault;

FAULT(result_hidden)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    d.status.hide();
    return run(d, [&] { click(&d.board); });
}
