// What is made of looks at stacks, of timers' ticks and of several runs: on values made by hand, whose
// answers are known.
#include "core/pace/python_slots.h"
#include "core/pace/strains.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <sys/syscall.h>

using namespace pipit;
using namespace pipit::tests;
using link::Fact;
using link::Kind;

namespace
{

constexpr std::int64_t ms = 1'000'000;

StackSample lookAt(std::int64_t time, int call, const QStringList &functions, std::uint32_t tid = 1)
{
    StackSample s;
    s.time = time;
    s.pid = 1;
    s.tid = tid;
    s.call = call;
    s.running = call < 0;
    for (const QString &f : functions) {
        StackFrame frame;
        frame.function = f.section('@', 0, 0);
        frame.module = f.section('@', 1);
        frame.own = f.startsWith("Desk");
        frame.file = frame.own ? "/tmp/desk.cpp" : "";
        frame.line = frame.own ? 7 : 0;
        s.frames.push_back(frame);
    }
    return s;
}

Spread spread(std::initializer_list<std::int64_t> values)
{
    Spread s;
    for (const std::int64_t v : values)
        s.add(v);
    return s;
}

std::vector<ComparedRun> runs(std::initializer_list<std::int64_t> turns)
{
    std::vector<ComparedRun> all;
    for (const std::int64_t t : turns) {
        ComparedRun r;
        r.info.play = "tide.play";
        r.info.playFingerprint = "1";
        r.figures.longestTurn = t * ms;
        all.push_back(r);
    }
    return all;
}

} // namespace

class PaceFiguresTest : public QObject
{
    Q_OBJECT
private slots:
    void aLookStandsForTheTimeAroundIt();
    void whatAThreadWaitsForIsToldByItsStack_data();
    void whatAThreadWaitsForIsToldByItsStack();
    void theHolderOfALockIsNamedOrSaidToBeUnknown();
    void aCircleOfLocksIsADeadlock();
    void whatWasSetAndNeverPaintedIsTold();
    void aPythonSlotIsNamedByMostLooks();
    void codeBetweenLoopsIsAStall_data();
    void codeBetweenLoopsIsAStall();
    void manyShortCallsAreToldBesideALongOne_data();
    void manyShortCallsAreToldBesideALongOne();
    void chanceIsExact();
    void comparisonsSayInWordsWhatChanged();
    void timersArePromisedAndKept();
    void aPollsDelayIsPredictedAndMeasured();
};

void PaceFiguresTest::aLookStandsForTheTimeAroundIt()
{
    const std::vector<StackSample> looks{lookAt(20, -1, {}), lookAt(40, 230, {"usleep"}),
                                         lookAt(140, -1, {})};
    const std::vector<double> shares = sharesOf(looks, 0, 200);
    QCOMPARE(shares.size(), 3u);
    QCOMPARE(shares[0], 0.15); // to 30
    QCOMPARE(shares[1], 0.30); // to 90
    QCOMPARE(shares[2], 0.55);
    const auto kinds = blockingOf(looks, shares);
    QCOMPARE(kinds.front().blocking, Blocking::Computing);
    QCOMPARE(kinds.front().share, 0.7);
    QCOMPARE(blockingSentence(kinds), QString("computing, at times sleeping"));
    QVERIFY(sharesOf({}, 0, 1).empty() && blockingSentence({}).isEmpty());
}

