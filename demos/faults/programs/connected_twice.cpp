// Connected twice: the handler runs twice.
//
// ask     boardButton
// verdict connected twice
// says    2 times
#include "fault.h"

using namespace fault;

FAULT(connected_twice)
{
    Desk d;
    int aboard = 0;
    for (int i = 0; i < 2; ++i)
        QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says(QString::number(++aboard)); });
    return run(d, [&] { click(&d.board); });
}
