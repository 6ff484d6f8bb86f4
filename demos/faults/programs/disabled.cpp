// A button that is disabled.
//
// ask     boardButton
// verdict disabled
// says    is disabled
#include "fault.h"

using namespace fault;

FAULT(disabled)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    d.board.setEnabled(false);
    return run(d, [&] { click(&d.board); });
}
