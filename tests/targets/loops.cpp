// Blocks its loop for the given milliseconds, one handler a number, and prints by its own clock how
// long each really took: "blockA 60123456". With "dialog" a handler opens a nested loop instead.
#include <QApplication>
#include <QDialog>
#include <QElapsedTimer>
#include <QThread>
#include <QTimer>

#include <cstdio>

class Blocker : public QObject
{
    Q_OBJECT
public:
    int ms = 0;
    void block() // found by its own name
    {
        QElapsedTimer t;
        t.start();
        while (t.elapsed() < ms) {
        }
        std::printf("block %lld\n", static_cast<long long>(t.nsecsElapsed()));
        std::fflush(stdout);
    }
Q_SIGNALS:
    void go();
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Blocker b;
    QObject::connect(&b, &Blocker::go, &b, &Blocker::block);
    QStringList todo;
    for (int i = 1; i < argc; ++i)
        todo << QString::fromLocal8Bit(argv[i]);
    QTimer next;
    QObject::connect(&next, &QTimer::timeout, &b, [&] {
        if (todo.isEmpty()) {
            app.quit();
            return;
        }
        const QString what = todo.takeFirst();
        if (what == "dialog") {
            QDialog d;
            QTimer::singleShot(200, &d, &QDialog::accept);
            d.exec();
        } else if (what == "thread") {
            QThread t;
            QObject worker;
            worker.moveToThread(&t);
            t.start();
            QMetaObject::invokeMethod(
                &worker, [] { QThread::msleep(5); }, Qt::BlockingQueuedConnection);
            t.quit();
            t.wait();
        } else if (what == "process") {
            for (int i = 0; i < 3; ++i) {
                b.ms = 60;
                b.block();
                QCoreApplication::processEvents();
            }
        } else {
            b.ms = what.toInt();
            Q_EMIT b.go();
        }
    });
    next.start(20);
    return QApplication::exec();
}

#include "loops.moc"
