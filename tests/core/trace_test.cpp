// Records made by hand, so that every time is known.
#include "core/pace/compare.h"
#include "core/pace/stalls.h"
#include "core/records/merger.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;
using link::Kind;

class TraceTest : public QObject
{
    Q_OBJECT
private slots:
    void turnsBeginWithWakingAndEndWithWaiting();
    void aLongCallIsAStallWithWhatWaited();
    void aNestedLoopIsNoStall();
    void aForcedPassCutsAStallAndIsSaid();
    void manyShortCallsAreOneStallWithSeveralContributors();
    void aBusyWorkerStallsNothing();
    void workOutsideHandlersIsNamedByItsEvent();
    void whatLiesAroundALossIsNotJudged();
    void whatIsOpenAtALossIsNotJudged();
    void blameNeedsItsShare_data();
    void blameNeedsItsShare();
    void aStallThatLastsIsSeenWhileItLasts();
    void lostRecordsDoNotUpsetTheNesting();
    void anInputIsCountedOnce();
    void postedEventsKnowTheirCauseAcrossThreads();
    void theMergerOrdersStreams();
    void momentsAreToldInProportionAndNeverBackwards();
    void momentsAgreeWithTheSystemsClock();
    void comparisonsSayWhenTheyAreNone();
    void durations_data();
    void durations();
};

static void call(Records &r, std::uint64_t code, std::int64_t fromMs, std::int64_t toMs)
{
    r.at(fromMs).put(Kind::CallBegin, 2, 0x10, 0, code, 0);
    r.at(toMs).put(Kind::CallEnd);
}

// A loop that has just woken at 10 ms.
static Records loopAt10(TraceModel &t)
{
    Records r(t);
    r.object(0x10, "QPushButton\nboardButton").object(0x1, "QEventLoop\n");
    r.signalName(0x70, "Desk\nslow()").signalName(0x71, "Desk\nquick()");
    r.put(Kind::LoopBegin, 0, 0x1);
    r.at(1).put(Kind::WaitBegin, link::NoTimeout);
    r.at(10).put(Kind::WaitEnd);
    return r;
}

void TraceTest::turnsBeginWithWakingAndEndWithWaiting()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::DispatchBegin, 2, 0x10, 0x99, 0);
    r.at(13).put(Kind::DispatchEnd, 1, 0x99);
    r.at(14).put(Kind::FullPoll);
    r.at(15).put(Kind::WaitBegin, 5); // nothing happened since the poll: no turn
    r.at(20).put(Kind::WaitEnd);
    r.at(21).put(Kind::DispatchBegin, 1, 0x10, 0x9a, 0);
    r.at(22).put(Kind::DispatchEnd, 0, 0x9a);
    r.at(25).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto turns = turnsOf(t, handlers);
    QCOMPARE(turns.size(), 2u);
    QCOMPARE(turns[0].duration, 4'000'000);
    QCOMPARE(turns[0].dispatches, 1);
    QCOMPARE(turns[1].duration, 5'000'000);
}

void TraceTest::aLongCallIsAStallWithWhatWaited()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.put(Kind::Post, 77, 0x500, 0x10); // a repaint, posted before
    call(r, 0x70, 11, 811);
    // A click at 311 ms, dispatched at 812: the stamp is in the record.
    r.at(812).put(Kind::DispatchBegin, 2 | link::FromWindowSystem, 0x10, 0x98, 1'000'000'000 + 311'000'000);
    r.at(813).put(Kind::DispatchEnd, 1, 0x98);
    r.at(814).put(Kind::DispatchBegin, 77, 0x10, 0x500, 0);
    r.at(815).put(Kind::DispatchEnd, 1, 0x500);
    r.at(816).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto stalls = stallsOf(t, handlers, std::chrono::milliseconds(50));
    QCOMPARE(stalls.size(), 1u);
    QCOMPARE(stalls[0].duration, 806'000'000);
    QCOMPARE(stalls[0].contributors.front().handler.name, QString("Desk::slow"));
    QCOMPARE(stalls[0].contributors.front().ns, 800'000'000);
    QCOMPARE(stalls[0].waiting.size(), 2u);
    QCOMPARE(stalls[0].waiting[0].what, QString("mouse press on boardButton"));
    QCOMPARE(stalls[0].waiting[0].wait, 501'000'000);
    QCOMPARE(stalls[0].waiting[1].kind, QString("repaint"));
    QVERIFY2(stalls[0].sentence().contains("1 input and 1 repaint waited"), qPrintable(stalls[0].sentence()));
    QVERIFY(stallsOf(t, handlers, std::chrono::milliseconds(900)).empty());
}

