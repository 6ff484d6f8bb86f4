// A button on the page that is shown.
//
// ask     loadButton
// verdict ok
#include "fault.h"
#include <QTabWidget>

using namespace fault;

FAULT(healthy_page)
{
    Desk d;
    QTabWidget tabs;
    auto *cars = new QWidget;
    auto *load = new QPushButton("Load", cars);
    load->setObjectName("loadButton");
    tabs.addTab(new QWidget, "Passengers");
    tabs.addTab(cars, "Cars");
    tabs.setCurrentIndex(1);
    d.layout.addWidget(&tabs);
    QObject::connect(load, &QPushButton::clicked, &d, [&] { d.says("loaded"); });
    return run(d, [&] { click(load); });
}
