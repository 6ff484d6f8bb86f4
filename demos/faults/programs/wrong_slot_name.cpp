// A slot that is to be connected by its name is misspelt.
//
// ask     boardButton
// verdict connect failed
// says    on_boardButton_clickd
#include "fault.h"

using namespace fault;

namespace
{

struct Named : Desk {
    Q_OBJECT
public slots:
    void on_boardButton_clickd() { says("aboard"); }
};

} // namespace

FAULT(wrong_slot_name)
{
    Named d;
    QMetaObject::connectSlotsByName(&d);
    return run(d, [&] { click(&d.board); });
}

#include "wrong_slot_name.moc"
