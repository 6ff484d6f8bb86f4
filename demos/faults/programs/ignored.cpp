// A label has no handler for a click.
//
// ask     statusLabel
// verdict ignored
// says    ignored
#include "fault.h"

using namespace fault;

FAULT(ignored)
{
    Desk d;
    return run(d, [&] { click(&d.status); });
}
