// A popup was open and took the click.
//
// ask     boardButton
// verdict taken by a popup
// says    popup
#include "fault.h"

using namespace fault;

FAULT(popup_took_it)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    QWidget popup(&d, Qt::Popup);
    popup.setObjectName("tidePopup");
    popup.resize(40, 40);
    later(100, [&] { popup.move(d.mapToGlobal(QPoint(400, 400))); popup.show(); });
    return run(d, [&] { click(&d.board); });
}
