// An action that stands nowhere.
//
// ask     hornAction
// verdict on no widget
// says    no menu
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(shortcut_of_nobody)
{
    Desk d;
    QAction horn("Horn", &d);
    horn.setObjectName("hornAction");
    horn.setShortcut(QKeySequence("Ctrl+H"));
    QObject::connect(&horn, &QAction::triggered, &d, [&] { d.says("toot"); });
    return run(d, [&] { key(&d, Qt::Key_H, Qt::ControlModifier); });
}
