// One way for a handler to spend 300 ms, named by the argument: blocking, in which no loop runs, or in a
// loop of some kind, which serves the window meanwhile. Prints how long, by its own clock, no event of the
// window could be handled: "BLOCKED ms".
#include <QAbstractEventDispatcher>
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QLocalServer>
#include <QLocalSocket>
#include <QMutex>
#include <QProcess>
#include <QSemaphore>
#include <QTcpServer>
#include <QTcpSocket>
#include <QThread>
#include <QTimer>
#include <QWidget>

#include <cstdio>
#include <dlfcn.h>
#include <functional>
#include <mutex>
#include <poll.h>

namespace
{

constexpr int spell = 300; // ms
using namespace std::chrono_literals;

void spin(int ms)
{
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < ms) {
    }
}

// GLib's own functions, without its headers.
template <class F> F glib(const char *name)
{
    static void *library = dlopen("libglib-2.0.so.0", RTLD_NOW);
    return reinterpret_cast<F>(dlsym(library, name));
}

using Context = void;

// Another context's wait, with nothing in it: it ends by a timeout of its own.
void otherContext()
{
    Context *own = glib<Context *(*)()>("g_main_context_new")();
    auto *source = glib<void *(*)(unsigned)>("g_timeout_source_new")(spell);
    glib<void (*)(void *, int (*)(void *), void *, void *)>("g_source_set_callback")(
        source, [](void *) { return 0; }, nullptr, nullptr);
    glib<unsigned (*)(void *, Context *)>("g_source_attach")(source, own);
    glib<int (*)(Context *, int)>("g_main_context_iteration")(own, 1);
}

void foreignLoop()
{
    auto *loop = glib<void *(*)(Context *, int)>("g_main_loop_new")(nullptr, 0);
    static void *running;
    running = loop;
    QTimer::singleShot(spell, [] { glib<void (*)(void *)>("g_main_loop_quit")(running); });
    glib<void (*)(void *)>("g_main_loop_run")(loop);
}

// The default context driven by hand, as toolkits that embed it do.
void pollByHand()
{
    QElapsedTimer t;
    t.start();
    Context *c = glib<Context *(*)()>("g_main_context_default")();
    while (t.elapsed() < spell) {
        int priority = 0, timeout = 0;
        pollfd fds[64];
        glib<int (*)(Context *, int *)>("g_main_context_prepare")(c, &priority);
        const int n = glib<int (*)(Context *, int, int *, pollfd *, int)>("g_main_context_query")(
            c, priority, &timeout, fds, 64);
        poll(fds, nfds_t(n), timeout < 0 ? 20 : qMin(timeout, 20));
        if (glib<int (*)(Context *, int, pollfd *, int)>("g_main_context_check")(c, priority, fds, n))
            glib<void (*)(Context *)>("g_main_context_dispatch")(c);
    }
}

void passes(const std::function<void()> &pass)
{
    QElapsedTimer t;
    t.start();
    while (t.elapsed() < spell) {
        spin(70);
        pass();
    }
}

void waitForSocket()
{
    QTcpServer server;
    server.listen(QHostAddress::LocalHost);
    QTcpSocket socket;
    socket.connectToHost(server.serverAddress(), server.serverPort());
    socket.waitForConnected(spell);
    socket.waitForReadyRead(spell);
}

void waitForLocalSocket()
{
    QLocalServer server;
    server.listen(QStringLiteral("pipit-waits-%1").arg(QCoreApplication::applicationPid()));
    QLocalSocket socket;
    socket.connectToServer(server.fullServerName());
    socket.waitForReadyRead(spell);
}

// What somebody else holds so long.
template <class Mutex> void waitForLock()
{
    Mutex mutex;
    QSemaphore held;
    QThread *holder = QThread::create([&] {
        mutex.lock();
        held.release();
        QThread::msleep(spell);
        mutex.unlock();
    });
    holder->start();
    held.acquire();
    mutex.lock();
    mutex.unlock();
    holder->wait();
    delete holder;
}

// Two threads, each with a lock that the other wants: it does not end.
void deadlock()
{
    static std::mutex cabins, cargo;
    static QSemaphore bothHave;
    QThread *other = QThread::create([] {
        const std::lock_guard first(cargo);
        bothHave.release();
        QThread::msleep(50);
        const std::lock_guard second(cabins);
    });
    other->setObjectName("loader");
    const std::lock_guard first(cabins);
    other->start();
    bothHave.acquire();
    const std::lock_guard second(cargo);
}

void waitForThread()
{
    QThread *worker = QThread::create([] { QThread::msleep(spell); });
    worker->start();
    worker->wait();
    delete worker;
}

void work(const QByteArray &how)
{
    if (how == "spin")
        spin(spell);
    else if (how == "sleep")
        QThread::msleep(spell);
    else if (how == "process")
        QProcess::execute("/bin/sleep", {QString::number(spell / 1000.0)});
    else if (how == "socket")
        waitForSocket();
    else if (how == "local")
        waitForLocalSocket();
    else if (how == "semaphore")
        QSemaphore().tryAcquire(1, spell);
    else if (how == "mutex")
        waitForLock<std::mutex>();
    else if (how == "qmutex")
        waitForLock<QMutex>();
    else if (how == "recursive")
        waitForLock<QRecursiveMutex>();
    else if (how == "deadlock")
        deadlock();
    else if (how == "thread")
        waitForThread();
    else if (how == "poll")
        poll(nullptr, 0, spell);
    else if (how == "context")
        otherContext();
    else if (how == "foreign")
        foreignLoop();
    else if (how == "hand")
        pollByHand();
    else if (how == "loop") {
        QEventLoop loop;
        QTimer::singleShot(spell, &loop, &QEventLoop::quit);
        loop.exec();
    } else if (how == "app-pass")
        passes([] { QCoreApplication::processEvents(); });
    else if (how == "loop-pass")
        passes([] { QEventLoop().processEvents(); });
    else if (how == "dispatcher-pass")
        passes([] { QAbstractEventDispatcher::instance()->processEvents(QEventLoop::AllEvents); });
    else if (how == "waiting-pass") {
        QElapsedTimer t;
        t.start();
        while (t.elapsed() < spell)
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    }
}

} // namespace

int main(int argc, char **argv)
{
    const QByteArray how = argc > 1 ? argv[1] : "spin";
    QApplication app(argc, argv);
    QWidget window;
    window.show();
    // The longest time between two ticks is the longest time that the window was not served.
    QElapsedTimer sinceTick;
    qint64 worst = 0;
    QTimer tick;
    tick.setTimerType(Qt::PreciseTimer);
    QObject::connect(&tick, &QTimer::timeout, &window, [&] {
        worst = std::max(worst, sinceTick.nsecsElapsed());
        sinceTick.restart();
    });
    QTimer::singleShot(100, &window, [&] {
        sinceTick.start();
        tick.start(1ms);
    });
    QTimer::singleShot(150, &window, [how] { work(how); });
    QTimer::singleShot(150 + spell + 150, &app, &QApplication::quit);
    const int code = QApplication::exec();
    std::printf("BLOCKED %.2f\n", double(worst) / 1e6);
    return code;
}
