// Made by Pipit; edits here are overwritten.
#include "confirm_dialog_wiring.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QEvent>
#include <QtCore/QMimeData>
#include <QtGui/QEnterEvent>
#include <QtGui/QWindow>

#include <functional>

ConfirmDialogWired::ConfirmDialogWired(QWidget *parent) : ConfirmDialog(parent)
{
    wire();
}

ConfirmDialogWired::~ConfirmDialogWired()
{
    unwire();
}

void ConfirmDialogWired::wire()
{
    connectAll();
    new wiring::Switches(this, [this](const QSet<QByteArray> &off) {
        off_ = off;
        delete links_;
        connectAll();
    });
}

void ConfirmDialogWired::connectAll()
{
    links_ = new QObject;
    links_->setObjectName(QStringLiteral("wiring"));
    if (on("c76")) {
        connect(confirmButtons, &QDialogButtonBox::accepted, links_, [this] { this->accept(); });
    }
    if (on("c77")) {
        connect(confirmButtons, &QDialogButtonBox::rejected, links_, [this] { this->reject(); });
    }
}

void ConfirmDialogWired::unwire()
{
    delete links_; // and with it every connection and filter
    links_ = nullptr;
}
