// Made by Pipit; edits here are overwritten.
#include "ferry_desk_base.h"

FerryDeskBase::FerryDeskBase(QWidget *parent) : QWidget(parent)
{
    fareGroup = new QButtonGroup(this);
    fareGroup->setObjectName(QString::fromUtf8("fareGroup", 9));
    hornAction = new QAction(this);
    hornAction->setObjectName(QString::fromUtf8("hornAction", 10));
    hornAction->setProperty("text", QString::fromUtf8("Horn", 4));
    hornAction->setProperty("shortcut", QString::fromUtf8("Ctrl+H", 6));
    gateSensor = new QProcess(this);
    gateSensor->setObjectName(QString::fromUtf8("gateSensor", 10));
    gateSensor->setProgram(wiring::projectFile(QString::fromUtf8("devices\057gate_sensor", 19)));
    gateSensor->setArguments(QStringList{QString::fromUtf8("", 0)});
    this->setObjectName(QString::fromUtf8("ferryDesk", 9));
    this->setProperty("windowTitle", QString::fromUtf8("Skerry Line ferry desk", 22));
    resize(560, 520);

    deskTitle = new QLabel(this);
    deskTitle->setObjectName(QString::fromUtf8("deskTitle", 9));
    deskTitle->setProperty("text", QString::fromUtf8("Boarding for the 14:20 to Skerry", 32));
    {
        QFont font = deskTitle->font();
        font.setPointSize(13);
        font.setBold(true);
        deskTitle->setFont(font);
    }

    ticketRow = new QWidget(this);
    ticketRow->setObjectName(QString::fromUtf8("ticketRow", 9));

    ticketLabel = new QLabel(ticketRow);
    ticketLabel->setObjectName(QString::fromUtf8("ticketLabel", 11));
    ticketLabel->setProperty("text", QString::fromUtf8("&Ticket", 7));

    ticketField = new QLineEdit(ticketRow);
    ticketField->setObjectName(QString::fromUtf8("ticketField", 11));
    ticketField->setProperty("placeholderText", QString::fromUtf8("K-204", 5));

    boardButton = new QPushButton(ticketRow);
    boardButton->setObjectName(QString::fromUtf8("boardButton", 11));
    boardButton->setProperty("text", QString::fromUtf8("Board", 5));
    {
        auto *layout = new QHBoxLayout(ticketRow);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(ticketLabel, 0, Qt::Alignment());
        layout->addWidget(ticketField, 1, Qt::Alignment());
        layout->addWidget(boardButton, 0, Qt::Alignment());
    }

    fareRow = new QWidget(this);
    fareRow->setObjectName(QString::fromUtf8("fareRow", 7));

    fare_adult = new QRadioButton(fareRow);
    fare_adult->setObjectName(QString::fromUtf8("fare_adult", 10));
    fare_adult->setProperty("text", QString::fromUtf8("Adult", 5));
    fare_adult->setProperty("checked", true);

    fare_child = new QRadioButton(fareRow);
    fare_child->setObjectName(QString::fromUtf8("fare_child", 10));
    fare_child->setProperty("text", QString::fromUtf8("Child", 5));

    fare_bicycle = new QRadioButton(fareRow);
    fare_bicycle->setObjectName(QString::fromUtf8("fare_bicycle", 12));
    fare_bicycle->setProperty("text", QString::fromUtf8("Bicycle", 7));

    papersCheck = new QCheckBox(fareRow);
    papersCheck->setObjectName(QString::fromUtf8("papersCheck", 11));
    papersCheck->setProperty("tristate", true);
    papersCheck->setProperty("text", QString::fromUtf8("Papers seen", 11));

    openButton = new QPushButton(fareRow);
    openButton->setObjectName(QString::fromUtf8("openButton", 10));
    openButton->setProperty("checkable", true);
    openButton->setProperty("text", QString::fromUtf8("Boarding open", 13));
    openButton->setProperty("checked", true);
    {
        auto *layout = new QHBoxLayout(fareRow);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(fare_adult, 0, Qt::Alignment());
        layout->addWidget(fare_child, 0, Qt::Alignment());
        layout->addWidget(fare_bicycle, 0, Qt::Alignment());
        layout->addWidget(papersCheck, 0, Qt::Alignment());
        layout->addWidget(openButton, 0, Qt::Alignment());
    }

    deckRow = new QWidget(this);
    deckRow->setObjectName(QString::fromUtf8("deckRow", 7));

    rampColumn = new QWidget(deckRow);
    rampColumn->setObjectName(QString::fromUtf8("rampColumn", 10));

    rampLabel = new QLabel(rampColumn);
    rampLabel->setObjectName(QString::fromUtf8("rampLabel", 9));
    rampLabel->setProperty("text", QString::fromUtf8("Cars on the ramp", 16));

    rampRow = new QWidget(rampColumn);
    rampRow->setObjectName(QString::fromUtf8("rampRow", 7));

    fewerCars = new QPushButton(rampRow);
    fewerCars->setObjectName(QString::fromUtf8("fewerCars", 9));
    fewerCars->setProperty("autoRepeat", true);
    fewerCars->setProperty("text", QString::fromUtf8("Fewer", 5));
    fewerCars->setProperty("autoRepeatInterval", 120);

    carsDisplay = new QLCDNumber(rampRow);
    carsDisplay->setObjectName(QString::fromUtf8("carsDisplay", 11));
    carsDisplay->setProperty("digitCount", 3);

    moreCars = new QPushButton(rampRow);
    moreCars->setObjectName(QString::fromUtf8("moreCars", 8));
    moreCars->setProperty("autoRepeat", true);
    moreCars->setProperty("text", QString::fromUtf8("More", 4));
    moreCars->setProperty("autoRepeatInterval", 120);
    {
        auto *layout = new QHBoxLayout(rampRow);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(fewerCars, 0, Qt::Alignment());
        layout->addWidget(carsDisplay, 0, Qt::Alignment());
        layout->addWidget(moreCars, 0, Qt::Alignment());
    }

    carList = new QListWidget(rampColumn);
    carList->setObjectName(QString::fromUtf8("carList", 7));
    carList->addItems(QStringList{QString::fromUtf8("Car AB 104", 10), QString::fromUtf8("Car KS 220", 10), QString::fromUtf8("Van TR 9", 8), QString::fromUtf8("Lorry SK 77", 11)});
    carList->setProperty("maximumHeight", 96);
    {
        auto *layout = new QVBoxLayout(rampColumn);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(rampLabel, 0, Qt::Alignment());
        layout->addWidget(rampRow, 0, Qt::Alignment());
        layout->addWidget(carList, 0, Qt::Alignment());
    }

    deckGrid = new QWidget(deckRow);
    deckGrid->setObjectName(QString::fromUtf8("deckGrid", 8));

    deckMap = new QFrame(deckGrid);
    deckMap->setObjectName(QString::fromUtf8("deckMap", 7));
    deckMap->setProperty("frameShape", QString::fromUtf8("StyledPanel", 11));
    deckMap->setProperty("minimumHeight", 34);

    deckMapLabel = new QLabel(deckMap);
    deckMapLabel->setObjectName(QString::fromUtf8("deckMapLabel", 12));
    deckMapLabel->setProperty("text", QString::fromUtf8("Deck: nothing under the pointer", 31));
    {
        auto *layout = new QVBoxLayout(deckMap);
        layout->addWidget(deckMapLabel, 0, Qt::Alignment());
    }

    deckLane_1 = new QListWidget(deckGrid);
    deckLane_1->setObjectName(QString::fromUtf8("deckLane_1", 10));
    deckLane_1->setProperty("acceptDrops", true);
    deckLane_1->setProperty("toolTip", QString::fromUtf8("Lane 1", 6));
    deckLane_1->setProperty("maximumHeight", 72);

    deckLane_2 = new QListWidget(deckGrid);
    deckLane_2->setObjectName(QString::fromUtf8("deckLane_2", 10));
    deckLane_2->setProperty("acceptDrops", true);
    deckLane_2->setProperty("toolTip", QString::fromUtf8("Lane 2", 6));
    deckLane_2->setProperty("maximumHeight", 72);

    deckLane_3 = new QListWidget(deckGrid);
    deckLane_3->setObjectName(QString::fromUtf8("deckLane_3", 10));
    deckLane_3->setProperty("acceptDrops", true);
    deckLane_3->setProperty("toolTip", QString::fromUtf8("Lane 3", 6));
    deckLane_3->setProperty("maximumHeight", 72);
    {
        auto *layout = new QGridLayout(deckGrid);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(deckMap, 0, 0, 1, 3, Qt::Alignment());
        layout->addWidget(deckLane_1, 1, 0, 1, 1, Qt::Alignment());
        layout->addWidget(deckLane_2, 1, 1, 1, 1, Qt::Alignment());
        layout->addWidget(deckLane_3, 1, 2, 1, 1, Qt::Alignment());
    }
    {
        auto *layout = new QHBoxLayout(deckRow);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(rampColumn, 0, Qt::Alignment());
        layout->addWidget(deckGrid, 0, Qt::Alignment());
    }

    passengerList = new QListWidget(this);
    passengerList->setObjectName(QString::fromUtf8("passengerList", 13));

    tideRow = new QWidget(this);
    tideRow->setObjectName(QString::fromUtf8("tideRow", 7));

    tideButton = new QPushButton(tideRow);
    tideButton->setObjectName(QString::fromUtf8("tideButton", 10));
    tideButton->setProperty("text", QString::fromUtf8("Tide forecast", 13));

    manifestButton = new QPushButton(tideRow);
    manifestButton->setObjectName(QString::fromUtf8("manifestButton", 14));
    manifestButton->setProperty("text", QString::fromUtf8("Save manifest", 13));

    gateLabel = new QLabel(tideRow);
    gateLabel->setObjectName(QString::fromUtf8("gateLabel", 9));
    gateLabel->setProperty("text", QString::fromUtf8("Gate: closed", 12));

    tideLabel = new QLabel(tideRow);
    tideLabel->setObjectName(QString::fromUtf8("tideLabel", 9));
    tideLabel->setProperty("text", QString::fromUtf8("Tide: not asked yet", 19));
    {
        auto *layout = new QHBoxLayout(tideRow);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(tideButton, 0, Qt::Alignment());
        layout->addWidget(manifestButton, 0, Qt::Alignment());
        layout->addWidget(gateLabel, 0, Qt::Alignment());
        layout->addWidget(tideLabel, 1, Qt::Alignment());
    }

    statusLabel = new QLabel(this);
    statusLabel->setObjectName(QString::fromUtf8("statusLabel", 11));
    statusLabel->setProperty("text", QString::fromUtf8("Ready", 5));
    {
        auto *layout = new QVBoxLayout(this);
        layout->addWidget(deskTitle, 0, Qt::Alignment());
        layout->addWidget(ticketRow, 0, Qt::Alignment());
        layout->addWidget(fareRow, 0, Qt::Alignment());
        layout->addWidget(deckRow, 0, Qt::Alignment());
        layout->addWidget(passengerList, 0, Qt::Alignment());
        layout->addWidget(tideRow, 0, Qt::Alignment());
        layout->addWidget(statusLabel, 0, Qt::Alignment());
    }

    ticketLabel->setBuddy(ticketField);
    fareGroup->addButton(fare_adult, 0);
    fareGroup->addButton(fare_child, 1);
    fareGroup->addButton(fare_bicycle, 2);
    addAction(hornAction); // so that its shortcut is heard

    gateTimer = new QTimer(this);
    gateTimer->setObjectName(QString::fromUtf8("gateTimer", 9));
    gateTimer->setInterval(250);
}
