// Many events on several threads, as fast as they go; prints how many handlers it ran. With
// "aloud" it says when it begins, and as which process.
#include <QApplication>
#include <QThread>
#include <QTimer>

#include <atomic>
#include <cstdio>
#include <memory>
#include <unistd.h>
#include <vector>

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const int each = argc > 1 ? atoi(argv[1]) : 20'000;
    std::atomic<int> calls{0};
    std::vector<std::unique_ptr<QThread>> threads;
    std::vector<std::unique_ptr<QObject>> workers;
    for (int i = 0; i < 3; ++i) {
        threads.push_back(std::make_unique<QThread>());
        workers.push_back(std::make_unique<QObject>());
        workers.back()->moveToThread(threads.back().get());
        threads.back()->start();
    }
    if (argc > 2) {
        std::printf("begin %d\n", int(getpid()));
        std::fflush(stdout);
        QThread::msleep(100);
    }
    for (int n = 0; n < each; ++n)
        for (auto &w : workers) {
            QMetaObject::invokeMethod(
                w.get(), [&calls] { ++calls; }, Qt::QueuedConnection);
        }
    for (auto &w : workers) // the last of each queue
        QMetaObject::invokeMethod(
            w.get(), [] {}, Qt::BlockingQueuedConnection);
    for (auto &t : threads) {
        t->quit();
        t->wait();
    }
    std::printf("calls %d\n", calls.load());
    QTimer::singleShot(0, &app, &QCoreApplication::quit);
    return QApplication::exec();
}