void PaceFiguresTest::whatAThreadWaitsForIsToldByItsStack_data()
{
    QTest::addColumn<int>("call");
    QTest::addColumn<QStringList>("functions");
    QTest::addColumn<QString>("words");
    const auto row = [](const char *name, int call, const QStringList &functions, const char *words) {
        QTest::newRow(name) << call << functions << QString(words);
    };
    row("runs", -1, {"std::sort"}, "computing");
    row("sleeps", SYS_clock_nanosleep, {"clock_nanosleep"}, "sleeping");
    row("mutex", SYS_futex, {"__lll_lock_wait", "pthread_mutex_lock", "Desk::load"}, "waiting for a lock");
    row("a lock further out is not this wait", SYS_futex, {"syscall", "Desk::load", "QMutex::lock"},
        "waiting for the system");
    row("thread", SYS_futex, {"QWaitCondition::wait", "QThread::wait", "Desk::load"},
        "waiting for another thread");
    row("looked at twice", SYS_restart_syscall, {"usleep", "Desk::load"}, "sleeping");
    row("child", SYS_wait4, {"waitpid"}, "waiting for another process");
    row("process", SYS_poll, {"poll", "QProcess::waitForFinished", "Desk::load"},
        "waiting for another process");
    row("socket", SYS_poll, {"poll", "QAbstractSocket::waitForReadyRead", "Desk::load"},
        "waiting for the network");
    row("read", SYS_read, {"read", "QFile::readAll"}, "reading or writing a file");
    row("a sync in the system", -1, {"fsync", "QSaveFile::commit", "Desk::save"},
        "reading or writing a file");
    row("display", SYS_futex, {"pthread_cond_wait", "xcb_wait_for_reply@/usr/lib/libxcb.so.1", "Desk::load"},
        "waiting for the display server");
    row("display, by itself", SYS_poll, {"poll", "xcb_wait_for_reply64@/usr/lib/libxcb.so.1"},
        "waiting for the display server");
    row("bus", SYS_futex,
        {"pthread_cond_wait", "QWaitCondition::wait", "QDBusConnection::call@/usr/lib/libQt6DBus.so.6"},
        "waiting for an answer over D-Bus");
    row("a thread in a call over the bus", SYS_futex,
        {"pthread_cond_wait", "QThread::wait", "Desk::load",
         "QDBusConnection::call@/usr/lib/libQt6DBus.so.6"},
        "waiting for another thread");
    row("unknown", SYS_ioctl, {"ioctl"}, "waiting for the system");
}

void PaceFiguresTest::whatAThreadWaitsForIsToldByItsStack()
{
    QFETCH(int, call);
    QFETCH(QStringList, functions);
    QFETCH(QString, words);
    QCOMPARE(blockingWords(blockingOf(lookAt(1, call, functions))), words);
}

void PaceFiguresTest::theHolderOfALockIsNamedOrSaidToBeUnknown()
{
    const QList<ThreadInfo> threads{
        {1, 1, true, "MainThread"}, {1, 2, false, "refill"}, {1, 3, false, "other"}};
    StackSample waits = lookAt(100, SYS_futex, {"pthread_mutex_lock", "Desk::load"});
    waits.lock = 0x1000;
    waits.mutexOwner = 2;
    waits.recursiveOwner = 3; // what lies there by chance
    const StackSample holder = lookAt(101, SYS_clock_nanosleep, {"usleep", "Desk::refill"}, 2);
    QCOMPARE(
        lockWaitOf(waits, {holder}, threads).text(false),
        QString("it waited for a lock that refill held, which was sleeping in Desk::refill, desk.cpp:7"));
    QCOMPARE(holderOf(waits), 2u);
    // A QMutex keeps nobody's number, whatever lies behind it.
    StackSample plain = lookAt(100, SYS_futex, {"QBasicMutex::lockInternal", "QMutex::lock", "Desk::load"});
    plain.lock = 0x2000;
    plain.mutexOwner = 2;
    QCOMPARE(holderOf(plain), 0u);
    StackSample other = lookAt(100, SYS_futex, {"QBasicMutex::lockInternal", "Desk::count"}, 3);
    other.lock = 0x2000;
    QCOMPARE(lockWaitOf(plain, {holder, other}, threads).text(true),
             QString("it waits for a lock; its holder is unknown, and other waited for it too"));
    // A QRecursiveMutex keeps its own.
    StackSample recursive =
        lookAt(100, SYS_futex, {"QBasicMutex::lockInternal", "QRecursiveMutex::lock", "Desk::load"});
    recursive.lock = 0x3000;
    recursive.recursiveOwner = 3;
    QCOMPARE(lockWaitOf(recursive, {}, threads).holder, QString("other"));
    // One that computes waits for nothing.
    QCOMPARE(holderOf(lookAt(1, -1, {"pthread_mutex_lock"})), 0u);
}

