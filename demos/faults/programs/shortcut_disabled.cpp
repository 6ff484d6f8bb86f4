// The action of the key is disabled.
//
// ask     hornAction
// verdict disabled
// says    disabled
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(shortcut_disabled)
{
    Desk d;
    QAction horn("Horn");
    horn.setObjectName("hornAction");
    horn.setShortcut(QKeySequence("Ctrl+H"));
    d.addAction(&horn);
    QObject::connect(&horn, &QAction::triggered, &d, [&] { d.says("toot"); });
    horn.setEnabled(false);
    return run(d, [&] { key(&d, Qt::Key_H, Qt::ControlModifier); });
}
