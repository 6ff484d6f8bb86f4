// A button that lies outside what is around it.
//
// ask     boardButton
// verdict outside its parent
// says    outside its parent
#include "fault.h"

using namespace fault;

FAULT(outside_parent)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    later(100, [&] {
        d.layout.removeWidget(&d.board);
        d.board.move(1000, 20);
    });
    return run(d, [&] { click(&d, QPoint(310, 30)); });
}