void PaceFiguresTest::aCircleOfLocksIsADeadlock()
{
    const QList<ThreadInfo> threads{{1, 1, true, "MainThread"}, {1, 2, false, "refill"}};
    StackSample own = lookAt(100, SYS_futex, {"pthread_mutex_lock", "Desk::load"});
    own.lock = 0x1000;
    own.mutexOwner = 2;
    StackSample theirs = lookAt(101, SYS_futex, {"pthread_mutex_lock", "Desk::refill"}, 2);
    theirs.lock = 0x2000;
    theirs.mutexOwner = 1;
    const LockWait w = lockWaitOf(own, {theirs}, threads);
    QVERIFY(w.circle);
    QCOMPARE(w.text(true), QString("it waits for a lock that refill holds, and refill waits for a lock that "
                                   "MainThread holds: a deadlock"));
    QVERIFY(!w.text(false).contains("deadlock")); // one that ended was none
    // One of them gives up after a while.
    theirs.frames.front().function = "pthread_mutex_timedlock";
    QVERIFY(!lockWaitOf(own, {theirs}, threads).circle);
    own.mutexOwner = 1;
    QCOMPARE(lockWaitOf(own, {}, threads).text(true),
             QString("it waits for a lock that it holds itself: a deadlock"));
}

void PaceFiguresTest::whatWasSetAndNeverPaintedIsTold()
{
    TraceModel t;
    Records r(t);
    r.object(1, "QEventLoop\n")
        .object(0x10, "QLabel\nstatusLabel")
        .object(0x20, "QLabel\nhiddenLabel")
        .object(0x30, "QPushButton\nloadButton");
    r.put(Kind::LoopBegin, 0, 1).at(1).put(Kind::WaitBegin, link::NoTimeout).at(100).put(Kind::WaitEnd);
    r.put(Kind::DispatchBegin, 3, 0x30, 0x99);
    r.fact(Fact::Touched, 0x10, "text\tworking…").fact(Fact::Touched, 0x20, "text\tworking…");
    r.fact(Fact::Touched, 0x30, "enabled\tfalse");
    r.at(400).fact(Fact::Touched, 0x10, "text\t1 of 2").at(700).fact(Fact::Touched, 0x10, "text\tdone");
    r.fact(Fact::Touched, 0x20, "text\tdone").fact(Fact::Touched, 0x30, "enabled\ttrue");
    r.put(Kind::DispatchEnd, 1);
    const std::int64_t end = r.time;
    r.at(702);
    for (const std::uint64_t painted : {0x10, 0x30})
        r.put(Kind::DispatchBegin, 12, painted, 0x90).put(Kind::DispatchEnd, 1);
    r.put(Kind::WaitBegin, link::NoTimeout);
    r.at(2000).put(Kind::WaitEnd).put(Kind::WaitBegin, link::NoTimeout);
    t.caughtUp(r.time);
    const std::int64_t start = 1'000'000'000 + 100 * ms;
    const auto unseen = unseenIn(t, 0, {start, end});
    QStringList said;
    for (const Unseen &u : unseen)
        said << u.sentence();
    // Of what was never painted nothing is said: it may be hidden.
    QCOMPARE(said,
             (QStringList{"statusLabel's text was set to \"working…\" and 1 more times and never seen: "
                          "it was painted 602 ms "
                          "later and said \"done\" by then.",
                          "loadButton was disabled and then enabled again before it was painted, 602 ms "
                          "later. It was never seen."}));
    QCOMPARE(unseen.front().values, (QStringList{"working…", "1 of 2"}));
}

