// A handler sets a text that stands there already.
//
// ask     boardButton
// verdict changed nothing
// says    to what it was already
#include "fault.h"

using namespace fault;

FAULT(set_to_same)
{
    Desk d;
    d.says("aboard");
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board); });
}
