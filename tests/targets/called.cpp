// Widgets without a name, each known by something else. Each gets the focus once.
#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QWidget window;
    window.setObjectName("window");
    auto *all = new QVBoxLayout(&window);

    auto *buddy = new QLineEdit, *formed = new QLineEdit, *beside = new QLineEdit, *second = new QLineEdit,
         *below = new QLineEdit, *inside = new QLineEdit;
    auto *label = new QLabel("&Find what:");
    label->setBuddy(buddy);
    auto *form = new QWidget;
    (new QFormLayout(form))->addRow("Berth", formed);
    auto *row = new QHBoxLayout;
    row->addWidget(new QLabel("Ferry:"));
    row->addWidget(beside);
    row->addWidget(second); // the first lies between
    auto *words = new QLabel("Remarks");
    inside->setPlaceholderText("Name of the skipper");
    auto *icon = new QPushButton;
    icon->setToolTip("Sound the horn");
    auto *tool = new QToolButton;
    QAction cast("&Cast off", nullptr);
    tool->setDefaultAction(&cast);
    auto *count = new QSpinBox;
    count->setAccessibleName("Cars");
    auto *list = new QComboBox;
    list->setEditable(true);
    list->setToolTip("Where to");
    for (QWidget *w : std::initializer_list<QWidget *>{buddy, label, form, inside, icon, tool, count, list})
        all->addWidget(w);
    all->addLayout(row);
    all->addWidget(words);
    all->addWidget(below);
    window.show();
    for (QWidget *w : std::initializer_list<QWidget *>{buddy, formed, beside, second, below, inside, icon,
                                                       tool, count, list}) {
        w->setFocusPolicy(Qt::StrongFocus);
        QTimer::singleShot(200, w, [w] { w->setFocus(); });
    }
    if (argc < 2)
        QTimer::singleShot(600, &app, &QApplication::quit);
    return app.exec();
}
