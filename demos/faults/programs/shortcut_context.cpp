// A key that works only while its own widget has the focus.
//
// ask     hornAction
// verdict wrong context
// says    focus
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(shortcut_context)
{
    Desk d;
    QAction horn("Horn");
    horn.setObjectName("hornAction");
    horn.setShortcut(QKeySequence("Ctrl+H"));
    horn.setShortcutContext(Qt::WidgetShortcut);
    d.board.addAction(&horn);
    QObject::connect(&horn, &QAction::triggered, &d, [&] { d.says("toot"); });
    d.ticket.setFocus();
    return run(d, [&] { key(&d, Qt::Key_H, Qt::ControlModifier); });
}
