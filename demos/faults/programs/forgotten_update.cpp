// A widget of one's own counts its clicks and forgets to ask for a repaint.
//
// ask     rampDial
// verdict changed nothing
// says    not repainted
#include "fault.h"

#include <QPainter>

using namespace fault;

namespace
{

struct Dial : QWidget {
    int cars = 0;
    void mousePressEvent(QMouseEvent *) override { ++cars; }
    void paintEvent(QPaintEvent *) override { QPainter(this).drawText(rect(), QString::number(cars)); }
};

} // namespace

FAULT(forgotten_update)
{
    Desk d;
    Dial dial;
    dial.setObjectName("rampDial");
    d.layout.addWidget(&dial, 1);
    return run(d, [&] { click(&dial); });
}
