// A widget ignores the right click as such, and answers with its context menu.
//
// ask     deckMap
// verdict ok
#include "fault.h"

#include <QContextMenuEvent>

using namespace fault;

namespace
{

struct Map : QWidget {
    explicit Map(Desk *d) : QWidget(d), desk(d) { setObjectName("deckMap"); }
    void contextMenuEvent(QContextMenuEvent *) override { desk->says("lane 3"); }
    Desk *desk;
};

} // namespace

FAULT(healthy_context_menu)
{
    Desk d;
    Map map(&d);
    map.setMinimumSize(80, 40);
    d.layout.addWidget(&map);
    return run(d, [&] { click(&map, Qt::RightButton); });
}
