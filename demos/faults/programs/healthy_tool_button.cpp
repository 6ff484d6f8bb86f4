// A tool button shows an action: nothing is connected to its own click, and the action has a handler.
//
// ask     syncButton
// verdict ok
// says    it triggered syncAction
#include "fault.h"

#include <QMainWindow>
#include <QToolBar>
#include <QToolButton>

using namespace fault;

FAULT(healthy_tool_button)
{
    QMainWindow d;
    QLabel status("ready");
    status.setObjectName("statusLabel");
    d.setCentralWidget(&status);
    QToolBar *tools = d.addToolBar("Tools");
    QAction *sync = tools->addAction("Sync");
    sync->setObjectName("syncAction");
    tools->widgetForAction(sync)->setObjectName("syncButton");
    QObject::connect(sync, &QAction::triggered, &d, [&] { status.setText("synced"); });
    const int code = run(d, [&] { click(tools->widgetForAction(sync)); });
    status.setParent(nullptr);
    return code;
}
