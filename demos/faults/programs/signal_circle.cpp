// Two sliders set each other, on and on.
//
// ask     boardButton
// verdict circle of signals
// says    led to itself
#include "fault.h"

#include <QSlider>

using namespace fault;

FAULT(signal_circle)
{
    Desk d;
    QSlider tide, gate;
    tide.setObjectName("tideSlider");
    gate.setObjectName("gateSlider");
    d.layout.addWidget(&tide);
    d.layout.addWidget(&gate);
    QObject::connect(&tide, &QSlider::valueChanged, &d, [&](int v) { gate.setValue(v + 1); });
    QObject::connect(&gate, &QSlider::valueChanged, &d, [&](int v) { tide.setValue(v + 1); });
    QObject::connect(&d.board, &QPushButton::clicked, &d, [&] { tide.setValue(1); });
    return run(d, [&] { click(&d.board); });
}
