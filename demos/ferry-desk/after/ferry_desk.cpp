#include "ferry_desk.h"

#include <QtCore/QCryptographicHash>
#include <QtCore/QDir>
#include <QtCore/QFile>

#include <cmath>
#include <stdexcept>

FerryDesk::FerryDesk(QWidget *parent) : FerryDeskBase(parent)
{
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

// True: handled here. False: the widget handles the event itself.
bool FerryDesk::ticketKey(QLineEdit *source, QKeyEvent *event)
{
    Q_UNUSED(event)
    source->clear();
    statusLabel->setText("Ticket cleared");
    return true;
}

void FerryDesk::chooseFare(QAbstractButton *value)
{
    statusLabel->setText("Fare: " + value->text());
}

// Not asked, partly seen, seen: three states.
void FerryDesk::papersSeen(int value)
{
    const char *words[] = {"Papers: not seen", "Papers: some are missing", "Papers: all seen"};
    statusLabel->setText(words[qBound(0, value, 2)]);
}

void FerryDesk::openBoarding(bool value)
{
    boardButton->setEnabled(value);
    statusLabel->setText(value ? "Boarding is open" : "Boarding is closed");
}

void FerryDesk::showCars()
{
    carsDisplay->display(cars_);
}

void FerryDesk::takeCar()
{
    cars_ = qMax(0, cars_ - 1);
    showCars();
}

void FerryDesk::addCar()
{
    cars_ = qMin(40, cars_ + 1);
    showCars();
}

// Lane 3 has a low roof: no lorries there. True: it may be dropped here.
bool FerryDesk::lookAtCar(QListWidget *source, QDragEnterEvent *event)
{
    const bool lorry = QString::fromUtf8(event->mimeData()->data("application/x-car")).startsWith("Lorry");
    if (lorry && source == deckLane_3)
        statusLabel->setText("Lane 3 takes no lorries");
    return !(lorry && source == deckLane_3);
}

bool FerryDesk::loadCar(QListWidget *source, QDropEvent *event)
{
    source->addItem(QString::fromUtf8(event->mimeData()->data("application/x-car")));
    delete carList->takeItem(carList->currentRow());
    statusLabel->setText(QString::fromUtf8(event->mimeData()->data("application/x-car")) + " is on " + source->toolTip().toLower());
    return true;
}

// True: handled here. False: the widget handles the event itself.
bool FerryDesk::lightDeck(QFrame *source, QEnterEvent *event)
{
    Q_UNUSED(event)
    source->setAutoFillBackground(true);
    source->setBackgroundRole(QPalette::Highlight);
    deckMapLabel->setText("Deck: three lanes, low roof over lane 3");
    return false;
}

// True: handled here. False: the widget handles the event itself.
bool FerryDesk::dimDeck(QFrame *source, QEvent *event)
{
    Q_UNUSED(event)
    source->setAutoFillBackground(false);
    deckMapLabel->setText("Deck: nothing under the pointer");
    return false;
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

// On the loop: the passengers as they are now.
QStringList FerryDesk::saveManifestTake()
{
    statusLabel->setText("Saving the manifest");
    QStringList passengers;
    for (int row = 0; row < passengerList->count(); ++row)
        passengers << passengerList->item(row)->text();
    return passengers;
}

// On a worker thread: every line is sealed, so that nobody can be added to the manifest afterwards.
QString saveManifestWork(QPromise<QString> &promise, const QStringList &input)
{
    QFile file(QDir::temp().filePath("ferry-desk-manifest.txt"));
    if (!file.open(QIODevice::WriteOnly))
        throw std::runtime_error("the manifest cannot be written");
    QByteArray seal;
    for (const QString &passenger : input) {
        for (int round = 0; round < 60000 && !promise.isCanceled(); ++round)
            seal = QCryptographicHash::hash(seal + passenger.toUtf8(), QCryptographicHash::Sha256);
        file.write(passenger.toUtf8() + ' ' + seal.toHex() + '\n');
    }
    return QString("Manifest saved, %1 aboard").arg(input.size());
}

// On the loop: show the result, the error or the cancellation.
void FerryDesk::saveManifestShow(const Outcome<QString> &outcome)
{
    statusLabel->setText(outcome.result.value_or("Not saved: " + outcome.error));
}

void FerryDesk::blowHorn()
{
    statusLabel->setText("The horn sounds");
}

// The gate's lamp, looked at four times a second.
void FerryDesk::readGate()
{
    static int reading = 0;
    deskTitle->setText(++reading % 8 < 4 ? "Boarding for the 14:20 to Skerry" : "Boarding for the 14:20 to Skerry ·");
}

// The sensor at the gate says "open" or "closed", a line each time.
void FerryDesk::gateSpoke()
{
    const QList<QByteArray> lines = gateSensor->readAllStandardOutput().trimmed().split('\n');
    gateLabel->setText("Gate: " + QString::fromUtf8(lines.last()));
}

// True: handled here, so the window stays. False: it closes.
bool FerryDesk::askBeforeClosing(QWidget *source, QCloseEvent *event)
{
    Q_UNUSED(source)
    Q_UNUSED(event)
    if (cars_ == 0 || leaving_)
        return false;
    confirmDialog->open();
    return true;
}

void FerryDesk::closeAnyway()
{
    leaving_ = true;
    close();
}
