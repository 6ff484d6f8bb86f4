// An action without a shortcut, in a tool bar.
//
// ask     syncAction
// verdict ok
#include "fault.h"

#include <QMainWindow>
#include <QToolBar>
#include <QToolButton>

using namespace fault;

FAULT(healthy_toolbar)
{
    QMainWindow d;
    QLabel status("ready");
    status.setObjectName("statusLabel");
    d.setCentralWidget(&status);
    QToolBar *tools = d.addToolBar("Tools");
    QAction *sync = tools->addAction("Sync");
    sync->setObjectName("syncAction");
    QObject::connect(sync, &QAction::triggered, &d, [&] { status.setText("synced"); });
    const int code = run(d, [&] { click(tools->widgetForAction(sync)); });
    status.setParent(nullptr);
    return code;
}
