// Return in a field of a dialog presses its default button, which closes it.
//
// ask     nameField
// verdict ok
// says    it closed askDialog
#include "fault.h"

#include <QDialog>
#include <QDialogButtonBox>

using namespace fault;

FAULT(healthy_return_in_dialog)
{
    Desk d;
    QDialog ask(&d);
    ask.setObjectName("askDialog");
    QVBoxLayout column(&ask);
    QLineEdit name;
    name.setObjectName("nameField");
    QDialogButtonBox buttons(QDialogButtonBox::Ok);
    column.addWidget(&name);
    column.addWidget(&buttons);
    QObject::connect(&buttons, &QDialogButtonBox::accepted, &ask, &QDialog::accept);
    QObject::connect(&ask, &QDialog::finished, &d, [&] { d.says("named"); });
    later(50, [&] { ask.open(); });
    return run(d, [&] { key(&name, Qt::Key_Return, Qt::NoModifier); });
}
