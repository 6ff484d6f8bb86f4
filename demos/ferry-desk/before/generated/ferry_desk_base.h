// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"

#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QListWidget>
#include <QtWidgets/QPushButton>
#include <QtCore/QTimer>
#include <QtWidgets/QWidget>

class FerryDeskBase : public QWidget
{
public:
    explicit FerryDeskBase(QWidget *parent = nullptr);

protected:
    QLabel *deskTitle = nullptr;
    QWidget *ticketRow = nullptr;
    QLabel *ticketLabel = nullptr;
    QLineEdit *ticketField = nullptr;
    QPushButton *boardButton = nullptr;
    QListWidget *passengerList = nullptr;
    QWidget *tideRow = nullptr;
    QPushButton *tideButton = nullptr;
    QLabel *gateLabel = nullptr;
    QLabel *tideLabel = nullptr;
    QLabel *statusLabel = nullptr;
    QTimer *gateTimer = nullptr;
};