void TraceTest::aNestedLoopIsNoStall()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    r.at(20).put(Kind::LoopBegin, 0, 0x1); // a dialog
    r.at(21).put(Kind::WaitBegin, link::NoTimeout);
    r.at(900).put(Kind::WaitEnd);
    r.at(901).put(Kind::DispatchBegin, 2, 0x10, 0x98, 0);
    r.at(902).put(Kind::DispatchEnd, 1, 0x98);
    r.at(903).put(Kind::LoopEnd);
    r.at(904).put(Kind::CallEnd);
    r.at(905).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    QVERIFY(t.stretchCount() == 0);
    QVERIFY(stallsOf(t, handlers, stallBudget).empty());
    QCOMPARE(turnsOf(t, handlers).size(), 2u); // the outer turn and the one inside the dialog
}

void TraceTest::aForcedPassCutsAStallAndIsSaid()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    r.at(111).put(Kind::ProcessEventsBegin);
    r.at(112).put(Kind::FullPoll);
    r.at(113).put(Kind::ProcessEventsEnd);
    r.at(213).put(Kind::CallEnd);
    r.at(214).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto stalls = stallsOf(t, handlers, std::chrono::milliseconds(50));
    QCOMPARE(stalls.size(), 2u);
    QVERIFY(stalls[0].reentry);
    QCOMPARE(stalls[0].duration, 102'000'000);
    QVERIFY(stalls[0].sentence().contains("re-entry"));
    QVERIFY(!stalls[1].reentry);
    QCOMPARE(stalls[1].contributors.front().handler.name, QString("Desk::slow"));
}

void TraceTest::manyShortCallsAreOneStallWithSeveralContributors()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    for (int i = 0; i < 10; ++i) {
        call(r, 0x70, 11 + i * 10, 11 + i * 10 + 7);
        call(r, 0x71, 11 + i * 10 + 7, 11 + i * 10 + 10);
    }
    r.at(112).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto stalls = stallsOf(t, handlers, std::chrono::milliseconds(50));
    QCOMPARE(stalls.size(), 1u);
    QCOMPARE(stalls[0].contributors.size(), 2u);
    QCOMPARE(stalls[0].contributors[0].calls, 10);
    QCOMPARE(stalls[0].contributors[0].ns, 70'000'000);
    QCOMPARE(stalls[0].contributors[1].handler.name, QString("Desk::quick"));
}

// A worker's loop is there to be busy; what it does is told as calls, not as a stall.
void TraceTest::aBusyWorkerStallsNothing()
{
    for (const bool main : {true, false}) {
        TraceModel t;
        Handlers handlers(t);
        Records r(t, 0, main);
        r.object(0x10, "Tides\ntides").object(0x1, "QEventLoop\n");
        r.signalName(0x70, "Tides\nask(QString)");
        r.put(Kind::LoopBegin, 0, 0x1);
        r.at(1).put(Kind::WaitBegin, link::NoTimeout);
        r.at(10).put(Kind::WaitEnd);
        call(r, 0x70, 11, 711);
        r.at(712).put(Kind::WaitBegin, link::NoTimeout);
        t.caughtUp(r.time);
        QCOMPARE(stallsOf(t, handlers, stallBudget).size(), main ? 1u : 0u);
        const auto busy = busyWorkersOf(t, handlers, stallBudget);
        QCOMPARE(busy.size(), main ? 0u : 1u);
        if (!main)
            QVERIFY2(busy[0].sentence().contains(QRegularExpression("kept thread \\d+ busy for 70")),
                     qPrintable(busy[0].sentence()));
        QCOMPARE(callsOf(t, handlers).size(), 1u);
        QCOMPARE(callsOf(t, handlers)[0].duration, 700'000'000);
        RunInfo info;
        QCOMPARE(figuresOf(t, handlers, info, stallBudget).stalls, main ? 1 : 0); // the same everywhere
    }
}

void TraceTest::workOutsideHandlersIsNamedByItsEvent()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::DispatchBegin, 12, 0x10, 0x98, 0); // a paint event that takes long
    r.at(211).put(Kind::DispatchEnd, 1, 0x98);
    r.at(212).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto stalls = stallsOf(t, handlers, std::chrono::milliseconds(50));
    QCOMPARE(stalls.size(), 1u);
    QCOMPARE(stalls[0].contributors.front().handler.name, QString("boardButton's own paint handling"));
}

