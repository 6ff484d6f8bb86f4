// Made by Pipit; edits here are overwritten.
#include "ferry_desk_wiring.h"

#include "confirm_dialog_wiring.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QMimeData>
#include <QtGui/QEnterEvent>
#include <QtGui/QWindow>

FerryDeskWired::FerryDeskWired(QWidget *parent) : FerryDesk(parent)
{
    confirmDialog = new ConfirmDialogWired(this);
    confirmDialog->setWindowFlag(Qt::Dialog);
    wire();
}

FerryDeskWired::~FerryDeskWired()
{
    tideForecastJob->cancel();
    saveManifestJob->cancel();
    // Nothing may call a handler while the parts of the window are destroyed.
    const QList<QObject *> parts = findChildren<QObject *>();
    for (QObject *part : parts)
        part->disconnect(this);
    disconnect(this);
    gateSensor->terminate();
    gateSensor->waitForFinished(500);
    wiring::join(tideForecastJob);
    wiring::join(saveManifestJob);
}

void FerryDeskWired::wire()
{
    // boardButton · clicked calls boardPassenger
    connect(boardButton, &QPushButton::clicked, this, &FerryDesk::boardPassenger);
    // ticketField · returnPressed calls boardPassenger
    connect(ticketField, &QLineEdit::returnPressed, this, &FerryDesk::boardPassenger);
    // fareGroup · buttonClicked calls chooseFare
    connect(fareGroup, &QButtonGroup::buttonClicked, this, &FerryDesk::chooseFare);
    // papersCheck · stateChanged calls papersSeen
    connect(papersCheck, &QCheckBox::stateChanged, this, &FerryDesk::papersSeen);
    // openButton · toggled calls openBoarding
    connect(openButton, &QPushButton::toggled, this, &FerryDesk::openBoarding);
    // fewerCars · clicked calls takeCar
    connect(fewerCars, &QPushButton::clicked, this, &FerryDesk::takeCar);
    // moreCars · clicked calls addCar
    connect(moreCars, &QPushButton::clicked, this, &FerryDesk::addCar);
    // tideButton · clicked calls tideForecast
    connect(tideButton, &QPushButton::clicked, this, &FerryDeskWired::startTideForecast);
    // manifestButton · clicked calls saveManifest
    connect(manifestButton, &QPushButton::clicked, this, &FerryDeskWired::startSaveManifest);
    // hornAction · triggered calls blowHorn
    connect(hornAction, &QAction::triggered, this, &FerryDesk::blowHorn);
    // gateTimer · timeout calls readGate
    connect(gateTimer, &QTimer::timeout, this, &FerryDesk::readGate);
    // gateSensor · readyReadStandardOutput calls gateSpoke
    connect(gateSensor, &QProcess::readyReadStandardOutput, this, &FerryDesk::gateSpoke);
    // confirmDialog · accepted calls closeAnyway
    connect(confirmDialog, &QDialog::accepted, this, &FerryDesk::closeAnyway);
    // tideForecastJob: what the work came to.
    connect(tideForecastJob, &QFutureWatcherBase::finished, this, [this] {
        const auto outcome = wiring::outcomeOf(tideForecastJob->future());
        tideForecastBusy_ = false;
        tideForecastShow(outcome);
    });
    // saveManifestJob: what the work came to.
    connect(saveManifestJob, &QFutureWatcherBase::finished, this, [this] {
        const auto outcome = wiring::outcomeOf(saveManifestJob->future());
        saveManifestBusy_ = false;
        saveManifestShow(outcome);
    });
    // Whose events eventFilter() looks at.
    ticketField->installEventFilter(this);
    deckLane_1->viewport()->installEventFilter(this);
    deckLane_2->viewport()->installEventFilter(this);
    deckLane_3->viewport()->installEventFilter(this);
    deckMap->installEventFilter(this);
    installEventFilter(this);
    new wiring::DragSource(carList, QStringLiteral("application/x-car"), "text");
    gateTimer->start();
    connect(gateSensor, &QProcess::errorOccurred, this, [this] { wiring::tellFailure(gateSensor); });
    gateSensor->start();
}

// Reads what the work needs; the work itself is done on another thread.
void FerryDeskWired::startTideForecast()
{
    if (tideForecastBusy_)
        return;
    QString input{};
    QMetaObject::invokeMethod(this, [&] { input = tideForecastTake(); });
    workOnTideForecast(input);
}