void PaceFiguresTest::aPythonSlotIsNamedByMostLooks()
{
    const auto look = [](const QString &function, const QString &file) {
        StackSample s = lookAt(1, -1, {"Desk::x"});
        s.frames.front().function = function;
        s.frames.front().file = file;
        return s;
    };
    const StackSample right = look("Desk.next", "/tmp/desk.py"), torn = look("Desk.load", "/tmp/desk.py"),
                      native = look("load", "/tmp/load.c");
    QCOMPARE(slotByStacks({right, torn, right, native, right}), QString("Desk.next"));
    QCOMPARE(slotByStacks({right, torn}), QString());
    QCOMPARE(slotByStacks({native, native, right}), QString());
    QCOMPARE(slotByStacks({}), QString());
}

void PaceFiguresTest::codeBetweenLoopsIsAStall_data()
{
    QTest::addColumn<bool>("forced"); // a pass that was forced in start-up; else the loop of a dialog
    QTest::newRow("behind a dialog") << false;
    QTest::newRow("behind processEvents") << true;
}

void PaceFiguresTest::codeBetweenLoopsIsAStall()
{
    QFETCH(bool, forced);
    TraceModel trace;
    Records main(trace);
    main.object(0x1, "QEventLoop\n").put(Kind::ThreadRole, 1);
    main.time += 200 * ms; // start-up
    if (forced)
        main.put(Kind::ProcessEventsBegin).put(Kind::FullPoll).put(Kind::ProcessEventsEnd);
    else
        main.put(Kind::LoopBegin, 0, 0x1)
            .put(Kind::WaitBegin, 5)
            .put(Kind::WaitEnd)
            .put(Kind::LoopEnd, 0, 0x1);
    main.time += 120 * ms;
    main.put(Kind::LoopBegin, 0, 0x1).put(Kind::WaitBegin, link::NoTimeout);
    trace.caughtUp(main.time);
    Handlers handlers(trace);
    const std::vector<Stall> stalls = stallsOf(trace, handlers, stallBudget);
    QCOMPARE(stalls.size(), 1u);
    QCOMPARE(stalls[0].duration / ms, 120);
    const auto startUp = startUpOf(trace, handlers, stallBudget);
    QVERIFY(startUp && startUp->duration / ms == 200 && !startUp->open);
    QCOMPARE(startUp->sentence(),
             QString("Start-up took 200 ms from the application object to the event loop."));
    QVERIFY(!startUpOf(trace, handlers, std::chrono::milliseconds(300)));
}

void PaceFiguresTest::manyShortCallsAreToldBesideALongOne_data()
{
    QTest::addColumn<int>("shortCall"); // milliseconds
    QTest::addColumn<int>("longCall");
    QTest::addColumn<bool>("told");
    QTest::newRow("short ones") << 4 << 4 << true;
    QTest::newRow("one of them was held up") << 4 << 60 << true;
    QTest::newRow("nearly all in one, which is a stall") << 2 << 200 << false;
    QTest::newRow("too little") << 2 << 2 << false;
}

void PaceFiguresTest::manyShortCallsAreToldBesideALongOne()
{
    QFETCH(int, shortCall);
    QFETCH(int, longCall);
    QFETCH(bool, told);
    TraceModel trace;
    Records main(trace);
    main.object(0x10, "QLineEdit\nfield").signalName(0x80, "QLineEdit\ntextChanged(QString)");
    main.put(Kind::LoopBegin, 0, 0x1).put(Kind::WaitBegin, link::NoTimeout);
    for (int i = 0; i < 40; ++i) {
        main.put(Kind::WaitEnd)
            .put(Kind::SignalBegin, 0, 0x10, 0x80)
            .put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
        main.time += (i == 20 ? longCall : shortCall) * ms;
        main.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::WaitBegin, 5);
        main.time += 5 * ms;
    }
    trace.caughtUp(main.time);
    Handlers handlers(trace);
    const std::vector<Strain> all = strainsOf(trace, handlers);
    QCOMPARE(int(all.size()), int(told));
    if (told)
        QVERIFY2(all[0].sentence().contains("ran 40 times within a second"), qPrintable(all[0].sentence()));
}

