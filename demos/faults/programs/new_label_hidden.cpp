// A handler makes a label of its own instead of setting the one that is shown.
//
// ask     boardButton
// verdict changed nothing
// says    is hidden
#include "fault.h"

using namespace fault;

FAULT(new_label_hidden)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        auto *status = new QLabel(&d);
        status->setText("aboard");
    });
    return run(d, [&] { click(&d.board); });
}
