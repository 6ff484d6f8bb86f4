// The signals of the button are blocked.
//
// ask     boardButton
// verdict signals blocked
// says    blocked
#include "fault.h"

using namespace fault;

FAULT(signals_blocked)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    d.board.blockSignals(true);
    return run(d, [&] { click(&d.board); });
}
