// Slots of the toolkit's own, bound as member functions.
//
// ask     boardButton
// verdict ok
// says    QLineEdit::clear
#include "fault.h"

#include <QProgressBar>
#include <QSlider>

using namespace fault;

FAULT(healthy_slots)
{
    Desk d;
    QSlider tide(Qt::Horizontal);
    QProgressBar level;
    tide.setObjectName("tideSlider");
    level.setObjectName("levelBar");
    d.layout.addWidget(&tide);
    d.layout.addWidget(&level);
    d.ticket.setText("K-204");
    QObject::connect(&d.board, &QPushButton::clicked, &d.ticket, &QLineEdit::clear);
    QObject::connect(&d.board, &QPushButton::clicked, &tide, [&] { tide.setValue(40); });
    QObject::connect(&tide, &QSlider::valueChanged, &level, &QProgressBar::setValue);
    QObject::connect(&d.ticket, &QLineEdit::textChanged, &d.status, &QLabel::setText);
    QObject::connect(&d.ticket, &QLineEdit::returnPressed, &d, &QWidget::hide);
    QObject::connect(&d.ticket, &QLineEdit::editingFinished, &d, &QWidget::show);
    return run(d, [&] { click(&d.board); });
}
