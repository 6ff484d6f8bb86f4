// A widget of one's own takes no focus.
//
// ask     rampPanel
// verdict no focus policy
// says    focus policy
#include "fault.h"
#include <QKeyEvent>

using namespace fault;

namespace
{

struct Panel : QWidget {
    void keyPressEvent(QKeyEvent *) override { setToolTip("key"); }
};

} // namespace

FAULT(no_focus_policy)
{
    Desk d;
    Panel ramp;
    ramp.setObjectName("rampPanel");
    d.layout.addWidget(&ramp);
    d.ticket.setFocus();
    return run(d, [&] {
        click(&ramp);
        later(100, [&] { key(&d, Qt::Key_F5); });
    });
}
