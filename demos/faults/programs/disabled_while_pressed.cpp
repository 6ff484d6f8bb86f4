// The handler of pressed disables the button, so that it is never clicked.
//
// ask     boardButton
// verdict disabled while it was pressed
// says    did not emit clicked
#include "fault.h"

using namespace fault;

FAULT(disabled_while_pressed)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::pressed, &d, [&] { d.board.setEnabled(false); });
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board); });
}
