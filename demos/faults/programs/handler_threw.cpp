// The handler throws, and the application catches it.
//
// ask     boardButton
// verdict the handler threw
// says    exception
#include "fault.h"
#include <stdexcept>

using namespace fault;

FAULT(handler_threw)
{
    Desk d;
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] {
        if (d.ticket.text().isEmpty())
            throw std::runtime_error("no ticket");
        d.says("aboard");
    });
    d.show();
    later(200, [&] { click(&d.board); });
    later(600, [] { QApplication::quit(); });
    for (;;)
        try {
            return QApplication::exec();
        } catch (const std::exception &) {
        }
}
