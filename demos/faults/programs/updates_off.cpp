// Painting is switched off.
//
// ask     boardButton
// verdict updates are off
// says    updates
#include "fault.h"

using namespace fault;

FAULT(updates_off)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [&] { d.setUpdatesEnabled(false); });
    return run(d, [&] { click(&d.board); });
}
