// A filter of the application swallows the press.
//
// ask     boardButton
// verdict swallowed by a filter
// says    swallowed
#include "fault.h"

using namespace fault;

namespace
{

struct Guard : QObject {
    bool eventFilter(QObject *o, QEvent *e) override
    {
        return e->type() == QEvent::MouseButtonPress && o->isWidgetType();
    }
};

} // namespace

FAULT(application_filter)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    Guard guard;
    guard.setObjectName("guard");
    qApp->installEventFilter(&guard);
    return run(d, [&] { click(&d.board); });
}
