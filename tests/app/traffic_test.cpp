// Pulses on the strands, by a clock of the test's own.
#include "app/board/traffic.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit::app;

class TrafficTest : public QObject
{
    Q_OBJECT
private:
    static constexpr std::int64_t ms = 1'000'000;
    static constexpr std::int64_t start = 100'000 * ms;
    static QHash<QString, CallFigures> figures(const QString &id, int count, bool running = false)
    {
        CallFigures f;
        f.count = count;
        f.running = running;
        return {{id, f}};
    }

private slots:
    void aCallTravels();
    void figuresThatStayMakeNoPulse();
    void atMostEightAtOnce();
    void fastStrandsAreSteady();
    void tenASecondAreStillPulses();
    void aRunningCallWaitsAtTheHandler();
    void withoutMotionNothingMoves();
};

void TrafficTest::aCallTravels()
{
    Traffic t;
    t.take(figures("c1", 1), start, true);
    QCOMPARE(*t.pulse("c1", start), 0.0);
    QCOMPARE(*t.pulse("c1", start + 90 * ms), 0.5);
    QVERIFY(*t.pulse("c1", start + 179 * ms) > 0.99);
    QVERIFY(!t.pulse("c1", start + 180 * ms));
    QVERIFY(t.moves(start + 100 * ms));
    QVERIFY(!t.moves(start + 180 * ms)); // nothing is painted while nothing happens
    QVERIFY(!t.pulse("c2", start));
    QVERIFY(Traffic::travelTime < 200 * ms);
}

void TrafficTest::figuresThatStayMakeNoPulse()
{
    Traffic t;
    t.take(figures("c1", 3), start, true);
    t.take(figures("c1", 3), start + 500 * ms, true);
    QVERIFY(!t.pulse("c1", start + 500 * ms));
    t.take(figures("c1", 4), start + 600 * ms, true);
    QVERIFY(t.pulse("c1", start + 610 * ms));
    t.clear();
    QVERIFY(!t.pulse("c1", start + 610 * ms));
}

void TrafficTest::atMostEightAtOnce()
{
    Traffic t;
    QHash<QString, CallFigures> many;
    for (int i = 0; i < 20; ++i)
        many.insert(figures(QString::number(i), 1));
    t.take(many, start, true);
    const auto pulses = [&](std::int64_t now) {
        int n = 0;
        for (int i = 0; i < 20; ++i)
            n += t.pulse(QString::number(i), now) ? 1 : 0;
        return n;
    };
    QCOMPARE(pulses(start + ms), 8);
    // Those that were left out do not come late; the next calls do.
    t.take(many, start + 300 * ms, true);
    QCOMPARE(pulses(start + 301 * ms), 0);
    for (CallFigures &f : many)
        f.count = 2;
    t.take(many, start + 600 * ms, true);
    QCOMPARE(pulses(start + 601 * ms), 8);
}

void TrafficTest::fastStrandsAreSteady()
{
    Traffic t;
    std::int64_t now = start;
    for (int i = 1; i <= 50; ++i, now += 20 * ms)
        t.take(figures("c1", i), now, true);
    QVERIFY(t.steady("c1", now));
    QVERIFY(t.moves(now));
    QVERIFY(!t.steady("c1", now + 1100 * ms)); // quiet for a second
    QVERIFY(!t.moves(now + 1100 * ms));
    t.take(figures("c1", 51), now + 1200 * ms, true);
    QVERIFY(!t.steady("c1", now + 1200 * ms));
    QVERIFY(t.pulse("c1", now + 1201 * ms));
    // Many at once, as figures are told at most thirty times a second.
    Traffic burst;
    burst.take(figures("c1", 0), start, true);
    burst.take(figures("c1", 11), start + 30 * ms, true);
    QVERIFY(burst.steady("c1", start + 30 * ms));
    QVERIFY(!burst.pulse("c1", start + 31 * ms));
}

void TrafficTest::tenASecondAreStillPulses()
{
    Traffic t;
    int travelled = 0;
    std::int64_t now = start;
    for (int i = 1; i <= 40; ++i, now += 100 * ms) {
        t.take(figures("c1", i), now, true);
        QVERIFY(!t.steady("c1", now));
        travelled += t.pulse("c1", now + 50 * ms) ? 1 : 0;
    }
    QCOMPARE(travelled, 40);
}

void TrafficTest::aRunningCallWaitsAtTheHandler()
{
    Traffic t;
    t.take(figures("c1", 1, true), start, true);
    QCOMPARE(*t.pulse("c1", start + 5000 * ms), 1.0);
    QVERIFY(!t.moves(start + 5000 * ms)); // it rests there, so nothing need be painted
    t.take(figures("c1", 1, false), start + 6000 * ms, true);
    QVERIFY(!t.pulse("c1", start + 6000 * ms));
}

void TrafficTest::withoutMotionNothingMoves()
{
    Traffic t;
    t.take(figures("c1", 1, true), start, false);
    QVERIFY(!t.pulse("c1", start));
    QVERIFY(!t.moves(start));
}

PIPIT_TEST(TrafficTest)
#include "traffic_test.moc"
