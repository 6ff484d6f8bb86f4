// Two actions have one key.
//
// ask     hornAction
// verdict ambiguous shortcut
// says    ambiguous
#include "fault.h"
#include <QAction>

using namespace fault;

FAULT(ambiguous_shortcut)
{
    Desk d;
    QAction horn("Horn"), help("Help");
    horn.setObjectName("hornAction");
    help.setObjectName("helpAction");
    for (QAction *a : {&horn, &help}) {
        a->setShortcut(QKeySequence("Ctrl+H"));
        d.addAction(a);
        QObject::connect(a, &QAction::triggered, &d, [&] { d.says("done"); });
    }
    return run(d, [&] { key(&d, Qt::Key_H, Qt::ControlModifier); });
}