// A wait may be among what was lost: what lies around a loss is no stall, ended or not.
void TraceTest::whatLiesAroundALossIsNotJudged()
{
    for (const bool ends : {true, false}) {
        TraceModel t;
        Handlers handlers(t);
        Records r = loopAt10(t);
        call(r, 0x70, 11, 12);
        r.at(700).put(Kind::Lost, 0, 5000);
        if (ends)
            r.at(701).put(Kind::WaitBegin, link::NoTimeout);
        r.at(1500);
        t.caughtUp(r.time);
        QCOMPARE(stallsOf(t, handlers, stallBudget).size(), 0u);
        QVERIFY(!openStall(t, handlers, stallBudget));
        QCOMPARE(t.lost(), 5000u);
    }
}

// Whoever is named took a third; what lies between dispatches is not laid at the door of an event.
void TraceTest::whatIsOpenAtALossIsNotJudged()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.signalName(0x70, "Desk\nboard()");
    const int inside = 1;
    r.at(11).put(Kind::CallBegin, 2, 0x10, 0, 0x70);
    r.at(700).put(Kind::Lost, 0, 5); // it may have ended, and another begun
    r.at(900).put(Kind::CallEnd, 0, 0x10);
    r.at(901).depth(inside).put(Kind::CallBegin, 2, 0x10, 0, 0x70);
    r.at(902).put(Kind::CallEnd, 0, 0x10);
    r.at(903).put(Kind::WaitBegin, link::NoTimeout);
    t.caughtUp(r.time);
    const auto calls = callsOf(t, handlers);
    QCOMPARE(calls.size(), 2u);
    QVERIFY(!calls[0].judged);
    QVERIFY(calls[1].judged);
    QCOMPARE(calls[1].duration, 1'000'000);
    QVERIFY(!calls[1].parent); // it stands in nothing that is known
    for (const Span &s : spansOf(t))
        QVERIFY(s.kind == SpanKind::Loop || !s.open());
    QVERIFY(stallsOf(t, handlers, std::chrono::milliseconds(20)).empty());
}

void TraceTest::blameNeedsItsShare_data()
{
    QTest::addColumn<QList<int>>("calls"); // of different handlers, ms each, one after the other
    QTest::addColumn<int>("paint");        // ms of an event's own handling
    QTest::addColumn<int>("between");      // ms in no dispatch
    QTest::addColumn<QString>("named");
    QTest::newRow("one handler") << QList<int>{60} << 5 << 20 << "Desk::h0";
    QTest::newRow("one among others") << QList<int>{40, 20, 20} << 5 << 5 << "Desk::h0";
    QTest::newRow("many together") << QList<int>{20, 19, 18, 17, 16} << 5 << 1 << "5 handlers together";
    QTest::newRow("an event") << QList<int>{10} << 80 << 5 << "boardButton's own paint handling";
    QTest::newRow("between") << QList<int>{} << 4 << 300 << "work between dispatches";
    QTest::newRow("between, with short calls") << QList<int>{5, 5} << 4 << 200 << "work between dispatches";
    QTest::newRow("nothing but short ones") << QList<int>{20, 20} << 25 << 20 << "2 events together";
}

void TraceTest::blameNeedsItsShare()
{
    QFETCH(QList<int>, calls);
    QFETCH(int, paint);
    QFETCH(int, between);
    QFETCH(QString, named);
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    for (int i = 0; i < calls.size(); ++i)
        r.signalName(0x700 + std::uint64_t(i), qPrintable(QStringLiteral("Desk\nh%1()").arg(i)));
    std::int64_t at = 11;
    if (!calls.isEmpty()) {
        r.at(at).put(Kind::DispatchBegin, 2, 0x10, 0x90, 0);
        for (int i = 0; i < calls.size(); ++i) {
            call(r, 0x700 + std::uint64_t(i), at, at + calls[i]);
            at += calls[i];
        }
        r.at(at).put(Kind::DispatchEnd, 1, 0x90);
    }
    at += between;
    r.at(at).put(Kind::DispatchBegin, 12, 0x10, 0x98, 0);
    at += paint;
    r.at(at).put(Kind::DispatchEnd, 1, 0x98);
    r.at(at).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    const auto stalls = stallsOf(t, handlers, std::chrono::milliseconds(50));
    QCOMPARE(stalls.size(), 1u);
    QCOMPARE(stalls[0].contributors.front().handler.name, named);
    QVERIFY(stalls[0].contributors.front().ns >= stalls[0].duration / 3 - 1'000'000);
}

void TraceTest::aStallThatLastsIsSeenWhileItLasts()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    t.caughtUp(r.at(31).time);
    QVERIFY(!openStall(t, handlers, std::chrono::milliseconds(50)));
    t.caughtUp(r.at(511).time);
    const auto open = openStall(t, handlers, std::chrono::milliseconds(50));
    QVERIFY(open);
    QCOMPARE(open->duration, 501'000'000);
    QCOMPARE(open->contributors.front().handler.name, QString("Desk::slow"));
    QVERIFY(open->sentence().contains("it had not ended"));
    r.at(512).put(Kind::CallEnd);
    r.put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    QVERIFY(!openStall(t, handlers, std::chrono::milliseconds(50)));
}