void FerryDeskWired::workOnTideForecast(const QString &input)
{
    tideForecastBusy_ = true;
    tideForecastJob->setFuture(QtConcurrent::run([input](QPromise<QString> &promise) {
        QObject here; // on the worker's thread
        QMetaObject::invokeMethod(&here, [&] {
            wiring::deliver(promise, [&] { return tideForecastWork(promise, input); });
        });
    }));
}

// Reads what the work needs; the work itself is done on another thread.
void FerryDeskWired::startSaveManifest()
{
    if (saveManifestBusy_)
        return;
    QStringList input{};
    QMetaObject::invokeMethod(this, [&] { input = saveManifestTake(); });
    workOnSaveManifest(input);
}

void FerryDeskWired::workOnSaveManifest(const QStringList &input)
{
    saveManifestBusy_ = true;
    saveManifestJob->setFuture(QtConcurrent::run([input](QPromise<QString> &promise) {
        QObject here; // on the worker's thread
        QMetaObject::invokeMethod(&here, [&] {
            wiring::deliver(promise, [&] { return saveManifestWork(promise, input); });
        });
    }));
}

bool FerryDeskWired::eventFilter(QObject *watched, QEvent *event)
{
    switch (event->type()) {
    case QEvent::Close: {
        auto *close = static_cast<QCloseEvent *>(event);
        // ferryDesk · close calls askBeforeClosing
        if (watched == this) {
            bool handled = false;
            QMetaObject::invokeMethod(this, [&] { return askBeforeClosing(this, close); }, &handled);
            if (handled) {
                close->ignore();
                return true;
            }
        }
        break;
    }
    case QEvent::DragEnter: {
        auto *dragEnter = static_cast<QDragEnterEvent *>(event);
        // #deckLane_* · drag enter (type application/x-car) calls lookAtCar
        for (QListWidget *source : {deckLane_1, deckLane_2, deckLane_3}) {
            if (watched == source->viewport() &&
                dragEnter->mimeData()->hasFormat(QStringLiteral("application/x-car"))) {
                bool handled = false;
                QMetaObject::invokeMethod(this, [&] { return lookAtCar(source, dragEnter); }, &handled);
                if (handled) {
                    dragEnter->acceptProposedAction();
                    return true;
                }
            }
        }
        break;
    }
    case QEvent::DragMove: {
        auto *dragMove = static_cast<QDragMoveEvent *>(event);
        // A drop needs this, see loadCar.
        for (QListWidget *source : {deckLane_1, deckLane_2, deckLane_3}) {
            if (watched == source->viewport() &&
                dragMove->mimeData()->hasFormat(QStringLiteral("application/x-car"))) {
                dragMove->acceptProposedAction();
                return true;
            }
        }
        break;
    }
    case QEvent::Drop: {
        auto *drop = static_cast<QDropEvent *>(event);
        // #deckLane_* · drop (type application/x-car) calls loadCar, accepting move
        for (QListWidget *source : {deckLane_1, deckLane_2, deckLane_3}) {
            if (watched == source->viewport() &&
                drop->mimeData()->hasFormat(QStringLiteral("application/x-car"))) {
                bool handled = false;
                QMetaObject::invokeMethod(this, [&] { return loadCar(source, drop); }, &handled);
                if (handled) {
                    drop->setDropAction(Qt::MoveAction);
                    drop->accept();
                    return true;
                }
            }
        }
        break;
    }
    case QEvent::KeyPress: {
        auto *key = static_cast<QKeyEvent *>(event);
        // ticketField · key press (key Escape) calls ticketKey
        if (watched == ticketField && key->key() == Qt::Key_Escape) {
            bool handled = false;
            QMetaObject::invokeMethod(this, [&] { return ticketKey(ticketField, key); }, &handled);
            if (handled) {
                key->accept();
                return true;
            }
        }
        break;
    }
    case QEvent::Enter: {
        auto *enter = static_cast<QEnterEvent *>(event);
        // deckMap · mouse enter calls lightDeck
        if (watched == deckMap) {
            bool handled = false;
            QMetaObject::invokeMethod(this, [&] { return lightDeck(deckMap, enter); }, &handled);
            if (handled) {
                enter->accept();
                return true;
            }
        }
        break;
    }
    case QEvent::Leave: {
        // deckMap · mouse leave calls dimDeck
        if (watched == deckMap) {
            bool handled = false;
            QMetaObject::invokeMethod(this, [&] { return dimDeck(deckMap, event); }, &handled);
            if (handled) {
                event->accept();
                return true;
            }
        }
        break;
    }
    default:
        break;
    }
    return FerryDesk::eventFilter(watched, event);
}
