// Timers that wake a loop alone, together, and as a single shot each time anew. Counts for itself: in each
// turn of its loop, from waking to waiting, which of its timers fired; "WAKES n" and "ALONE name n TICKS n"
// for each, "SHOTS n". A field is connected to functions of the toolkit's. With the word "never" it ends
// before its loop has begun.
#include <QtCore/QAbstractEventDispatcher>
#include <QtCore/QHash>
#include <QtCore/QSet>
#include <QtCore/QThread>
#include <QtCore/QTimer>
#include <QtWidgets/QApplication>
#include <QtWidgets/QComboBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QLineEdit>
#include <QtWidgets/QPlainTextEdit>
#include <QtWidgets/QVBoxLayout>

#include <cstdio>
#include <functional>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    if (argc > 1 && argv[1] == QByteArray("never")) { // its loop does not begin
        QThread::msleep(400);
        return 0;
    }
    QWidget window;
    auto *column = new QVBoxLayout(&window);
    auto *label = new QLabel("0");
    label->setObjectName("label");
    column->addWidget(label);
    auto *field = new QLineEdit;
    field->setObjectName("field");
    auto *copy = new QLabel;
    copy->setObjectName("copy");
    QObject::connect(field, &QLineEdit::textChanged, copy, &QLabel::setText);
    QObject::connect(field, &QLineEdit::textChanged, copy, &QLabel::clear);
    column->addWidget(field);
    column->addWidget(copy);
    QTimer::singleShot(10, field, [field] { field->setText("x"); });
    column->addWidget(new QComboBox);
    column->addWidget(new QPlainTextEdit);
    window.show();

    QHash<QString, int> ticks, alone;
    QSet<QString> fired;
    int wakes = 0, shots = 0;
    bool waiting = false;
    const auto turnEnds = [&] {
        if (fired.size() == 1)
            ++alone[*fired.begin()];
        fired.clear();
    };
    QObject::connect(QAbstractEventDispatcher::instance(), &QAbstractEventDispatcher::awake, &app, [&] {
        wakes += waiting;
        waiting = false;
    });
    QObject::connect(QAbstractEventDispatcher::instance(), &QAbstractEventDispatcher::aboutToBlock, &app,
                     [&] {
                         turnEnds();
                         waiting = true;
                     });
    const auto start = [&](const char *name, int every, const std::function<void()> &then) {
        auto *timer = new QTimer(&window);
        timer->setObjectName(name);
        timer->setTimerType(Qt::PreciseTimer);
        QObject::connect(timer, &QTimer::timeout, &window, [&, name, then] {
            ++ticks[name];
            fired.insert(name);
            then();
        });
        timer->start(every);
    };
    start("alone", 37, [&] { label->setText(QString::number(ticks["alone"])); }); // and it repaints for it
    start("leader", 91, [&] { QThread::msleep(45); }); // so that "alone" is due with others at times
    const std::function<void()> shoot = [&] {
        ++shots;
        fired.insert("shot");
        if (shots < 98)
            QTimer::singleShot(20, Qt::PreciseTimer, &window, [&] { shoot(); });
    };
    QTimer::singleShot(20, Qt::PreciseTimer, &window, [&] { shoot(); });
    QTimer::singleShot(2600, &app, &QApplication::quit);
    const int code = app.exec();
    std::printf("WAKES %d\nSHOTS %d\n", wakes, shots);
    for (const char *name : {"alone", "leader"})
        std::printf("ALONE %s %d TICKS %d\n", name, alone[name], ticks[name]);
    return code;
}
