// A label lies over the button.
//
// ask     boardButton
// verdict covered
// says    covered by
#include "fault.h"

using namespace fault;

FAULT(covered)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [&] {
        auto *veil = new QLabel(&d);
        veil->setObjectName("veilLabel");
        veil->setGeometry(d.rect());
        veil->show();
    });
    return run(d, [&] { click(&d.board); });
}
