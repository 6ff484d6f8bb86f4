// A key that works, wherever the focus is.
//
// ask     hornAction
// verdict ok
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(healthy_shortcut)
{
    Desk d;
    QAction horn("Horn");
    horn.setObjectName("hornAction");
    horn.setShortcut(QKeySequence("Ctrl+H"));
    d.addAction(&horn);
    QObject::connect(&horn, &QAction::triggered, &d, [&] { d.says("toot"); });
    return run(d, [&] { key(&d, Qt::Key_H, Qt::ControlModifier); });
}