void TraceTest::lostRecordsDoNotUpsetTheNesting()
{
    TraceModel t;
    Handlers handlers(t);
    Records r = loopAt10(t);
    r.at(11).put(Kind::DispatchBegin, 2, 0x10, 0x98, 0);
    r.put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    // The ends of both and whole dispatches were lost; the next begin comes at depth 1.
    r.depth(1).put(Kind::Lost, 0, 12);
    r.at(30).put(Kind::DispatchBegin, 3, 0x10, 0x99, 0);
    r.at(31).put(Kind::DispatchEnd, 1, 0x99);
    r.depth(1).at(32).put(Kind::WaitBegin, 5);
    r.depth(8).at(33).put(Kind::CallEnd); // an end whose begin was lost
    r.depth(1).at(40).put(Kind::WaitEnd);
    call(r, 0x71, 41, 42);
    r.at(43).put(Kind::WaitBegin, 5);
    t.caughtUp(r.time);
    QCOMPARE(t.lost(), 12u);
    const auto calls = callsOf(t, handlers);
    QCOMPARE(calls.size(), 2u);
    QVERIFY(!calls[0].open);
    QVERIFY(t.span(calls[0].span).flags & CutShort);
    QCOMPARE(calls[1].duration, 1'000'000);
    const auto turns = turnsOf(t, handlers);
    QCOMPARE(turns.back().calls, 1);
}

void TraceTest::anInputIsCountedOnce()
{
    TraceModel t;
    Records r = loopAt10(t);
    const std::uint64_t stamp = 1'000'000'000 + 5'000'000;
    r.object(0x20, "QWidgetWindow\ndeskWindow");
    r.at(11).put(Kind::DispatchBegin, 2 | link::FromWindowSystem, 0x20, 0x97, stamp);
    r.put(Kind::DispatchBegin, 2 | link::FromWindowSystem, 0x10, 0x98, stamp);
    r.put(Kind::DispatchEnd, 1).put(Kind::DispatchEnd, 1);
    t.caughtUp(r.time);
    const auto waits = waitsOf(t);
    QCOMPARE(waits.size(), 1u);
    QCOMPARE(waits[0].what, QString("mouse press on boardButton"));
    QCOMPARE(waits[0].wait, 6'000'000);
}

void TraceTest::postedEventsKnowTheirCauseAcrossThreads()
{
    TraceModel t;
    Handlers handlers(t);
    const Moments moments(link::Clock::Monotonic);
    RecordMerger merger(t, moments);
    Records main = loopAt10(t);
    Records other(t, 1, false);
    other.object(0x10, "QObject\nworker").signalName(0x70, "Desk\nslow()");
    other.at(12).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
    other.at(13).put(Kind::Post, 43, 0x700, 0x10);
    main.at(20).put(Kind::DispatchBegin, 43, 0x10, 0x700, 0);
    call(main, 0x71, 21, 22);
    main.put(Kind::DispatchEnd, 1, 0x700);
    t.caughtUp(main.time);
    const auto calls = callsOf(t, handlers);
    QCOMPARE(calls.size(), 2u);
    QCOMPARE(calls[1].causeKind, QString("posted"));
    QCOMPARE(calls[1].cause, calls[0].span);
    QCOMPARE(waitsOf(t)[0].kind, QString("queued call"));
}

void TraceTest::theMergerOrdersStreams()
{
    struct Collect : RecordSink {
        void streamOpened(int, const StreamInfo &) override {}
        void record(int stream, const link::Record &s, const char *, std::size_t) override
        {
            got << qMakePair(int(s.time), stream);
        }
        void caughtUp(std::int64_t) override {}
        QList<QPair<int, int>> got;
    } sink;
    const Moments moments(link::Clock::Monotonic);
    RecordMerger m(sink, moments);
    const auto add = [&](int stream, std::uint64_t time) { m.add(stream, {time, 1, 0, 0, {}}, nullptr, 0); };
    for (int i : {1, 4, 9, 30})
        add(0, std::uint64_t(i));
    for (int i : {2, 3, 10})
        add(2, std::uint64_t(i));
    m.release(9);
    QCOMPARE(sink.got, (QList<QPair<int, int>>{{1, 0}, {2, 2}, {3, 2}, {4, 0}, {9, 0}}));
    add(1, 12);
    m.flush();
    QCOMPARE(sink.got.mid(5), (QList<QPair<int, int>>{{10, 2}, {12, 1}, {30, 0}}));
}

