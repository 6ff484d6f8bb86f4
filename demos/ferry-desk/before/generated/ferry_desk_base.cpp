// Made by Pipit; edits here are overwritten.
#include "ferry_desk_base.h"

FerryDeskBase::FerryDeskBase(QWidget *parent) : QWidget(parent)
{
    fareGroup = new QButtonGroup(this);
    fareGroup->setObjectName("fareGroup");
    hornAction = new QAction(this);
    hornAction->setObjectName("hornAction");
    hornAction->setText(tr("Horn"));
    hornAction->setShortcut(QKeySequence(QStringLiteral("Ctrl+H")));
    gateSensor = new QProcess(this);
    gateSensor->setObjectName("gateSensor");
    gateSensor->setProgram(wiring::projectFile(QStringLiteral("devices/gate_sensor")));
    gateSensor->setArguments({});
    setObjectName("ferryDesk");
    setWindowTitle(tr("Skerry Line ferry desk"));
    resize(560, 520);

    deskTitle = new QLabel(this);
    deskTitle->setObjectName("deskTitle");
    deskTitle->setText(tr("Boarding for the 14:20 to Skerry"));
    QFont deskTitleFont = deskTitle->font();
    deskTitleFont.setPointSize(13);
    deskTitleFont.setBold(true);
    deskTitle->setFont(deskTitleFont);

    ticketRow = new QWidget(this);
    ticketRow->setObjectName("ticketRow");

    ticketLabel = new QLabel(ticketRow);
    ticketLabel->setObjectName("ticketLabel");
    ticketLabel->setText(tr("&Ticket"));

    ticketField = new QLineEdit(ticketRow);
    ticketField->setObjectName("ticketField");
    ticketField->setPlaceholderText(tr("K-204"));

    boardButton = new QPushButton(ticketRow);
    boardButton->setObjectName("boardButton");
    boardButton->setText(tr("Board"));

    auto *ticketRowLayout = new QHBoxLayout(ticketRow);
    ticketRowLayout->setContentsMargins(0, 0, 0, 0);
    ticketRowLayout->addWidget(ticketLabel);
    ticketRowLayout->addWidget(ticketField, 1);
    ticketRowLayout->addWidget(boardButton);

    fareRow = new QWidget(this);
    fareRow->setObjectName("fareRow");

    fare_adult = new QRadioButton(fareRow);
    fare_adult->setObjectName("fare_adult");
    fare_adult->setText(tr("Adult"));
    fare_adult->setChecked(true);

    fare_child = new QRadioButton(fareRow);
    fare_child->setObjectName("fare_child");
    fare_child->setText(tr("Child"));

    fare_bicycle = new QRadioButton(fareRow);
    fare_bicycle->setObjectName("fare_bicycle");
    fare_bicycle->setText(tr("Bicycle"));

    papersCheck = new QCheckBox(fareRow);
    papersCheck->setObjectName("papersCheck");
    papersCheck->setTristate(true);
    papersCheck->setText(tr("Papers seen"));

    openButton = new QPushButton(fareRow);
    openButton->setObjectName("openButton");
    openButton->setCheckable(true);
    openButton->setText(tr("Boarding open"));
    openButton->setChecked(true);

    auto *fareRowLayout = new QHBoxLayout(fareRow);
    fareRowLayout->setContentsMargins(0, 0, 0, 0);
    fareRowLayout->addWidget(fare_adult);
    fareRowLayout->addWidget(fare_child);
    fareRowLayout->addWidget(fare_bicycle);
    fareRowLayout->addWidget(papersCheck);
    fareRowLayout->addWidget(openButton);

    deckRow = new QWidget(this);
    deckRow->setObjectName("deckRow");

    rampColumn = new QWidget(deckRow);
    rampColumn->setObjectName("rampColumn");

    rampLabel = new QLabel(rampColumn);
    rampLabel->setObjectName("rampLabel");
    rampLabel->setText(tr("Cars on the ramp"));

    rampRow = new QWidget(rampColumn);
    rampRow->setObjectName("rampRow");

    fewerCars = new QPushButton(rampRow);
    fewerCars->setObjectName("fewerCars");
    fewerCars->setAutoRepeat(true);
    fewerCars->setText(tr("Fewer"));
    fewerCars->setAutoRepeatInterval(120);

    carsDisplay = new QLCDNumber(rampRow);
    carsDisplay->setObjectName("carsDisplay");
    carsDisplay->setDigitCount(3);

    moreCars = new QPushButton(rampRow);
    moreCars->setObjectName("moreCars");
    moreCars->setAutoRepeat(true);
    moreCars->setText(tr("More"));
    moreCars->setAutoRepeatInterval(120);

    auto *rampRowLayout = new QHBoxLayout(rampRow);
    rampRowLayout->setContentsMargins(0, 0, 0, 0);
    rampRowLayout->addWidget(fewerCars);
    rampRowLayout->addWidget(carsDisplay);
    rampRowLayout->addWidget(moreCars);

    carList = new QListWidget(rampColumn);
    carList->setObjectName("carList");
    carList->addItems({tr("Car AB 104"), tr("Car KS 220"), tr("Van TR 9"), tr("Lorry SK 77")});
    carList->setMaximumHeight(96);

    auto *rampColumnLayout = new QVBoxLayout(rampColumn);
    rampColumnLayout->setContentsMargins(0, 0, 0, 0);
    rampColumnLayout->addWidget(rampLabel);
    rampColumnLayout->addWidget(rampRow);
    rampColumnLayout->addWidget(carList);

    deckGrid = new QWidget(deckRow);
    deckGrid->setObjectName("deckGrid");

    deckMap = new QFrame(deckGrid);
    deckMap->setObjectName("deckMap");
    deckMap->setFrameShape(QFrame::StyledPanel);
    deckMap->setMinimumHeight(34);

    deckMapLabel = new QLabel(deckMap);
    deckMapLabel->setObjectName("deckMapLabel");
    deckMapLabel->setText(tr("Deck: nothing under the pointer"));

    auto *deckMapLayout = new QVBoxLayout(deckMap);
    deckMapLayout->addWidget(deckMapLabel);

    deckLane_1 = new QListWidget(deckGrid);
    deckLane_1->setObjectName("deckLane_1");
    deckLane_1->setAcceptDrops(true);
    deckLane_1->setToolTip(tr("Lane 1"));
    deckLane_1->setMaximumHeight(72);

    deckLane_2 = new QListWidget(deckGrid);
    deckLane_2->setObjectName("deckLane_2");
    deckLane_2->setAcceptDrops(true);
    deckLane_2->setToolTip(tr("Lane 2"));
    deckLane_2->setMaximumHeight(72);

    deckLane_3 = new QListWidget(deckGrid);
    deckLane_3->setObjectName("deckLane_3");
    deckLane_3->setAcceptDrops(true);
    deckLane_3->setToolTip(tr("Lane 3"));
    deckLane_3->setMaximumHeight(72);

    auto *deckGridLayout = new QGridLayout(deckGrid);
    deckGridLayout->setContentsMargins(0, 0, 0, 0);
    deckGridLayout->addWidget(deckMap, 0, 0, 1, 3);
    deckGridLayout->addWidget(deckLane_1, 1, 0);
    deckGridLayout->addWidget(deckLane_2, 1, 1);
    deckGridLayout->addWidget(deckLane_3, 1, 2);

    auto *deckRowLayout = new QHBoxLayout(deckRow);
    deckRowLayout->setContentsMargins(0, 0, 0, 0);
    deckRowLayout->addWidget(rampColumn);
    deckRowLayout->addWidget(deckGrid);

    passengerList = new QListWidget(this);
    passengerList->setObjectName("passengerList");

    tideRow = new QWidget(this);
    tideRow->setObjectName("tideRow");

    tideButton = new QPushButton(tideRow);
    tideButton->setObjectName("tideButton");
    tideButton->setText(tr("Tide forecast"));

    manifestButton = new QPushButton(tideRow);
    manifestButton->setObjectName("manifestButton");
    manifestButton->setText(tr("Save manifest"));

    gateLabel = new QLabel(tideRow);
    gateLabel->setObjectName("gateLabel");
    gateLabel->setText(tr("Gate: closed"));

    tideLabel = new QLabel(tideRow);
    tideLabel->setObjectName("tideLabel");
    tideLabel->setText(tr("Tide: not asked yet"));

    auto *tideRowLayout = new QHBoxLayout(tideRow);
    tideRowLayout->setContentsMargins(0, 0, 0, 0);
    tideRowLayout->addWidget(tideButton);
    tideRowLayout->addWidget(manifestButton);
    tideRowLayout->addWidget(gateLabel);
    tideRowLayout->addWidget(tideLabel, 1);

    statusLabel = new QLabel(this);
    statusLabel->setObjectName("statusLabel");
    statusLabel->setText(tr("Ready"));

    auto *ferryDeskLayout = new QVBoxLayout(this);
    ferryDeskLayout->addWidget(deskTitle);
    ferryDeskLayout->addWidget(ticketRow);
    ferryDeskLayout->addWidget(fareRow);
    ferryDeskLayout->addWidget(deckRow);
    ferryDeskLayout->addWidget(passengerList);
    ferryDeskLayout->addWidget(tideRow);
    ferryDeskLayout->addWidget(statusLabel);

    ticketLabel->setBuddy(ticketField);
    fareGroup->addButton(fare_adult, 0);
    fareGroup->addButton(fare_child, 1);
    fareGroup->addButton(fare_bicycle, 2);
    addAction(hornAction); // so that its shortcut is heard

    gateTimer = new QTimer(this);
    gateTimer->setObjectName("gateTimer");
    gateTimer->setInterval(250);
}
