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

// On the loop: say what is going on, and return what the work needs.
QString FerryDesk::tideForecastTake()
{
    statusLabel->setText("Working on the tide table");
    return "Skerry";
}

// On a worker thread: the tide for seven weeks, minute by minute, from its harmonic constituents.
QString tideForecastWork(QPromise<QString> &promise, const QString &input)
{
    const double amplitudes[] = {1.62, 0.54, 0.31, 0.14, 0.11, 0.08, 0.05, 0.03};
    const double speeds[] = {28.984, 30.0, 28.44, 15.041, 13.943, 30.082, 57.968, 58.984};
    double highest = 0;
    int highestMinute = 0;
    for (int minute = 0; minute < 49 * 24 * 60 && !promise.isCanceled(); ++minute) {
        double height = 0;
        for (int second = 0; second < 60; ++second)
            for (int i = 0; i < 8; ++i)
                height += amplitudes[i] * std::cos(speeds[i] * (minute + second / 60.0) / 60.0 * 0.0174532925) / 60.0;
        if (height > highest) {
            highest = height;
            highestMinute = minute;
        }
    }
    return QString("High water at %1: %2 m on day %3").arg(input).arg(highest, 0, 'f', 2).arg(highestMinute / 1440 + 1);
}

// On the loop: show the result, the error or the cancellation.
void FerryDesk::tideForecastShow(const Outcome<QString> &outcome)
{
    tideLabel->setText(outcome.result.value_or("No tide table: " + outcome.error));
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
