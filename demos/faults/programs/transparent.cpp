// A button that is transparent to the mouse.
//
// ask     boardButton
// verdict transparent to the mouse
// says    transparent
#include "fault.h"

using namespace fault;

FAULT(transparent)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    d.board.setAttribute(Qt::WA_TransparentForMouseEvents);
    return run(d, [&] { click(&d.board); });
}
