// What the cost of recording is measured on: bare sends, and clicks with their handler, timed by
// the program itself. Prints nanoseconds for each: "send NS" and "click NS", the median of bursts, and
// "send-undisturbed NS" and "click-undisturbed NS", the quickest of them.
//
// With "work" it does the same work once: "work NS". With "filter" it watches itself the way a developer
// would by hand: an event filter on the application that writes type and object name through a buffered
// stream.
#include <QApplication>
#include <QCheckBox>
#include <QElapsedTimer>
#include <QGridLayout>
#include <QGroupBox>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPushButton>
#include <QSpinBox>
#include <QThread>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <ctime>
#include <vector>

class Filter : public QObject
{
public:
    FILE *out = std::fopen("/dev/null", "w");
    bool eventFilter(QObject *o, QEvent *e) override
    {
        std::fprintf(out, "%d %s\n", int(e->type()), qPrintable(o->objectName()));
        return false;
    }
};

static double median(std::vector<double> v)
{
    std::nth_element(v.begin(), v.begin() + std::ptrdiff_t(v.size() / 2), v.end());
    return v[v.size() / 2];
}
// The burst in which the machine did least beside.
static double least(const std::vector<double> &v)
{
    return *std::min_element(v.begin(), v.end());
}

static void click(QPushButton &b)
{
    const QPointF at(10, 10);
    QMouseEvent press(QEvent::MouseButtonPress, at, b.mapToGlobal(at), Qt::LeftButton, Qt::LeftButton,
                      Qt::NoModifier);
    QCoreApplication::sendEvent(&b, &press);
    QMouseEvent release(QEvent::MouseButtonRelease, at, b.mapToGlobal(at), Qt::LeftButton, Qt::NoButton,
                        Qt::NoModifier);
    QCoreApplication::sendEvent(&b, &release);
}

// Once a handler that computes the same each time, and nothing else: what it ran, "work NS", and how long
// that took.
static int workOnly(QApplication &app)
{
    QTimer::singleShot(50, &app, [&app] {
        const auto ran = [] {
            timespec t{};
            clock_gettime(CLOCK_THREAD_CPUTIME_ID, &t);
            return t.tv_sec * 1'000'000'000LL + t.tv_nsec;
        };
        QElapsedTimer clock;
        clock.start();
        const long long before = ran();
        volatile unsigned sink = 1;
        for (unsigned i = 0; i < 400'000'000; ++i)
            sink = sink * 1664525 + i;
        std::printf("work %lld\nwork-by-the-clock %lld\n", ran() - before,
                    static_cast<long long>(clock.nsecsElapsed()));
        app.quit();
    });
    return app.exec();
}

// What the process has run since it began.
static long long processorTime()
{
    timespec t{};
    clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &t);
    return t.tv_sec * 1'000'000'000LL + t.tv_nsec;
}

