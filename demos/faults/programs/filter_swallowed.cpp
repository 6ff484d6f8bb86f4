// A filter swallows the press.
//
// ask     boardButton
// verdict swallowed by a filter
// says    swallowed
#include "fault.h"

using namespace fault;

namespace
{

struct Guard : QObject {
    bool eventFilter(QObject *, QEvent *e) override { return e->type() == QEvent::MouseButtonPress; }
};

} // namespace

FAULT(filter_swallowed)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    Guard guard;
    guard.setObjectName("guard");
    d.board.installEventFilter(&guard);
    return run(d, [&] { click(&d.board); });
}
