// A field of a class of its own takes Return for itself.
//
// ask     codeField
// verdict swallowed by its own class
// says    returnPressed was not emitted
#include "fault.h"
#include <QKeyEvent>

using namespace fault;

namespace
{

struct Code : QLineEdit {
    void keyPressEvent(QKeyEvent *e) override
    {
        if (e->key() != Qt::Key_Return)
            QLineEdit::keyPressEvent(e);
    }
};

} // namespace

FAULT(class_keeps_return)
{
    Desk d;
    Code code;
    code.setObjectName("codeField");
    d.layout.addWidget(&code);
    QObject::connect(&code, &QLineEdit::returnPressed, &d, [&] { d.says("entered"); });
    return run(d, [&] {
        code.setFocus();
        key(&d, Qt::Key_Return, {}, "\r");
    });
}
