// Does what its seed says, some of it slowly, and tells the truth about it by its own clock:
//   STALL unfinished|finished START_NS LENGTH_NS DISTURBED_NS LINE NAME
// for everything that kept the window's loop from looking for work, LINE 0 for what is no lambda,
// DISTURBED what the machine may have added to it; and
//   CALL COUNT LINE NAME
// for how often each handler ran; and
//   TURN START_NS LENGTH_NS
// for every turn of the loop that took long, as many small things do on a busy machine. Nothing that it does in a worker or in a loop of its own is a stall.
#include <QAbstractEventDispatcher>
#include <QApplication>
#include <QEventLoop>
#include <QPaintEvent>
#include <QProcess>
#include <QRandomGenerator>
#include <QSemaphore>
#include <QTemporaryFile>
#include <QThread>
#include <QTimer>
#include <QWidget>

#include <csignal>
#include <cstdio>
#include <ctime>
#include <functional>
#include <map>
#include <unistd.h>

namespace
{

long long now()
{
    timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return t.tv_sec * 1'000'000'000LL + t.tv_nsec;
}

void spin(double ms)
{
    const long long until = now() + (long long)(ms * 1e6);
    while (now() < until) {
    }
}

QMutex guard;
std::map<std::pair<std::string, int>, int> calls;

void ran(const char *name, int line)
{
    QMutexLocker lock(&guard);
    ++calls[{name, line}];
}

// How long this thread was ready and did not run, and how long the machine gave its processors to others:
// what the program's own clock cannot tell from its work. In ns.
long long disturbed()
{
    long long waited = 0, user, nice, system, idle, io, irq, soft, steal = 0;
    if (std::FILE *f = std::fopen("/proc/thread-self/schedstat", "r")) {
        if (std::fscanf(f, "%*d %lld", &waited) != 1)
            waited = 0;
        std::fclose(f);
    }
    if (std::FILE *f = std::fopen("/proc/stat", "r")) {
        if (std::fscanf(f, "cpu %lld %lld %lld %lld %lld %lld %lld %lld", &user, &nice, &system, &idle, &io,
                        &irq, &soft, &steal) != 8)
            steal = 0;
        std::fclose(f);
    }
    return waited + steal * (1'000'000'000LL / sysconf(_SC_CLK_TCK));
}

// What ended, but the loop has not come round yet: it lasts until it does, by the dispatcher's own signals.
struct Waiting {
    long long start, disturbedBefore;
    const char *name;
    int line;
};
std::vector<Waiting> waiting;
long long disturbedAtService = 0; // when the loop came round last
long long awakeAt = 0;            // 0 while it waits

void served(bool waits = false)
{
    const long long at = now(), by = disturbed();
    constexpr long long worthTelling = 30'000'000;
    if (awakeAt > 0 && at - awakeAt > worthTelling) {
        std::printf("TURN %lld %lld\n", awakeAt, at - awakeAt);
        std::fflush(stdout);
    }
    awakeAt = waits ? 0 : at;
    for (const Waiting &w : waiting)
        std::printf("STALL finished %lld %lld %lld %d %s\n", w.start, at - w.start, by - w.disturbedBefore,
                    w.line, w.name);
    if (!waiting.empty())
        std::fflush(stdout);
    waiting.clear();
    disturbedAtService = by;
}

void stalled(long long start, const char *name, int line)
{
    waiting.push_back({start, disturbedAtService, name, line});
}

// Around what blocks.
struct Blocks {
    Blocks(const char *n, int l) : name(n), line(l), start(now()) { ran(name, line); }
    ~Blocks() { stalled(start, name, line); }
    const char *name;
    int line;
    long long start;
};

double spell = 0; // ms, of the step that is being done

void freeStep()
{
    Blocks b("freeStep", 0);
    QSemaphore().tryAcquire(1, int(spell));
}

} // namespace

class Step : public QObject
{
    Q_OBJECT
signals:
    void go();
    void tiny();
    void many();
};

class Far : public QObject
{
    Q_OBJECT
public:
    double length = 0;
signals:
    void report(int n);
public slots:
    void work()
    {
        ran("Far::work", 0);
        spin(length);
        emit report(1);
    }
    void call()
    {
        ran("Far::call", 0);
        emit report(2);
    }
};

class Gauge : public QWidget
{
public:
    bool slow = false;

protected:
    void paintEvent(QPaintEvent *) override
    {
        if (!slow)
            return;
        slow = false;
        const long long start = now();
        spin(spell);
        stalled(start, "gauge's own paint handling", 0);
    }
};

class Desk : public QObject
{
    Q_OBJECT
public:
    bool blockNext = false;
public slots:
    void sleeps()
    {
        Blocks b("Desk::sleeps", 0);
        QThread::usleep(ulong(spell * 1000));
    }
    void runsAProcess()
    {
        Blocks b("Desk::runsAProcess", 0);
        QProcess::execute("/bin/sleep", {QString::number(spell / 1000)});
    }
    void heard(int)
    {
        if (!blockNext)
            return ran("Desk::heard", 0);
        blockNext = false;
        Blocks b("Desk::heard", 0);
        spin(spell);
    }
    virtual void overridden() {}
};

class FarDesk : public Desk
{
    Q_OBJECT
public slots:
    void overridden() override
    {
        Blocks b("FarDesk::overridden", 0);
        spin(spell);
    }
};

namespace
{

void writeFiles()
{
    QTemporaryFile file;
    if (!file.open())
        return;
    const long long until = now() + (long long)(spell * 1e6);
    while (now() < until) {
        file.write(QByteArray(4096, 'x'));
        file.flush();
        fdatasync(file.handle());
    }
}

struct Way {
    std::function<void()> begin;
};

} // namespace

int main(int argc, char **argv)
{
    const unsigned seed = argc > 1 ? unsigned(std::atoi(argv[1])) : 1;
    const QByteArray ending = argc > 2 ? argv[2] : "quit";
    QApplication app(argc, argv);
    QAbstractEventDispatcher *dispatcher = QAbstractEventDispatcher::instance();
    QObject::connect(dispatcher, &QAbstractEventDispatcher::aboutToBlock, [] { served(true); });
    QObject::connect(dispatcher, &QAbstractEventDispatcher::awake, [] { served(); });
    QRandomGenerator random(seed);
    Gauge gauge;
    gauge.setObjectName("gauge");
    gauge.resize(200, 100);
    gauge.show();
    FarDesk desk;
    desk.setObjectName("desk");
    QThread thread;
    thread.setObjectName("farThread");
    Far far;
    far.setObjectName("far");
    far.moveToThread(&thread);
    thread.start();
    Step lambda, member, name, free, function, virt, many, seven, queued;
    const char *const here = "lambda in main";
    // clang-format off
    QObject::connect(&lambda, &Step::go, &desk, [&] { Blocks b(here, __LINE__); spin(spell); });
    QObject::connect(&member, &Step::go, &desk, &Desk::sleeps);
    QObject::connect(&name, SIGNAL(go()), &desk, SLOT(runsAProcess()));
    QObject::connect(&free, &Step::go, &desk, &freeStep);
    QObject::connect(&function, &Step::go, &desk, std::function<void()>([&] { Blocks b(here, __LINE__); writeFiles(); }));
    QObject::connect(&virt, &Step::go, static_cast<Desk *>(&desk), &Desk::overridden);
    QObject::connect(&queued, &Step::go, &desk, [&] { Blocks b(here, __LINE__); spin(spell); }, Qt::QueuedConnection);
    QObject::connect(&far, SIGNAL(report(int)), &desk, SLOT(heard(int)));
    QObject::connect(&many, &Step::tiny, &desk, [&] { ran(here, __LINE__); spin(0.5); });
    const int manyLine = __LINE__ - 1;
    QObject::connect(&many, &Step::go, &desk, [&] {
        const long long start = now();
        const int n = int(spell / 0.5);
        for (int i = 0; i < n; ++i)
            emit many.tiny();
        stalled(start, here, manyLine);
    });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(spell / 7); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(spell / 7 + 0); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(spell / 7 + 0.0); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(0.0 + spell / 7); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(0 + spell / 7); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(1 * spell / 7); });
    QObject::connect(&seven, &Step::tiny, &desk, [&] { spin(1.0 * spell / 7); });
    // clang-format on
    const std::vector<std::function<void()>> ways{
        [&] { emit lambda.go(); },
        [&] { emit member.go(); },
        [&] { emit name.go(); },
        [&] { emit free.go(); },
        [&] { emit function.go(); },
        [&] { emit virt.go(); },
        [&] { emit queued.go(); },
        [&] { emit many.go(); },
        [&] {
            desk.blockNext = true;
            QMetaObject::invokeMethod(&far, "call", Qt::QueuedConnection);
        },
        [&] {
            gauge.slow = true;
            gauge.update();
        },
        [&] {
            far.length = spell;
            QMetaObject::invokeMethod(&far, &Far::work, Qt::QueuedConnection);
        },
        [&] {
            QEventLoop loop;
            QTimer::singleShot(int(spell), &loop, &QEventLoop::quit);
            loop.exec();
        },
        [&] {
            const long long until = now() + (long long)(spell * 1e6);
            while (now() < until) {
                spin(8);
                QCoreApplication::processEvents();
            }
        },
        [&] {
            const long long start = now();
            emit seven.tiny();
            stalled(start, "7 handlers together", 0);
        },
    };
    // So much that Pipit must be quick to see all of it: none of it takes long.
    QTimer noise;
    QObject::connect(&noise, &QTimer::timeout, &desk, [&] {
        for (int i = 0; i < 60; ++i)
            QMetaObject::invokeMethod(
                &desk, [] {}, Qt::QueuedConnection);
    });
    if (argc > 3)
        noise.start(1);
    int left = 5;
    QTimer next;
    next.setSingleShot(true);
    // And once more than it can hold, while it stands still.
    int flood = argc > 3 ? 150'000 : 0;
    QTimer floods;
    QObject::connect(&floods, &QTimer::timeout, &desk, [&] {
        constexpr int atOnce = 2000;
        for (int i = 0; i < atOnce; ++i)
            QMetaObject::invokeMethod(
                &desk, [] {}, Qt::QueuedConnection);
        flood -= atOnce;
        if (flood > 0)
            return;
        floods.stop();
        kill(getppid(), SIGCONT);
        next.start(60);
    });
    QObject::connect(&next, &QTimer::timeout, &desk, [&] {
        if (left == 3 && flood > 0) {
            kill(getppid(), SIGSTOP);
            floods.start(0);
            return;
        }
        if (left-- == 0) {
            QTimer::singleShot(30, &desk, [&] {
                const long long start = now();
                if (ending == "quit") {
                    QCoreApplication::quit();
                    return;
                }
                spell = 150;
                std::printf("STALL unfinished %lld 150000000 0 0 ending\n", start);
                std::fflush(stdout);
                spin(spell);
                if (ending == "crash")
                    std::raise(SIGSEGV);
                if (ending == "exit")
                    _exit(3);
                if (ending == "hang")
                    for (;;)
                        pause();
            });
            return;
        }
        // Long enough or short enough that it is not in doubt whether it is a stall.
        spell = random.bounded(2) ? 60 + random.bounded(240) : 5 + random.bounded(30);
        const double length = spell;
        ways[std::size_t(random.bounded(int(ways.size())))]();
        next.start(int(length) + 60 + random.bounded(40)); // what runs elsewhere has its time
    });
    next.start(60);
    const int code = QApplication::exec();
    served();
    thread.quit();
    thread.wait();
    for (const auto &[who, count] : calls)
        std::printf("CALL %d %d %s\n", count, who.second, who.first.c_str());
    return code;
}

#include "truth.moc"
