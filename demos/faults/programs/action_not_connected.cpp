// An action that nobody connected.
//
// ask     syncAction
// verdict not connected
// says    not connected
#include "fault.h"

#include <QAction>

using namespace fault;

FAULT(action_not_connected)
{
    Desk d;
    QAction sync("Sync");
    sync.setObjectName("syncAction");
    sync.setShortcut(QKeySequence("Ctrl+J"));
    d.addAction(&sync);
    return run(d, [&] { key(&d, Qt::Key_J, Qt::ControlModifier); });
}
