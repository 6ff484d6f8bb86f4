// A modal dialog keeps input from the window.
//
// ask     boardButton
// verdict blocked by a modal dialog
// says    modal
#include "fault.h"
#include <QDialog>

using namespace fault;

FAULT(modal_dialog)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    QDialog ask(&d);
    ask.setObjectName("askDialog");
    ask.setModal(true);
    later(100, [&] { ask.show(); });
    return run(d, [&] { click(&d.board); });
}
