// The text is set, and set back in the same turn.
//
// ask     boardButton
// verdict overwritten
// says    overwritten
#include "fault.h"

using namespace fault;

FAULT(overwritten)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("ready"); });
    return run(d, [&] { click(&d.board); });
}
