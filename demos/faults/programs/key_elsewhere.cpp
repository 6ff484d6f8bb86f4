// The key goes to another field, which has the focus.
//
// ask     remarkField
// verdict another widget has the focus
// says    focus
#include "fault.h"

using namespace fault;

FAULT(key_elsewhere)
{
    Desk d;
    QLineEdit remark;
    remark.setObjectName("remarkField");
    d.layout.addWidget(&remark);
    QObject::connect(&remark, &QLineEdit::returnPressed, &d, [&] { d.says("noted"); });
    d.ticket.setFocus();
    return run(d, [&] { key(&d, Qt::Key_Return, {}, "\r"); });
}
