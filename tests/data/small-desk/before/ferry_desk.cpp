#include "ferry_desk.h"

#include <cmath>

FerryDesk::FerryDesk(QWidget *parent) : FerryDeskBase(parent)
{
    resize(420, 360);
}

// One handler, two ways in: the button and Return in the field.
void FerryDesk::boardPassenger()
{
    const QString ticket = ticketField->text().trimmed();
    if (ticket.isEmpty()) {
        statusLabel->setText("No ticket number yet");
        return;
    }
    passengerList->addItem(ticket);
    statusLabel->setText(ticket + " aboard");
    ticketField->clear();
}

// The tide at Skerry for seven weeks, minute by minute, from its harmonic constituents.
void FerryDesk::tideForecast()
{
    statusLabel->setText("Working on the tide table");
    const double amplitudes[] = {1.62, 0.54, 0.31, 0.14, 0.11, 0.08, 0.05, 0.03};
    const double speeds[] = {28.984, 30.0, 28.44, 15.041, 13.943, 30.082, 57.968, 58.984};
    double highest = 0;
    int highestMinute = 0;
    for (int minute = 0; minute < 49 * 24 * 60; ++minute) {
        double height = 0;
        for (int second = 0; second < 60; ++second)
            for (int i = 0; i < 8; ++i)
                height += amplitudes[i] * std::cos(speeds[i] * (minute + second / 60.0) / 60.0 * 0.0174532925) / 60.0;
        if (height > highest) {
            highest = height;
            highestMinute = minute;
        }
    }
    tideLabel->setText(QString("High water %1 m on day %2").arg(highest, 0, 'f', 2).arg(highestMinute / 1440 + 1));
}

// The gate's sensor, asked four times a second.
void FerryDesk::readGate()
{
    static int reading = 0;
    gateLabel->setText(++reading % 16 < 8 ? "Gate: open" : "Gate: closed");
}

// True: handled here. False: the widget handles the event itself.
bool FerryDesk::ticketKey(QLineEdit *source, QKeyEvent *event)
{
    Q_UNUSED(event)
    source->clear();
    statusLabel->setText("Ticket cleared");
    return true;
}
