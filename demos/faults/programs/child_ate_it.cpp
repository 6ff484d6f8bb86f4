// A child takes the click that its parent waits for.
//
// ask     rampPanel
// verdict taken by a child
// says    child
#include "fault.h"
#include <QMouseEvent>

using namespace fault;

namespace
{

struct Lamp : QWidget {
    void mousePressEvent(QMouseEvent *e) override { e->accept(); }
};
struct Panel : QWidget {
    void mousePressEvent(QMouseEvent *) override { setWindowTitle("pressed"); }
};

} // namespace

FAULT(child_ate_it)
{
    Panel d;
    d.setObjectName("rampPanel");
    QVBoxLayout layout(&d);
    Lamp lamp;
    lamp.setObjectName("rampLamp");
    layout.addWidget(&lamp);
    return run(d, [&] { click(&lamp); });
}
