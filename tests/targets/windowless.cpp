// A program without windows: QtCore only. Prints which of the toolkit's libraries are in its memory.
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QThread>
#include <QTimer>

#include <cstdio>

int main(int argc, char **argv)
{
    QCoreApplication app(argc, argv);
    QThread thread;
    QObject worker;
    worker.moveToThread(&thread);
    thread.start();
    QTimer ticks;
    int count = 0;
    QObject::connect(&ticks, &QTimer::timeout, &app, [&] {
        QMetaObject::invokeMethod(&worker, [] { QThread::msleep(1); });
        if (++count == 3)
            QThread::msleep(120); // a stall
        if (count == 5) {
            thread.quit();
            thread.wait();
            QFile maps("/proc/self/maps");
            (void)maps.open(QIODevice::ReadOnly);
            const QByteArray all = maps.readAll();
            for (const char *name :
                 {"libQt6Core.so", "libQt6Gui.so", "libQt6Widgets.so", "libpipit-hands.so"})
                std::printf("%s %s\n", name, all.contains(name) ? "there" : "none");
            app.quit();
        }
    });
    ticks.start(10);
    return app.exec();
}
