// Made by Pipit; edits here are overwritten.
#include "ferry_desk_wiring.h"

#include "confirm_dialog_wiring.h"
#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QMimeData>
#include <QtGui/QEnterEvent>
#include <QtGui/QWindow>

#include <functional>

class FerryDeskWired::Filter : public QObject
{
public:
    Filter(FerryDeskWired *window, [[maybe_unused]] bool beyond) : w(window) {}

    bool eventFilter(QObject *watched, QEvent *event) override
    {
        if (event == passing_)
            return false;
        [[maybe_unused]] bool done = false;
        switch (int(event->type())) {
        case QEvent::Close: {
            if (watched == w && w->on("c74")) {
                [[maybe_unused]] auto *e = static_cast<QCloseEvent *>(event);
                bool handled = false;
                if (true)
                    QMetaObject::invokeMethod(this, [&] { handled = w->askBeforeClosing(w, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->ignore(); return true;
                }
            }
            break;
        }
        case QEvent::DragEnter: {
            if (watched == w->deckLane_1->viewport() && w->on("c56")) {
                [[maybe_unused]] auto *e = static_cast<QDragEnterEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->lookAtCar(w->deckLane_1, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->acceptProposedAction(); return true;
                }
            }
            if (watched == w->deckLane_2->viewport() && w->on("c56")) {
                [[maybe_unused]] auto *e = static_cast<QDragEnterEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->lookAtCar(w->deckLane_2, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->acceptProposedAction(); return true;
                }
            }
            if (watched == w->deckLane_3->viewport() && w->on("c56")) {
                [[maybe_unused]] auto *e = static_cast<QDragEnterEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->lookAtCar(w->deckLane_3, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->acceptProposedAction(); return true;
                }
            }
            break;
        }
        case QEvent::DragMove: {
            if (watched == w->deckLane_1->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDragMoveEvent *>(event);
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17))) {
                    e->acceptProposedAction(); return true;
                }
            }
            if (watched == w->deckLane_2->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDragMoveEvent *>(event);
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17))) {
                    e->acceptProposedAction(); return true;
                }
            }
            if (watched == w->deckLane_3->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDragMoveEvent *>(event);
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17))) {
                    e->acceptProposedAction(); return true;
                }
            }
            break;
        }
        case QEvent::Drop: {
            if (watched == w->deckLane_1->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDropEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->loadCar(w->deckLane_1, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->setDropAction(Qt::MoveAction); e->accept(); return true;
                }
            }
            if (watched == w->deckLane_2->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDropEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->loadCar(w->deckLane_2, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->setDropAction(Qt::MoveAction); e->accept(); return true;
                }
            }
            if (watched == w->deckLane_3->viewport() && w->on("c58")) {
                [[maybe_unused]] auto *e = static_cast<QDropEvent *>(event);
                bool handled = false;
                if (e->mimeData()->hasFormat(QString::fromUtf8("application\057x-car", 17)))
                    QMetaObject::invokeMethod(this, [&] { handled = w->loadCar(w->deckLane_3, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->setDropAction(Qt::MoveAction); e->accept(); return true;
                }
            }
            break;
        }
        case QEvent::KeyPress: {
            if (watched == w->ticketField && w->on("c44")) {
                [[maybe_unused]] auto *e = static_cast<QKeyEvent *>(event);
                bool handled = false;
                if (e->key() == Qt::Key_Escape)
                    QMetaObject::invokeMethod(this, [&] { handled = w->ticketKey(w->ticketField, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->accept(); return true;
                }
            }
            break;
        }
        case QEvent::Enter: {
            if (watched == w->deckMap && w->on("c60")) {
                [[maybe_unused]] auto *e = static_cast<QEnterEvent *>(event);
                bool handled = false;
                if (true)
                    QMetaObject::invokeMethod(this, [&] { handled = w->lightDeck(w->deckMap, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->accept(); return true;
                }
            }
            break;
        }
        case QEvent::Leave: {
            if (watched == w->deckMap && w->on("c62")) {
                [[maybe_unused]] auto *e = static_cast<QEvent *>(event);
                bool handled = false;
                if (true)
                    QMetaObject::invokeMethod(this, [&] { handled = w->dimDeck(w->deckMap, e); return handled; }, Qt::DirectConnection);
                if (handled) {
                    e->accept(); return true;
                }
            }
            break;
        }
        default:
            break;
        }
        return QObject::eventFilter(watched, event);
    }

private:
    // To the widget itself and on, past this filter.
    [[maybe_unused]] void pass(QObject *to, QEvent *event)
    {
        QEvent *const outer = passing_;
        passing_ = event;
        QCoreApplication::sendEvent(to, event);
        passing_ = outer;
    }

    FerryDeskWired *w;
    QEvent *passing_ = nullptr;
};

FerryDeskWired::FerryDeskWired(QWidget *parent) : FerryDesk(parent)
{
    confirmDialog = new ConfirmDialogWired(this);
    confirmDialog->setWindowFlag(Qt::Dialog);
    wire();
}

FerryDeskWired::~FerryDeskWired()
{
    unwire();
}

void FerryDeskWired::wire()
{
    connectAll();
    new wiring::Switches(this, [this](const QSet<QByteArray> &off) {
        off_ = off;
        delete links_;
        connectAll();
    });
    new wiring::DragSource(carList, QString::fromUtf8("application\057x-car", 17), "text");
    gateTimer->start();
    gateSensor->start();
}

void FerryDeskWired::start_tideForecast()
{
    if (tideForecastJob->isRunning()) {
        return;
    }
    const QString input = tideForecastTake();
    tideForecastJob->setFuture(QtConcurrent::run([input](QPromise<QString> &promise) {
        QObject here;
        QMetaObject::invokeMethod(&here, [&] { wiring::deliver(promise, [&] { return tideForecastWork(promise, input); }); }, Qt::DirectConnection);
    }));
}

void FerryDeskWired::start_saveManifest()
{
    if (saveManifestJob->isRunning()) {
        return;
    }
    const QStringList input = saveManifestTake();
    saveManifestJob->setFuture(QtConcurrent::run([input](QPromise<QString> &promise) {
        QObject here;
        QMetaObject::invokeMethod(&here, [&] { wiring::deliver(promise, [&] { return saveManifestWork(promise, input); }); }, Qt::DirectConnection);
    }));
}

void FerryDeskWired::connectAll()
{
    links_ = new QObject;
    links_->setObjectName(QStringLiteral("wiring"));
    if (on("c41")) {
        connect(boardButton, &QPushButton::clicked, links_, [this] { boardPassenger(); });
    }
    if (on("c43")) {
        connect(ticketField, &QLineEdit::returnPressed, links_, [this] { boardPassenger(); });
    }
    if (on("c46")) {
        connect(fareGroup, &QButtonGroup::buttonClicked, links_, [this](QAbstractButton *a0) { chooseFare(a0); });
    }
    if (on("c48")) {
        connect(papersCheck, &QCheckBox::stateChanged, links_, [this](int a0) { papersSeen(a0); });
    }
    if (on("c50")) {
        connect(openButton, &QPushButton::toggled, links_, [this](bool a0) { openBoarding(a0); });
    }
    if (on("c52")) {
        connect(fewerCars, &QPushButton::clicked, links_, [this] { takeCar(); });
    }
    if (on("c54")) {
        connect(moreCars, &QPushButton::clicked, links_, [this] { addCar(); });
    }
    if (on("c64")) {
        connect(tideButton, &QPushButton::clicked, links_, [this] { start_tideForecast(); });
    }
    if (on("c66")) {
        connect(manifestButton, &QPushButton::clicked, links_, [this] { start_saveManifest(); });
    }
    if (on("c68")) {
        connect(hornAction, &QAction::triggered, links_, [this] { blowHorn(); });
    }
    if (on("c70")) {
        connect(gateTimer, &QTimer::timeout, links_, [this] { readGate(); });
    }
    if (on("c72")) {
        connect(gateSensor, &QProcess::readyReadStandardOutput, links_, [this] { gateSpoke(); });
    }
    if (on("c78")) {
        connect(confirmDialog, &QDialog::accepted, links_, [this] { closeAnyway(); });
    }
    connect(tideForecastJob, &QFutureWatcherBase::finished, links_, [this] { tideForecastShow(wiring::outcomeOf(tideForecastJob->future())); });
    connect(saveManifestJob, &QFutureWatcherBase::finished, links_, [this] { saveManifestShow(wiring::outcomeOf(saveManifestJob->future())); });
    [[maybe_unused]] auto *filter = new Filter(this, false);
    filter->setParent(links_);
    deckLane_1->installEventFilter(filter);
    deckLane_1->viewport()->installEventFilter(filter);
    deckLane_2->installEventFilter(filter);
    deckLane_2->viewport()->installEventFilter(filter);
    deckLane_3->installEventFilter(filter);
    deckLane_3->viewport()->installEventFilter(filter);
    deckMap->installEventFilter(filter);
    this->installEventFilter(filter);
    ticketField->installEventFilter(filter);
}

void FerryDeskWired::unwire()
{
    tideForecastJob->cancel();
    saveManifestJob->cancel();
    gateSensor->terminate();
    gateSensor->waitForFinished(500);
    delete links_; // and with it every connection and filter
    links_ = nullptr;
    wiring::join(tideForecastJob);
    wiring::join(saveManifestJob);
}
