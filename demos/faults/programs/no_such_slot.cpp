// A slot misspelt in a connect by name.
//
// ask     boardButton
// verdict connect failed
// says    there is no slot
#include "fault.h"

using namespace fault;

FAULT(no_such_slot)
{
    Desk d;
    QObject::connect(&d.board, SIGNAL(clicked()), &d.status, SLOT(empty()));
    return run(d, [&] { click(&d.board); });
}
