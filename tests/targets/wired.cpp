// Every way to bind a handler. Each says who it is: "RAN name line", the line only for a lambda; at the end
// the program prints how often each ran. What they are called is held against what was recorded.
#include <QApplication>
#include <QFutureWatcher>
#include <QPushButton>
#include <QThread>
#include <QThreadPool>
#include <QTimer>
#include <QtConcurrent>

#include <cstdio>
#include <functional>

namespace
{

QMutex guard;
QMap<QByteArray, int> runs;

void ran(const char *name, int line = 0)
{
    QMutexLocker lock(&guard);
    ++runs[QByteArray(name) + ' ' + QByteArray::number(line)];
}

} // namespace

class Quay : public QObject
{
    Q_OBJECT
public slots:
    virtual void moor(int) { ran("Quay::moor"); }
};

class FarQuay : public Quay
{
    Q_OBJECT
public slots:
    void moor(int) override { ran("FarQuay::moor"); }
};

class Horn : public QObject
{
    Q_OBJECT
signals:
    void blown(int times);
    void echoed(int times);
};

class Crew : public QObject
{
    Q_OBJECT
public slots:
    void member(int) { ran("Crew::member"); }
    void byName(int) { ran("Crew::byName"); }
    void on_whistle_blown(int) { ran("Crew::on_whistle_blown"); }
    void byNameQueued(int) { ran("Crew::byNameQueued"); }
    void memberQueued(int) { ran("Crew::memberQueued"); }
    void byMethod(int) { ran("Crew::byMethod"); }
    void echo(int) { ran("Crew::echo"); }
    void aboard(int) { ran("Crew::aboard"); }
    void aboardByName(int) { ran("Crew::aboardByName"); }
    void aboardWaiting(int) { ran("Crew::aboardWaiting"); }
    void aboardByNameWaiting(int) { ran("Crew::aboardByNameWaiting"); }
    void ashore(int) { ran("Crew::ashore"); }
    void ashoreByName(int) { ran("Crew::ashoreByName"); }
    void invoked(int) { ran("Crew::invoked"); }
    void invokedLater(int) { ran("Crew::invokedLater"); }
    void invokedThere(int) { ran("Crew::invokedThere"); }
    void invokedMember() { ran("Crew::invokedMember"); }
    void swallowed(int) { ran("Crew::swallowed"); }
    void oneShot() { ran("Crew::oneShot"); }
    void oneShotByName() { ran("Crew::oneShotByName"); }
    void done() { ran("Crew::done"); }

public:
    void plain(int) { ran("Crew::plain"); }
};

namespace
{

void freeHandler(int)
{
    ran("freeHandler");
}

struct Bell {
    void operator()(int) const { ran("Bell"); }
};

// Takes a queued call before it is made.
struct Swallow : QObject {
    bool eventFilter(QObject *, QEvent *e) override { return e->type() == QEvent::MetaCall; }
};

class Errand : public QRunnable
{
public:
    void run() override { ran("Errand::run"); }
};

int weigh(int n)
{
    QThread::msleep(5);
    return n;
}

} // namespace

class Window : public QWidget
{
public:
    Window(Horn &horn, Crew &crew, Crew &aboard) : horn_(horn), crew_(crew), aboard_(aboard)
    {
        button_.setObjectName("hornButton");
        connect(&button_, &QPushButton::clicked, this, [this] { blow(__LINE__); });
        connect(&button_, &QPushButton::clicked, this, [this] { paint(__LINE__); });
        bind();
        invoke();
    }

private:
    void blow(int line)
    {
        ran("lambda in Window::Window", line);
        emit horn_.blown(1);
    }
    void press(int line)
    {
        ran("lambda in Window::invoke", line);
        button_.click();
    }
    void paint(int line)
    {
        ran("lambda in Window::Window", line);
        update();
    }
    __attribute__((noinline)) void bind()
    {
        connect(&horn_, &Horn::blown, &crew_, &Crew::member);
        connect(&horn_, &Horn::blown, &crew_, &Crew::plain);
        connect(&horn_, &Horn::blown, [](int) { ran("lambda in Window::bind", __LINE__); });
        connect(
            &horn_, &Horn::blown, &crew_, [](int) { ran("lambda in Window::bind", __LINE__); },
            Qt::QueuedConnection);
        connect(&horn_, &Horn::blown, &crew_, &freeHandler);
        connect(&horn_, &Horn::blown, Bell());
        connect(&horn_, &Horn::blown, &crew_,
                std::function<void(int)>([](int) { ran("lambda in Window::bind", __LINE__); }));
        connect(&horn_, &Horn::blown, &crew_,
                std::bind([](int) { ran("lambda in Window::bind", __LINE__); }, std::placeholders::_1));
        connect(&horn_, SIGNAL(blown(int)), &crew_, SLOT(byName(int)));
        connect(&horn_, SIGNAL(blown(int)), &crew_, SLOT(byNameQueued(int)), Qt::QueuedConnection);
        connect(&horn_, &Horn::blown, &crew_, &Crew::memberQueued, Qt::QueuedConnection);
        connect(&horn_, &Horn::blown, static_cast<Quay *>(&quay_), &Quay::moor);
        connect(&horn_, &Horn::blown, &horn_, &Horn::echoed);
        connect(&horn_, &Horn::echoed, &crew_, &Crew::echo);
        connect(&horn_, &Horn::blown, &aboard_, &Crew::aboard);
        connect(&horn_, SIGNAL(blown(int)), &aboard_, SLOT(aboardByName(int)));
        connect(&horn_, &Horn::blown, &aboard_, &Crew::aboardWaiting, Qt::BlockingQueuedConnection);
        connect(&horn_, SIGNAL(blown(int)), &aboard_, SLOT(aboardByNameWaiting(int)),
                Qt::BlockingQueuedConnection);
        connect(&horn_, SIGNAL(blown(int)), &filtered_, SLOT(swallowed(int)), Qt::QueuedConnection);
        filtered_.installEventFilter(&swallow_);
        const QMetaObject *crew = crew_.metaObject(), *horn = horn_.metaObject();
        connect(&horn_, horn->method(horn->indexOfSignal("blown(int)")), &crew_,
                crew->method(crew->indexOfSlot("byMethod(int)")));
        connect(&watcher_, &QFutureWatcher<int>::finished, &crew_, &Crew::done);
    }

