// A program whose objects live on the wrong thread, go too early, or outlive its end, each in a way that is
// known.
#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QSemaphore>
#include <QThread>
#include <QTimer>
#include <chrono>
#include <thread>

static void spin(int ms)
{
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < ms) {
    }
}

// Its slot is taken to run on the thread that it stands for.
class Reader : public QThread
{
    Q_OBJECT
public:
    void run() override { exec(); }
public Q_SLOTS:
    void readAll() { spin(60); }
};

class Receiver : public QObject
{
    Q_OBJECT
public Q_SLOTS:
    void take(int) {}
};

class Sender : public QObject
{
    Q_OBJECT
Q_SIGNALS:
    void found(int n);
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    QLabel label("lives");
    label.show();

    Reader reader;
    reader.setObjectName("reader");
    QTimer once;
    once.setSingleShot(true);
    QObject::connect(&once, &QTimer::timeout, &reader, &Reader::readAll);
    reader.start();
    once.start(100);

    // Three results for a receiver that is deleted before the loop comes to them; one that came before.
    auto *receiver = new Receiver;
    receiver->setObjectName("receiver");
    Sender sender;
    QObject::connect(&sender, &Sender::found, receiver, &Receiver::take, Qt::QueuedConnection);
    QTimer::singleShot(300, &label, [&] { emit sender.found(0); });
    QTimer::singleShot(400, &label, [&] {
        std::thread worker([&] {
            for (int i = 1; i <= 3; ++i)
                emit sender.found(i);
        });
        worker.join();
        delete receiver;
    });

    // A timer started on another thread than its own.
    auto *foreign = new QTimer(&label);
    QTimer::singleShot(500, &label, [&] {
        QThread *starter = QThread::create([foreign] { foreign->start(10); });
        starter->setObjectName("starter");
        QObject::connect(starter, &QThread::finished, starter, &QObject::deleteLater);
        starter->start();
    });

    // A thread that nobody waits for, and that tells nothing.
    QTimer::singleShot(600, &label, [] {
        std::thread([] { std::this_thread::sleep_for(std::chrono::seconds(60)); }).detach();
    });

    // One that only waits for something to do, as drivers keep: it is at no work.
    QTimer::singleShot(650, &label, [] {
        static QSemaphore orders;
        std::thread([] { orders.acquire(); }).detach();
    });

    QTimer::singleShot(900, &app, &QApplication::quit);
    const int code = app.exec();
    reader.quit();
    reader.wait();
    return code;
}
#include "lives.moc"
