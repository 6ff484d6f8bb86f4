// A button that is hidden.
//
// ask     boardButton
// verdict hidden
// says    is hidden
#include "fault.h"

using namespace fault;

FAULT(hidden)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    QPoint was;
    later(100, [&] { was = d.board.mapTo(&d, d.board.rect().center()); d.board.hide(); });
    return run(d, [&] { click(&d, was); });
}
