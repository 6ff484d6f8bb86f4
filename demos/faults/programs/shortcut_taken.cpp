// The field that has the focus takes the key for itself.
//
// ask     copyAction
// verdict taken by the focus widget
// says    focus
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(shortcut_taken)
{
    Desk d;
    QAction copy("Copy the list");
    copy.setObjectName("copyAction");
    copy.setShortcut(QKeySequence("Ctrl+C"));
    d.addAction(&copy);
    QObject::connect(&copy, &QAction::triggered, &d, [&] { d.says("copied"); });
    d.ticket.setText("K-204");
    d.ticket.setFocus();
    return run(d, [&] { key(&d, Qt::Key_C, Qt::ControlModifier); });
}
