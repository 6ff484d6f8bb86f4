// Made by Pipit; edits here are overwritten.
#pragma once

#include "wiring_support.h"

#include <QtCore/QCoreApplication>
#include <QtCore/QItemSelectionModel>
#include <QtCore/QProcess>
#include <QtCore/QTimer>
#include <QtGui/QAction>
#include <QtWidgets/QButtonGroup>
#include <QtWidgets/QCheckBox>
#include <QtWidgets/QFrame>
#include <QtWidgets/QGridLayout>
#include <QtWidgets/QHBoxLayout>
#include <QtWidgets/QLCDNumber>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QListWidget>
#include <QtWidgets/QPushButton>
#include <QtWidgets/QRadioButton>
#include <QtWidgets/QVBoxLayout>
#include <QtWidgets/QWidget>

class ConfirmDialog;

class FerryDeskBase : public QWidget
{
    Q_DECLARE_TR_FUNCTIONS(FerryDesk)

public:
    explicit FerryDeskBase(QWidget *parent = nullptr);

    QLabel *deskTitle = nullptr;
    QWidget *ticketRow = nullptr;
    QLabel *ticketLabel = nullptr;
    QLineEdit *ticketField = nullptr;
    QPushButton *boardButton = nullptr;
    QWidget *fareRow = nullptr;
    QRadioButton *fare_adult = nullptr;
    QRadioButton *fare_child = nullptr;
    QRadioButton *fare_bicycle = nullptr;
    QCheckBox *papersCheck = nullptr;
    QPushButton *openButton = nullptr;
    QWidget *deckRow = nullptr;
    QWidget *rampColumn = nullptr;
    QLabel *rampLabel = nullptr;
    QWidget *rampRow = nullptr;
    QPushButton *fewerCars = nullptr;
    QLCDNumber *carsDisplay = nullptr;
    QPushButton *moreCars = nullptr;
    QListWidget *carList = nullptr;
    QWidget *deckGrid = nullptr;
    QFrame *deckMap = nullptr;
    QLabel *deckMapLabel = nullptr;
    QListWidget *deckLane_1 = nullptr;
    QListWidget *deckLane_2 = nullptr;
    QListWidget *deckLane_3 = nullptr;
    QListWidget *passengerList = nullptr;
    QWidget *tideRow = nullptr;
    QPushButton *tideButton = nullptr;
    QPushButton *manifestButton = nullptr;
    QLabel *gateLabel = nullptr;
    QLabel *tideLabel = nullptr;
    QLabel *statusLabel = nullptr;
    QButtonGroup *fareGroup = nullptr;
    QAction *hornAction = nullptr;
    QProcess *gateSensor = nullptr;
    QTimer *gateTimer = nullptr;
    ConfirmDialog *confirmDialog = nullptr; // a window of its own
};
