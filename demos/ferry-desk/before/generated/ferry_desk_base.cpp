// Made by Pipit; edits here are overwritten.
#include "ferry_desk_base.h"

#include <QtWidgets/QHBoxLayout>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QListWidget>
#include <QtWidgets/QPushButton>
#include <QtWidgets/QVBoxLayout>
#include <QtWidgets/QWidget>

FerryDeskBase::FerryDeskBase(QWidget *parent) : QWidget(parent)
{
    this->setObjectName(QString::fromUtf8("ferryDesk", 9));
    this->setProperty("windowTitle", QString::fromUtf8("Skerry Line ferry desk", 22));

    deskTitle = new QLabel(this);
    deskTitle->setObjectName(QString::fromUtf8("deskTitle", 9));
    deskTitle->setProperty("text", QString::fromUtf8("Boarding for the 14:20 to Skerry", 32));

    ticketRow = new QWidget(this);
    ticketRow->setObjectName(QString::fromUtf8("ticketRow", 9));

    ticketLabel = new QLabel(ticketRow);
    ticketLabel->setObjectName(QString::fromUtf8("ticketLabel", 11));
    ticketLabel->setProperty("text", QString::fromUtf8("Ticket", 6));

    ticketField = new QLineEdit(ticketRow);
    ticketField->setObjectName(QString::fromUtf8("ticketField", 11));
    ticketField->setProperty("placeholderText", QString::fromUtf8("K-204", 5));

    boardButton = new QPushButton(ticketRow);
    boardButton->setObjectName(QString::fromUtf8("boardButton", 11));
    boardButton->setProperty("text", QString::fromUtf8("Board", 5));
    {
        auto *layout = new QHBoxLayout(ticketRow);
        layout->addWidget(ticketLabel);
        layout->addWidget(ticketField);
        layout->addWidget(boardButton);
    }

    passengerList = new QListWidget(this);
    passengerList->setObjectName(QString::fromUtf8("passengerList", 13));

    tideRow = new QWidget(this);
    tideRow->setObjectName(QString::fromUtf8("tideRow", 7));

    tideButton = new QPushButton(tideRow);
    tideButton->setObjectName(QString::fromUtf8("tideButton", 10));
    tideButton->setProperty("text", QString::fromUtf8("Tide forecast", 13));

    gateLabel = new QLabel(tideRow);
    gateLabel->setObjectName(QString::fromUtf8("gateLabel", 9));
    gateLabel->setProperty("text", QString::fromUtf8("Gate: closed", 12));

    tideLabel = new QLabel(tideRow);
    tideLabel->setObjectName(QString::fromUtf8("tideLabel", 9));
    tideLabel->setProperty("text", QString::fromUtf8("Tide: not asked yet", 19));
    {
        auto *layout = new QHBoxLayout(tideRow);
        layout->addWidget(tideButton);
        layout->addWidget(gateLabel);
        layout->addWidget(tideLabel);
    }

    statusLabel = new QLabel(this);
    statusLabel->setObjectName(QString::fromUtf8("statusLabel", 11));
    statusLabel->setProperty("text", QString::fromUtf8("Ready", 5));
    {
        auto *layout = new QVBoxLayout(this);
        layout->addWidget(deskTitle);
        layout->addWidget(ticketRow);
        layout->addWidget(passengerList);
        layout->addWidget(tideRow);
        layout->addWidget(statusLabel);
    }

    gateTimer = new QTimer(this);
    gateTimer->setObjectName(QString::fromUtf8("gateTimer", 9));
    gateTimer->setInterval(250);
}
