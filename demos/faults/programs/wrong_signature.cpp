// Arguments that do not fit.
//
// ask     boardButton
// verdict connect failed
// says    do not fit
#include "fault.h"

using namespace fault;

FAULT(wrong_signature)
{
    Desk d;
    QObject::connect(&d.board, SIGNAL(clicked(bool)), &d.status, SLOT(setText(QString)));
    return run(d, [&] { click(&d.board); });
}
