// A signal misspelt in a connect by name.
//
// ask     boardButton
// verdict connect failed
// says    there is no signal
#include "fault.h"

using namespace fault;

FAULT(no_such_signal)
{
    Desk d;
    QObject::connect(&d.board, SIGNAL(clickd()), &d.status, SLOT(clear()));
    return run(d, [&] { click(&d.board); });
}