void PaceFiguresTest::chanceIsExact()
{
    // Of the 252 ways to put five among ten, one has all of them first; two-sided 2 of 252.
    QCOMPARE(chanceOf(spread({1, 2, 3, 4, 5}), spread({6, 7, 8, 9, 10})), 2.0 / 252);
    QCOMPARE(chanceOf(spread({1, 2, 3}), spread({4, 5, 6})), 2.0 / 20);
    QCOMPARE(chanceOf(spread({1, 2, 3, 4}), spread({5, 6, 7, 8})), 2.0 / 70);
    // U = 1 of 3 and 3: 2 of 20 on that side.
    QCOMPARE(chanceOf(spread({1, 2, 4}), spread({3, 5, 6})), 4.0 / 20);
    QCOMPARE(chanceOf(spread({1, 4}), spread({2, 3})), 1.0);
    QCOMPARE(chanceOf(spread({}), spread({2})), 1.0);
    QCOMPARE(spread({5, 1, 3}).median(), 3);
    QCOMPARE(spread({1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20}).quantile(0.95),
             19);
}

void PaceFiguresTest::comparisonsSayInWordsWhatChanged()
{
    const auto verdict = [](const auto &before, const auto &after) {
        return compareRuns(before, after).verdict;
    };
    const auto slow = runs({1000, 1010, 1020, 990, 1000}), quick = runs({4, 5, 6, 5, 4});
    QCOMPARE(
        verdict(slow, quick),
        QString("It got better: longest turn 1.00 s → 5.00 ms. Medians of 5 runs each; the differences are "
                "unlikely to be chance (below 5 %)."));
    QVERIFY(verdict(quick, slow).startsWith("It got worse: longest turn 5.00 ms → 1.00 s."));
    // As much apart in the median, but it may be chance.
    const auto wild = runs({10, 900, 20, 800, 15}), other = runs({700, 12, 850, 18, 600});
    QVERIFY2(verdict(wild, other).startsWith("These runs show no difference."),
             qPrintable(verdict(wild, other)));
    // One run each shows what is plain, and says how little that is; what is near is no difference.
    QVERIFY(verdict(runs({1000}), runs({5})).startsWith("It got better"));
    QVERIFY(verdict(runs({1000}), runs({5})).contains("1 run each: the variation between runs is unknown"));
    QCOMPARE(compareRuns(runs({1000}), runs({700})).change, Change::Same);
    // Better for the person, dearer for the machine.
    auto before = slow, after = quick;
    for (auto &r : before)
        r.figures.processor = 100 * ms;
    for (auto &r : after)
        r.figures.processor = 300 * ms;
    QVERIFY2(verdict(before, after).contains("It costs more: processor time 100 ms → 300 ms."),
             qPrintable(verdict(before, after)));
    for (auto &r : after)
        r.figures.unseen = 3;
    QCOMPARE(compareRuns(before, after).change, Change::Unknown);
    QVERIFY(verdict(before, after).startsWith("Some figures got better, some worse."));
}

