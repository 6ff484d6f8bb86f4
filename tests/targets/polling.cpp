// A device that changes at moments of its own, on another thread, and a timer that polls it while handlers
// now and then hold the loop. Prints by its own clock, CLOCK_MONOTONIC in ns: "CHANGE at", "NOTICED at", and
// "TICK at" for each tick.
#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QThread>
#include <QTimer>

#include <atomic>
#include <cstdio>
#include <random>
#include <time.h>
#include <vector>

static long long now()
{
    timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return t.tv_sec * 1000000000LL + t.tv_nsec;
}

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    const int interval = argc > 1 ? std::atoi(argv[1]) : 100, seconds = argc > 2 ? std::atoi(argv[2]) : 6;
    QLabel lamp("closed");
    lamp.setObjectName("lamp");
    lamp.show();
    std::atomic<int> state{0};
    std::atomic<bool> stop{false};
    std::vector<long long> changes, noticed, ticks;
    changes.reserve(100000);
    QThread *device = QThread::create([&] {
        std::mt19937 random(7);
        while (!stop) {
            QThread::usleep(2000 + random() % 12000);
            changes.push_back(now());
            ++state;
        }
    });
    device->setObjectName("device");
    auto *poll = new QTimer(&lamp);
    poll->setObjectName("poll");
    poll->setTimerType(Qt::PreciseTimer);
    int seen = 0;
    QObject::connect(poll, &QTimer::timeout, &lamp, [&] {
        ticks.push_back(now());
        for (const int is = state; seen < is; ++seen)
            noticed.push_back(ticks.back());
        if (ticks.size() % 8 == 0)
            lamp.setText(QString::number(seen));
    });
    auto *holding = new QTimer(&lamp);
    holding->setObjectName("holding");
    QObject::connect(holding, &QTimer::timeout, &lamp, [] { QThread::msleep(160); });
    QTimer::singleShot(100, &lamp, [&] {
        poll->start(interval);
        holding->start(730);
        device->start();
    });
    QTimer::singleShot(seconds * 1000, &app, &QApplication::quit);
    const int code = app.exec();
    stop = true;
    device->wait();
    for (const long long t : ticks)
        std::printf("TICK %lld\n", t);
    for (std::size_t i = 0; i < noticed.size(); ++i)
        std::printf("CHANGE %lld\nNOTICED %lld\n", changes[i], noticed[i]);
    return code;
}
