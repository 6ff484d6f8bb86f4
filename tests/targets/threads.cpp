// A program whose threads get in each other's way: "receivers" of connections that go on workers while the
// main thread's objects are looked at, and "forks" while other threads hold what locks there are.
#include <QAction>
#include <QApplication>
#include <QPushButton>
#include <QTimer>
#include <array>
#include <atomic>
#include <cstdio>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>
#include <vector>

class Passing : public QObject
{
    Q_OBJECT
public:
    std::array<char, 300> cargo{};
};

static int receivers(QApplication &app)
{
    QPushButton source;
    source.show();
    std::atomic<bool> stop{false};
    std::vector<std::thread> workers;
    for (int i = 0; i < 2; ++i)
        workers.emplace_back([&] {
            while (!stop) {
                std::array<std::unique_ptr<Passing>, 30> some;
                for (auto &one : some) {
                    one = std::make_unique<Passing>();
                    one->setObjectName("passing");
                    QObject::connect(
                        &source, &QPushButton::clicked, one.get(), [] {}, Qt::QueuedConnection);
                }
            }
        });
    QTimer tick;
    QObject::connect(&tick, &QTimer::timeout, &app, [&] { source.update(); });
    tick.start(1);
    QTimer::singleShot(4000, &app, &QApplication::quit);
    app.exec();
    stop = true;
    for (std::thread &w : workers)
        w.join();
    std::puts("done");
    return 0;
}

// Prints how many children ended, and how many did not within five seconds.
static int forks()
{
    std::vector<std::unique_ptr<QTimer>> many; // so that an object at any address may be a known one
    QAction action;
    QTimer timer;
    QObject::connect(&action, SIGNAL(triggered()), &timer, SLOT(stop()));
    for (int i = 0; i < 6'000; ++i) {
        many.push_back(std::make_unique<QTimer>());
        QObject::connect(&action, SIGNAL(changed()), many.back().get(), SLOT(stop()));
    }
    std::atomic<bool> stop{false};
    std::vector<std::thread> workers;
    for (int i = 0; i < 4; ++i)
        workers.emplace_back([&] {
            QTimer from, to;
            while (!stop)
                QObject::connect(&from, SIGNAL(objectNameChanged(QString)), &to, SLOT(stop()),
                                 Qt::UniqueConnection);
        });
    int ended = 0, hung = 0;
    for (int i = 0; i < 200 && hung == 0; ++i) {
        const pid_t child = fork();
        if (child == 0) {
            alarm(5);
            action.trigger();
            delete new QObject;
            _exit(0);
        }
        int status = 0;
        waitpid(child, &status, 0);
        ++(WIFEXITED(status) ? ended : hung);
    }
    stop = true;
    for (std::thread &w : workers)
        w.join();
    std::printf("ended %d hung %d\n", ended, hung);
    return 0;
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    return argc > 1 && argv[1][0] == 'f' ? forks() : receivers(app);
}
#include "threads.moc"
