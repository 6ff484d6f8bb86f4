// Disconnected again.
//
// ask     boardButton
// verdict disconnected
// says    disconnected
#include "fault.h"

using namespace fault;

FAULT(disconnected)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [&] { d.board.disconnect(); });
    return run(d, [&] { click(&d.board); });
}
