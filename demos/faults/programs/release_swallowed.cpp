// A filter keeps the release of the mouse, so that the button is never clicked.
//
// ask     boardButton
// verdict swallowed by a filter
// says    release
#include "fault.h"

using namespace fault;

namespace
{

struct Keeper : QObject {
    using QObject::QObject;
    bool eventFilter(QObject *, QEvent *e) override { return e->type() == QEvent::MouseButtonRelease; }
};

} // namespace

FAULT(release_swallowed)
{
    Desk d;
    Keeper keeper;
    d.board.installEventFilter(&keeper);
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { d.says("aboard"); });
    return run(d, [&] { click(&d.board); });
}
