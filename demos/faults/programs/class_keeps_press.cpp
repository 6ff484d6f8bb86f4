// A button of a class of its own counts presses, and forgets to hand them on.
//
// ask     countingButton
// verdict swallowed by its own class
// says    kept the press to itself
#include "fault.h"

using namespace fault;

namespace
{

struct Counting : QPushButton {
    using QPushButton::QPushButton;
    int presses = 0;
    void mousePressEvent(QMouseEvent *) override { ++presses; }
};

} // namespace

FAULT(class_keeps_press)
{
    Desk d;
    Counting counting("Count");
    counting.setObjectName("countingButton");
    d.layout.addWidget(&counting);
    QObject::connect(&counting, &QPushButton::clicked, &d, [&] { d.says("counted"); });
    return run(d, [&] { click(&counting); });
}
