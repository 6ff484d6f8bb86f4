// A window with one widget of each class whose order of events and signals the catalog states.
#include <QtWidgets>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QWidget window;
    window.setObjectName("desk");
    auto *layout = new QVBoxLayout(&window);
    const auto add = [&](QWidget *w, const char *name) {
        w->setObjectName(name);
        layout->addWidget(w);
    };
    add(new QPushButton("Board"), "boardButton");
    auto *open = new QPushButton("Open");
    open->setCheckable(true);
    add(open, "openButton");
    add(new QToolButton, "toolButton");
    add(new QCheckBox("Papers"), "papersCheck");
    add(new QRadioButton("Adult"), "fareAdult");
    add(new QLineEdit, "ticketField");
    add(new QSpinBox, "carsField");
    auto *box = new QComboBox;
    box->addItems({"adult", "child"});
    add(box, "fareBox");
    auto *list = new QListWidget;
    list->addItems({"K-1", "K-2", "K-3"});
    list->setCurrentRow(0);
    add(list, "passengerList");
    auto *slider = new QSlider(Qt::Horizontal);
    slider->setRange(0, 100);
    slider->setValue(50);
    add(slider, "speedSlider");
    auto *note = new QPlainTextEdit;
    note->setMaximumHeight(60);
    add(note, "noteText");
    auto *tabs = new QTabBar;
    tabs->addTab("Cars");
    tabs->addTab("Passengers");
    add(tabs, "pageTabs");
    auto *action = new QAction("Horn", &window);
    action->setObjectName("hornAction");
    action->setShortcut(QKeySequence("Ctrl+H"));
    window.addAction(action);
    auto *switching = new QAction("Night", &window);
    switching->setObjectName("nightAction");
    switching->setCheckable(true);
    switching->setShortcut(QKeySequence("Ctrl+N"));
    window.addAction(switching);
    window.show();
    return app.exec();
}