void TraceTest::momentsAreToldInProportionAndNeverBackwards()
{
    Moments m(link::Clock::Counter);
    const std::uint64_t c = m.now() + 10'000'000'000u;
    const std::uint64_t n = link::monotonic() + 10'000'000'000u; // past what was read when it was made
    m.add({c, n});
    m.add({c + 3000, n + 1000});
    m.add({c + 2000, n + 1100}); // backwards: left out
    m.add({c + 6000, n + 3000}); // the other clock goes twice as fast from there on
    QCOMPARE(m.nanoseconds(c), n);
    QCOMPARE(m.nanoseconds(c + 1500), n + 500);
    QCOMPARE(m.nanoseconds(c + 3000), n + 1000);
    QCOMPARE(m.nanoseconds(c + 4500), n + 2000);
    QCOMPARE(m.nanoseconds(c + 7000), n + 3000); // later than what was read
    std::uint64_t last = 0;
    for (std::uint64_t i = c - 100; i < c + 7000; ++i) {
        QVERIFY(m.nanoseconds(i) >= last);
        last = m.nanoseconds(i);
    }
    const Moments plain(link::Clock::Monotonic);
    QCOMPARE(plain.nanoseconds(17), 17u);
    QCOMPARE(plain.before(17, 5), 12u);
}

// On this machine's own clocks, whichever it has: what was made between two readings was made then.
void TraceTest::momentsAgreeWithTheSystemsClock()
{
    Moments m(clockOfThisMachine());
    struct Made {
        std::uint64_t before, at, after;
    };
    std::vector<Made> all;
    for (int i = 0; i < 40; ++i) {
        for (int k = 0; k < 50; ++k)
            all.push_back({link::monotonic(), m.now(), link::monotonic()});
        QTest::qSleep(2);
        m.read();
    }
    int apart = 0;
    for (const Made &a : all) {
        const std::uint64_t at = m.nanoseconds(a.at);
        apart += at + 500 < a.before || at > a.after + 500;
    }
    QVERIFY2(apart * 100 <= int(all.size()), qPrintable(QString::number(apart)));
    QVERIFY(m.before(m.now(), 1'000'000) < m.now());
}

void TraceTest::comparisonsSayWhenTheyAreNone()
{
    ComparedRun a, b;
    a.figures.longestTurn = 1'000'000'000;
    b.figures.longestTurn = 10'000'000;
    const auto compared = [&] { return compareRuns({a}, {b}); };
    QVERIFY(!compared().comparable);
    QVERIFY(!compareRuns({}, {b}).comparable);
    a.info.play = b.info.play = "tide.play";
    a.info.playFingerprint = b.info.playFingerprint = "1";
    a.info.flavour = b.info.flavour = "g++ -O0";
    QVERIFY(compared().comparable);
    QCOMPARE(*compared().figures.first().ratio(), 0.01);
    b.info.flavour = "g++ -O2";
    QVERIFY(compared().reason.contains("builds differ"));
    b.info.flavour = a.info.flavour;
    b.info.playFingerprint = "2";
    QVERIFY(compared().reason.contains("plays differ"));
    b.info.playFingerprint = "1";
    b.info.playHeld = false;
    QVERIFY(compared().reason.contains("after"));
    b.info.playHeld = true;
    b.info.cut = true;
    QVERIFY(compared().reason.contains("after is incomplete"));
    b.info.cut = false;
    b.info.playHeld = false;
    // One bad run among several is one too many.
    QVERIFY(!compareRuns({a, a}, {a, b}).comparable);
}

void TraceTest::durations_data()
{
    QTest::addColumn<qint64>("ns");
    QTest::addColumn<QString>("text");
    QTest::newRow("0.24") << qint64(240'000) << "0.24 ms";
    QTest::newRow("9.99") << qint64(9'990'000) << "9.99 ms";
    QTest::newRow("10.0") << qint64(9'996'000) << "10.0 ms";
    QTest::newRow("702") << qint64(702'400'000) << "702 ms";
    QTest::newRow("1 s") << qint64(999'900'000) << "1.00 s";
    QTest::newRow("1.34") << qint64(1'340'000'000) << "1.34 s";
    QTest::newRow("61") << qint64(61'000'000'000) << "61.0 s";
}

void TraceTest::durations()
{
    QFETCH(qint64, ns);
    QFETCH(QString, text);
    QCOMPARE(durationText(ns), text);
}

PIPIT_TEST(TraceTest)
#include "trace_test.moc"