// A window of 320 widgets with 240 connections, and then half a second of nothing: "start NS".
static int startOnly(QApplication &app)
{
    QWidget window;
    auto *grid = new QGridLayout(&window);
    for (int i = 0; i < 40; ++i) {
        auto *group = new QGroupBox(QStringLiteral("Berth %1").arg(i));
        group->setObjectName(QStringLiteral("berth%1").arg(i));
        auto *rows = new QVBoxLayout(group);
        auto *field = new QLineEdit, *other = new QLineEdit;
        auto *check = new QCheckBox("Open");
        auto *box = new QSpinBox;
        auto *button = new QPushButton("Board");
        auto *label = new QLabel("0 aboard");
        for (QWidget *w : {(QWidget *)field, (QWidget *)other, (QWidget *)check, (QWidget *)box,
                           (QWidget *)button, (QWidget *)label}) {
            w->setObjectName(QStringLiteral("%1%2").arg(w->metaObject()->className()).arg(i));
            rows->addWidget(w);
        }
        QObject::connect(field, &QLineEdit::textChanged, label, &QLabel::setText);
        QObject::connect(other, &QLineEdit::textChanged, label, [label] { label->clear(); });
        QObject::connect(check, &QCheckBox::toggled, button, &QWidget::setEnabled);
        QObject::connect(check, &QCheckBox::toggled, field, &QWidget::setVisible);
        QObject::connect(box, &QSpinBox::valueChanged, label, [label](int n) { label->setNum(n); });
        QObject::connect(button, &QPushButton::clicked, box, &QSpinBox::stepUp);
        grid->addWidget(group, i / 8, i % 8);
    }
    window.show();
    QTimer::singleShot(500, &app, [&app] {
        std::printf("start %lld\n", processorTime());
        app.quit();
    });
    return app.exec();
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    if (argc > 1 && std::strcmp(argv[1], "work") == 0)
        return workOnly(app);
    if (argc > 1 && std::strcmp(argv[1], "start") == 0)
        return startOnly(app);
    const bool filtered = argc > 1 && std::strcmp(argv[1], "filter") == 0;
    Filter filter;
    filter.setObjectName("filter");
    if (filtered)
        app.installEventFilter(&filter);
    QObject receiver;
    receiver.setObjectName("receiver");
    QPushButton button("Board");
    button.setObjectName("boardButton");
    button.resize(100, 30);
    button.show();
    int calls = 0;
    // A handler that does a little, as handlers do.
    QObject::connect(&button, &QPushButton::clicked, &receiver, [&] {
        ++calls;
        receiver.setProperty("aboard", QString::number(calls) + " aboard");
    });
    // With "turns": three thousand clicks, each in a turn of the loop.
    QTimer clicks;
    if (argc > 1 && std::strcmp(argv[1], "turns") == 0) {
        QObject::connect(&clicks, &QTimer::timeout, &app, [&] {
            click(button);
            if (calls == 3000)
                QCoreApplication::quit();
        });
        clicks.start(0);
        return QApplication::exec();
    }
    // With "clicks": sixty thousand of them in bursts, to look at with a profiler.
    if (argc > 1 && std::strcmp(argv[1], "clicks") == 0) {
        QTimer::singleShot(100, &app, [&] {
            for (int burst = 0; burst < 600; ++burst) {
                for (int i = 0; i < 100; ++i)
                    click(button);
                QThread::usleep(500);
            }
            app.quit();
        });
        return QApplication::exec();
    }
    // With "rate": half a million sends a second, for as long as it is told.
    if (argc > 2 && std::strcmp(argv[1], "rate") == 0) {
        constexpr int inAMillisecond = 500;
        QElapsedTimer since;
        since.start();
        qint64 sent = 0;
        QObject::connect(&clicks, &QTimer::timeout, &app, [&] {
            const qint64 due = since.nsecsElapsed() * inAMillisecond / 1'000'000;
            const qint64 most = sent + 20'000; // after a pause of the machine it is made up for in parts
            for (; sent < due && sent < most; ++sent) {
                QEvent e(QEvent::User);
                QCoreApplication::sendEvent(&receiver, &e);
            }
            if (since.elapsed() > std::atoi(argv[2]) * 1000) {
                std::printf("sent %lld\n", static_cast<long long>(sent));
                QCoreApplication::quit();
            }
        });
        clicks.start(1);
        return QApplication::exec();
    }
    QTimer::singleShot(100, &app, [&] {
        // In bursts with rests between them, as programs have them: what is measured is the cost of a
        // record that is kept, not of one that is dropped because the ring was full.
        constexpr int bursts = 30, sends = 8'000, clicks = 100;
        std::vector<double> send, each;
        for (int burst = -3; burst < bursts; ++burst) { // the first three warm up
            QElapsedTimer t;
            t.start();
            for (int i = 0; i < sends; ++i) {
                QEvent e(QEvent::User);
                QCoreApplication::sendEvent(&receiver, &e);
            }
            if (burst >= 0)
                send.push_back(double(t.nsecsElapsed()) / sends);
            QThread::msleep(25);
            t.restart();
            for (int i = 0; i < clicks; ++i)
                click(button);
            if (burst >= 0)
                each.push_back(double(t.nsecsElapsed()) / clicks);
            QThread::msleep(25);
        }
        std::printf("send %.1f\nclick %.1f\n", median(send), median(each));
        std::printf("send-undisturbed %.1f\nclick-undisturbed %.1f\n", least(send), least(each));
        app.quit();
    });
    return QApplication::exec();
}
