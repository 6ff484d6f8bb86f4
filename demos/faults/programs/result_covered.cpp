// What the handler changes is covered.
//
// ask     boardButton
// verdict covered
// says    covered
#include "fault.h"

using namespace fault;

FAULT(result_covered)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        d.says("aboard");
        d.status.update();
    });
    later(100, [&] {
        auto *veil = new QWidget(&d);
        veil->setObjectName("veil");
        veil->setAutoFillBackground(true);
        veil->setGeometry(0, d.status.y(), d.width(), d.height());
        veil->show();
    });
    return run(d, [&] { click(&d.board); });
}
