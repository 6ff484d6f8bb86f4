// What is around the button is disabled.
//
// ask     boardButton
// verdict disabled
// says    because
#include "fault.h"

using namespace fault;

FAULT(parent_disabled)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    QWidget panel;
    panel.setObjectName("boardingPanel");
    QVBoxLayout inner(&panel);
    inner.addWidget(&d.board);
    d.layout.addWidget(&panel);
    panel.setEnabled(false);
    return run(d, [&] { click(&d.board); });
}
