// A button stands on a page that is not shown.
//
// ask     loadButton
// verdict hidden
// says    a page of deskTabs
#include "fault.h"
#include <QTabWidget>

using namespace fault;

FAULT(other_page)
{
    Desk d;
    QTabWidget tabs;
    tabs.setObjectName("deskTabs");
    tabs.addTab(new QWidget, "Passengers");
    auto *cars = new QWidget;
    auto *load = new QPushButton("Load", cars);
    load->setObjectName("loadButton");
    tabs.addTab(cars, "Cars");
    d.layout.addWidget(&tabs);
    QObject::connect(load, &QPushButton::clicked, &d, [&] { d.says("loaded"); });
    return run(d, [&] { click(&d.board); });
}
