// A button that nobody connected.
//
// ask     boardButton
// verdict not connected
// says    not connected
#include "fault.h"

using namespace fault;

FAULT(not_connected)
{
    Desk d;
    return run(d, [&] { click(&d.board); });
}
