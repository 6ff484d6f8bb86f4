// Acts beyond a click: shortcuts, menus, tool buttons, context menus, dialogs that a key closes. Prints "DID
// name" for each that came to something.
#include <QAction>
#include <QApplication>
#include <QContextMenuEvent>
#include <QDialog>
#include <QDialogButtonBox>
#include <QLabel>
#include <QLineEdit>
#include <QMainWindow>
#include <QMenu>
#include <QMenuBar>
#include <QPushButton>
#include <QShortcut>
#include <QToolBar>
#include <QToolButton>
#include <QVBoxLayout>

#include <cstdio>
#include <utility>

static void did(const char *name)
{
    std::printf("DID %s\n", name);
    std::fflush(stdout);
}

class Chart : public QWidget
{
    using QWidget::QWidget;
    void contextMenuEvent(QContextMenuEvent *) override { did("chart"); }
};

// What it does with a press shows in nothing but its state.
class Quiet : public QWidget
{
    using QWidget::QWidget;
    // The first press brings other events with it, the second nothing.
    void mousePressEvent(QMouseEvent *) override
    {
        setFocusPolicy(presses_++ ? Qt::WheelFocus : Qt::TabFocus);
    }
    int presses_ = 0;
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QMainWindow window;
    window.setObjectName("window");
    const auto action = [&](const char *name, const char *text) {
        auto *a = new QAction(text, &window);
        a->setObjectName(name);
        QObject::connect(a, &QAction::triggered, &window, [name] { did(name); });
        return a;
    };
    QAction *save = action("save", "Save"), *sail = action("sail", "Sail"), *dock = action("dock", "Dock"),
            *first = action("first", "First"), *second = action("second", "Second");
    save->setShortcut(QKeySequence("Ctrl+S"));
    first->setShortcut(QKeySequence("Ctrl+D"));
    second->setShortcut(QKeySequence("Ctrl+D"));
    window.addActions({first, second});
    bool over = false; // said once: a menu says it again for each move in the entry
    QObject::connect(sail, &QAction::hovered, &window, [&over] {
        if (!std::exchange(over, true))
            did("over");
    });
    QMenu *file = window.menuBar()->addMenu("File");
    file->setObjectName("file");
    file->addAction(save);
    file->addAction(sail);
    QToolBar *bar = window.addToolBar("Tools");
    bar->setObjectName("bar");
    bar->addAction(dock);
    bar->widgetForAction(dock)->setObjectName("dockButton");
    auto *horn = new QShortcut(QKeySequence("F6"), &window);
    horn->setObjectName("horn");
    QObject::connect(horn, &QShortcut::activated, &window, [] { did("horn"); });

    auto *all = new QWidget;
    auto *column = new QVBoxLayout(all);
    auto *field = new QLineEdit;
    field->setObjectName("field");
    auto *chart = new Chart;
    chart->setObjectName("chart");
    chart->setMinimumSize(80, 40);
    auto *quiet = new Quiet;
    quiet->setObjectName("quiet");
    quiet->setMinimumSize(80, 20);
    auto *open = new QPushButton("Open");
    open->setObjectName("open");
    for (QWidget *w : std::initializer_list<QWidget *>{field, chart, quiet, open})
        column->addWidget(w);
    window.setCentralWidget(all);
    QObject::connect(open, &QPushButton::clicked, &window, [&] {
        auto *dialog = new QDialog(&window);
        dialog->setObjectName("dialog");
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        auto *inside = new QVBoxLayout(dialog);
        auto *name = new QLineEdit;
        name->setObjectName("name");
        inside->addWidget(name);
        auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
        inside->addWidget(buttons);
        QObject::connect(buttons, &QDialogButtonBox::accepted, dialog, &QDialog::accept);
        QObject::connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::reject);
        QObject::connect(dialog, &QDialog::finished, &window,
                         [](int r) { did(r ? "accepted" : "rejected"); });
        dialog->open();
    });
    window.show();
    return app.exec();
}
