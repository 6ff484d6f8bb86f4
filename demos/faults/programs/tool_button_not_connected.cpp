// A tool button shows an action that nobody connected.
//
// ask     syncButton
// verdict not connected
// says    it triggered syncAction, whose triggered is not connected to anything
#include "fault.h"

#include <QMainWindow>
#include <QToolBar>
#include <QToolButton>

using namespace fault;

FAULT(tool_button_not_connected)
{
    QMainWindow d;
    QToolBar *tools = d.addToolBar("Tools");
    QAction *sync = tools->addAction("Sync");
    sync->setObjectName("syncAction");
    tools->widgetForAction(sync)->setObjectName("syncButton");
    return run(d, [&] { click(tools->widgetForAction(sync)); });
}