void PaceFiguresTest::timersArePromisedAndKept()
{
    TraceModel t;
    Records r(t);
    r.object(1, "QEventLoop\n").object(0x10, "QTimer\ngateTimer").object(0x20, "QLabel\ngateLabel");
    r.put(Kind::LoopBegin, 0, 1);
    r.fact(Fact::Touched, 0x10, "start\t100");
    const auto tick = [&](std::int64_t at, bool sets) {
        r.at(at).put(Kind::WaitEnd).put(Kind::DispatchBegin, 1, 0x10, 0x99);
        if (sets)
            r.fact(Fact::Touched, 0x20, "text\topen");
        r.time += 2 * ms;
        r.put(Kind::DispatchEnd, 1).put(Kind::WaitBegin, link::NoTimeout);
    };
    r.at(1).put(Kind::WaitBegin, link::NoTimeout);
    for (const int at : {100, 200, 300, 450, 500})
        tick(at, at == 300);
    r.fact(Fact::Touched, 0x10, "stop");
    r.at(900).fact(Fact::Touched, 0x10, "start\t100");
    tick(1000, false);
    t.caughtUp(r.time);
    const auto timers = timersOf(t);
    QCOMPARE(timers.size(), 1u);
    const TimerRow &row = timers.front();
    QCOMPARE(row.name, QString("gateTimer"));
    QCOMPARE(row.promised, 100 * ms);
    QCOMPARE(row.ticks, 6);
    QCOMPARE(row.idle, 5);
    QCOMPARE(row.intervals.count(), 4); // not the one in which it was stopped
    QVERIFY(std::abs(row.intervals.most() - 150 * ms) < ms / 10);
    QVERIFY(std::abs(row.late(1) - 50 * ms) < ms / 10);
    QVERIFY2(row.sentence().contains("promised every 100 ms, median 100 ms (50.0 ms to 150 ms), 6 ticks") &&
                 row.sentence().contains("5 of them set, emitted or posted nothing"),
             qPrintable(row.sentence()));
}

void PaceFiguresTest::aPollsDelayIsPredictedAndMeasured()
{
    QVERIFY(!predictedDelay({}).known);
    const PollDelay even = predictedDelay(spread({100, 100, 100}));
    QCOMPARE(even.mean, 50);
    QCOMPARE(even.longest, 100);
    // A long interval is met more often than its number says: (10² + 190²) / (2 · 200).
    QCOMPARE(predictedDelay(spread({10, 190})).mean, 90);
    const PollDelay measured = measuredDelay({50, 110, 199, 350}, {100, 200, 300});
    QCOMPARE(measured.shortest, 1); // what came after the last tick is not known
    QCOMPARE(measured.longest, 90);
    QCOMPARE(measured.mean, (50 + 90 + 1) / 3);
    // Changes at any moment are noticed as late as is predicted, of ticks that come unevenly.
    std::vector<std::int64_t> ticks, changes;
    Spread intervals;
    std::int64_t at = 0;
    for (int i = 0; i < 400; ++i) {
        const std::int64_t interval = 100'000 + (i * 7919 % 40'000) + (i % 10 == 0 ? 300'000 : 0);
        at += interval;
        intervals.add(interval);
        ticks.push_back(at);
    }
    for (std::int64_t c = 1; c < at; c += 997)
        changes.push_back(c);
    const PollDelay p = predictedDelay(intervals), m = measuredDelay(changes, ticks);
    QVERIFY2(std::abs(double(p.mean - m.mean)) < 0.01 * double(m.mean),
             qPrintable(QString("%1 and %2").arg(p.mean).arg(m.mean)));
    QVERIFY(m.longest <= p.longest && m.longest > 0.98 * double(p.longest));
    // Another interval: half as long, half as late, twice as dear.
    TimerRow timer;
    timer.promised = 100 * ms;
    timer.ticks = 11;
    timer.work = 11 * ms;
    for (int i = 0; i < 10; ++i)
        timer.intervals.add(100 * ms);
    const OtherInterval half = otherInterval(timer, 50 * ms);
    QCOMPARE(half.delay.mean, 25 * ms);
    QCOMPARE(half.perSecond, 20.0);
    QCOMPARE(half.load, 0.02);
}

PIPIT_TEST(PaceFiguresTest)
#include "pace_figures_test.moc"
