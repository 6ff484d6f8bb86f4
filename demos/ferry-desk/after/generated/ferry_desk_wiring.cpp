// Made by Pipit; edits here are overwritten.
#include "ferry_desk_wiring.h"

#include <QtCore/QEvent>
#include <QtGui/QEnterEvent>

#include <functional>

class FerryDeskWired::Filter : public QObject
{
public:
    explicit Filter(FerryDeskWired *window) : w(window) {}

    bool eventFilter(QObject *watched, QEvent *event) override
    {
        if (watched == w->ticketField && event->type() == QEvent::KeyPress) {
            auto *e = static_cast<QKeyEvent *>(event);
            bool handled = false;
            if (e->key() == Qt::Key_Escape)
                QMetaObject::invokeMethod(this, [&] { handled = w->ticketKey(w->ticketField, e); return handled; }, Qt::DirectConnection);
            if (handled)
                return true;
        }
        return QObject::eventFilter(watched, event);
    }

private:
    FerryDeskWired *w;
};

FerryDeskWired::FerryDeskWired(QWidget *parent) : FerryDesk(parent)
{
    wire();
}

FerryDeskWired::~FerryDeskWired()
{
    unwire();
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

void FerryDeskWired::wire()
{
    links_ = new QObject;
    links_->setObjectName(QStringLiteral("wiring"));
    connect(boardButton, &QPushButton::clicked, links_, [this] { boardPassenger(); });
    connect(ticketField, &QLineEdit::returnPressed, links_, [this] { boardPassenger(); });
    connect(tideButton, &QPushButton::clicked, links_, [this] { start_tideForecast(); });
    connect(gateTimer, &QTimer::timeout, links_, [this] { readGate(); });
    auto *filter = new Filter(this);
    filter->setParent(links_);
    ticketField->installEventFilter(filter);
    connect(tideForecastJob, &QFutureWatcherBase::finished, links_, [this] { tideForecastShow(wiring::outcomeOf(tideForecastJob->future())); });
    gateTimer->start();
}

void FerryDeskWired::unwire()
{
    tideForecastJob->cancel();
    delete links_; // and with it every connection and filter
    links_ = nullptr;
    wiring::join(tideForecastJob);
}
