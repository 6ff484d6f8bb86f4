// A box of buttons that is connected.
//
// ask     okButton
// verdict ok
#include "fault.h"
#include <QDialogButtonBox>

using namespace fault;

FAULT(healthy_button_box)
{
    Desk d;
    QDialogButtonBox box(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    box.button(QDialogButtonBox::Ok)->setObjectName("okButton");
    d.layout.addWidget(&box);
    QObject::connect(&box, &QDialogButtonBox::accepted, &d, [&] { d.says("answered"); });
    return run(d, [&] { click(box.button(QDialogButtonBox::Ok)); });
}
