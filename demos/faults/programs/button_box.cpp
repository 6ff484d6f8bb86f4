// Of a box of buttons only the wrong signal is connected.
//
// ask     okButton
// verdict not connected
// says    accepted
#include "fault.h"
#include <QDialogButtonBox>

using namespace fault;

FAULT(button_box)
{
    Desk d;
    QDialogButtonBox box(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    box.setObjectName("answerBox");
    box.button(QDialogButtonBox::Ok)->setObjectName("okButton");
    d.layout.addWidget(&box);
    QObject::connect(&box, &QDialogButtonBox::rejected, &d, [&] { d.says("answered"); });
    return run(d, [&] { click(box.button(QDialogButtonBox::Ok)); });
}
