// Connected only after the click.
//
// ask     boardButton
// verdict connected too late
// says    not connected yet
#include "fault.h"

using namespace fault;

FAULT(connected_late)
{
    Desk d;
    return run(d, [&] {
        click(&d.board);
        later(100, [&] { QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); }); });
    });
}