    __attribute__((noinline)) void invoke()
    {
        QTimer::singleShot(10, this, [this] { press(__LINE__); });
        QTimer::singleShot(20, &crew_, &Crew::oneShot);
        QTimer::singleShot(20, &crew_, SLOT(oneShotByName()));
        QTimer::singleShot(0, &crew_, [] { ran("lambda in Window::invoke", __LINE__); });
        QMetaObject::invokeMethod(&crew_, [] { ran("lambda in Window::invoke", __LINE__); });
        QMetaObject::invokeMethod(
            &crew_, [] { ran("lambda in Window::invoke", __LINE__); }, Qt::QueuedConnection);
        QMetaObject::invokeMethod(&aboard_, [] { ran("lambda in Window::invoke", __LINE__); });
        QMetaObject::invokeMethod(&crew_, "invoked", Q_ARG(int, 1));
        QMetaObject::invokeMethod(&crew_, "invokedLater", Qt::QueuedConnection, Q_ARG(int, 1));
        QMetaObject::invokeMethod(&aboard_, "invokedThere", Q_ARG(int, 1));
        QMetaObject::invokeMethod(&crew_, &Crew::invokedMember, Qt::QueuedConnection);
        for (const auto member : {&Crew::oneShot, &Crew::done})
            QMetaObject::invokeMethod(&crew_, member, Qt::QueuedConnection);
        watcher_.setFuture(QtConcurrent::run(weigh, 3));
        (void)QtConcurrent::run([] { ran("lambda in Window::invoke"); });
        QThreadPool::globalInstance()->start([] { ran("lambda in Window::invoke", __LINE__); });
        QThreadPool::globalInstance()->start(new Errand);
    }

    Horn &horn_;
    Crew &crew_, &aboard_;
    Crew filtered_;
    FarQuay quay_;
    Swallow swallow_;
    QPushButton button_{this};
    QFutureWatcher<int> watcher_;
};

int main(int argc, char **argv)
{
    QApplication app(argc, argv);
    Horn horn, farHorn;
    Crew crew, aboard;
    horn.setObjectName("horn");
    farHorn.setObjectName("farHorn");
    QThread thread;
    aboard.moveToThread(&thread);
    farHorn.moveToThread(&thread);
    thread.start();
    Horn whistle;
    whistle.setObjectName("whistle");
    whistle.setParent(&crew);
    QMetaObject::connectSlotsByName(&crew);
    QTimer::singleShot(60, &whistle, [&] {
        ran("lambda in main", __LINE__ - 1);
        emit whistle.blown(1);
    });
    QObject::connect(&farHorn, &Horn::blown, &crew, &Crew::ashore);
    QObject::connect(&farHorn, SIGNAL(blown(int)), &crew, SLOT(ashoreByName(int)));
    {
        Window window(horn, crew, aboard);
        window.show();
        const auto blowFar = [&farHorn](int line) {
            ran("lambda in main", line);
            emit farHorn.blown(2);
        };
        QTimer::singleShot(40, &farHorn, [&] { blowFar(__LINE__); });
        QTimer::singleShot(250, &app, &QApplication::quit);
        QApplication::exec();
        QThreadPool::globalInstance()->waitForDone();
    }
    whistle.setParent(nullptr);
    thread.quit();
    thread.wait();
    for (auto it = runs.constBegin(); it != runs.constEnd(); ++it)
        std::printf("RAN %s %d\n", it.key().constData(), *it);
}

#include "wired.moc"
