// What repeats is folded, what must be seen is not; accounts, glances and what lies between two moments are
// as one would count by hand.
#include "core/trace/account.h"
#include "core/trace/between.h"
#include "core/trace/folds.h"
#include "core/trace/glance.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>
#include <QRandomGenerator>

using namespace pipit;
using namespace pipit::tests;
using link::Kind;

class FoldsTest : public QObject
{
    Q_OBJECT
private slots:
    void aTimerIsOneRow();
    void longOnesAreFound();
    void idleTimeIsIdle();
    void whatMustBeSeenIs();
    void openedFoldsShowAllAndNothingTwice();
    void anAccountGoesAcrossTurnsAndThreads();
    void theQueueIsCounted();
    void aGlanceSeesTheLongestTurns();
    void whatLiesBetweenIsCounted();
};

namespace
{

constexpr std::int64_t ms = 1'000'000;

// A desk with a timer, a button and a worker.
struct Gate {
    TraceModel trace;
    Handlers handlers{trace};
    Records main{trace, 0, true};

    Gate()
    {
        main.object(0x1, "QEventLoop\n")
            .object(0x10, "QTimer\ngateTimer")
            .object(0x11, "QPushButton\nboardButton");
        main.object(0x12, "QLabel\nstatusLabel");
        main.signalName(0x70, "Desk\nreadGate()").signalName(0x71, "Desk\nboard()");
        main.signalName(0x80, "QTimer\ntimeout()").signalName(0x81, "QPushButton\nclicked()");
        main.put(Kind::LoopBegin, 0, 0x1).put(Kind::WaitBegin, link::NoTimeout);
    }
    void tick(std::int64_t took)
    {
        main.put(Kind::WaitEnd);
        main.put(Kind::DispatchBegin, QEvent::Timer, 0x10, 0x99, 0);
        main.put(Kind::SignalBegin, 0, 0x10, 0x80).put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
        main.time += took;
        main.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::DispatchEnd, 1, 0x99);
        main.put(Kind::WaitBegin, 5);
    }
    void click()
    {
        main.put(Kind::WaitEnd);
        main.put(Kind::DispatchBegin, QEvent::MouseButtonPress | link::FromWindowSystem, 0x11, 0x98, 1);
        main.time += 1000;
        main.put(Kind::SignalBegin, 0, 0x11, 0x81).put(Kind::CallBegin, 2, 0x11, 0, 0x71, 0);
        main.time += ms;
        main.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::DispatchEnd, 1, 0x98);
        main.put(Kind::WaitBegin, 5);
    }
    void pass(std::int64_t ns) { main.time += ns; }
    std::vector<StoryRow> told(const std::set<SpanId> &opened = {}, bool everything = false)
    {
        trace.caughtUp(main.time);
        StoryTeller teller(trace, handlers, {{}, everything, true});
        auto news = teller.advance(std::chrono::hours(1), INT_MAX, opened);
        StoryEye eye(trace, handlers, {{}, everything, true});
        std::vector<StoryRow> rows;
        for (const StoryPage &p : news.pages)
            for (const StoryRow &r : p.rows(eye, opened))
                rows.push_back(r);
        rows.insert(rows.end(), news.tail.begin(), news.tail.end());
        return rows;
    }
    QStringList sentences(const std::vector<StoryRow> &rows)
    {
        QStringList all;
        for (const StoryRow &r : rows)
            all << (!r.span     ? QString("idle")
                    : r.repeats ? repeatText(trace, handlers, r)
                                : sentenceOf(trace, handlers, trace.span(r.span)));
        return all;
    }
};

} // namespace

void FoldsTest::aTimerIsOneRow()
{
    Gate d;
    for (int i = 0; i < 48; ++i) {
        d.tick(i % 2 ? 10'000 : 50'000);
        d.pass(250 * ms - (i % 2 ? 10'000 : 50'000));
    }
    const auto rows = d.told();
    const QStringList told = d.sentences(rows);
    QCOMPARE(told.last(), QString("Desk::readGate runs, 48 times, every 250 ms, 11 µs to 51 µs"));
    QVERIFY(rows.size() < 4);
    // Opened, it shows each of them, with the time between.
    const auto opened = d.told({rows.back().span});
    QCOMPARE(opened.size(), rows.size() + 48 * 3 + 47);
    QCOMPARE(opened[rows.size()].depth, rows.back().depth + 1);
    QVERIFY(opened[rows.size() - 1].repeats->opened);
}

void FoldsTest::longOnesAreFound()
{
    Gate d;
    for (int i = 0; i < 100; ++i, d.pass(ms))
        d.tick(i % 10 ? ms : 3 * ms);
    d.trace.caughtUp(d.main.time);
    const auto count = [&](const QString &text) {
        StoryTeller teller(d.trace, d.handlers, {text, false, false});
        return int(teller.advance(std::chrono::hours(1)).tail.size());
    };
    QCOMPARE(count("readGate over 2 ms"), 10);
    QCOMPARE(count("over 2.5ms readGate"), 10);
    QCOMPARE(count("OVER 900 us readGate runs"), 100);
    QCOMPARE(count("readGate over 1 s"), 0);
    QVERIFY(count("over") == 0); // a word like any other
}

// A loop that works on what is not told does not wait; a long turn is told whatever it did; nor does one wait
// where a filter leaves out what it did.
void FoldsTest::idleTimeIsIdle()
{
    Gate d;
    const auto quiet = [&](int turns, std::int64_t took) { // without a handler
        for (int i = 0; i < turns; ++i) {
            d.main.put(Kind::WaitEnd).put(Kind::DispatchBegin, QEvent::LayoutRequest, 0x12, 0x97, 0);
            d.pass(took);
            d.main.put(Kind::DispatchEnd, 1, 0x97).put(Kind::WaitBegin, 5);
            d.pass(100'000);
        }
    };
    d.click();
    d.pass(100 * ms);
    d.click();
    quiet(10, 9 * ms);
    d.click();
    quiet(1, 40 * ms);
    d.click();
    QStringList idle;
    int turns = 0;
    for (const StoryRow &r : d.told())
        if (!r.span)
            idle << idleText(d.trace, r, {});
        else
            turns += d.trace.span(r.span).kind == SpanKind::Turn;
    QCOMPARE(idle.size(), 2);
    QCOMPARE(idle[0], QString("the event loop waits for 100 ms"));
    QVERIFY2(idle[1].startsWith("nothing to show for 91.") &&
                 idle[1].contains("the event loop works for 90."),
             qPrintable(idle[1]));
    QCOMPARE(turns, 5); // four clicks, and what took long
    StoryRow row;
    row.idle = 50 * ms;
    QCOMPARE(idleText(d.trace, row, {"tide", false, false}), QString("nothing that matches for 50.0 ms"));
}

void FoldsTest::whatMustBeSeenIs()
{
    Gate d;
    const auto ticks = [&](int n) {
        for (int i = 0; i < n; ++i, d.pass(100 * ms))
            d.tick(10'000);
    };
    ticks(5);
    d.click();
    d.tick(10'000); // right after the click: it may have come of it
    d.pass(100 * ms);
    ticks(5);
    d.tick(30 * ms); // slow
    d.pass(100 * ms);
    ticks(5);
    d.click();
    d.click();
    d.click();
    const QStringList told = d.sentences(d.told());
    int folds = 0, clicks = 0, runs = 0, boards = 0;
    for (const QString &s : told) {
        folds += s.contains("times");
        clicks += s.startsWith("boardButton gets a mouse press");
        runs += s == "Desk::readGate runs";
        boards += s == "Desk::board runs";
    }
    QCOMPARE(folds, 3);
    QCOMPARE(clicks, 4);
    QCOMPARE(boards, 4);
    QCOMPARE(runs, 2); // the one beside the click, and the slow one
}

void FoldsTest::openedFoldsShowAllAndNothingTwice()
{
    for (const std::uint32_t seed : {1u, 2u, 3u}) {
        Gate d;
        QRandomGenerator random(seed);
        for (int i = 0; i < 3000; ++i) {
            const int what = random.bounded(20);
            what == 0 ? d.click() : what == 1 ? d.tick(20 * ms) : d.tick(random.bounded(10'000));
            d.pass(random.bounded(4) ? random.bounded(2000) : 30 * ms);
        }
        for (const bool everything : {false, true}) {
            d.trace.caughtUp(d.main.time);
            StoryTeller plain(d.trace, d.handlers, {{}, everything, false});
            StoryEye eye(d.trace, d.handlers, {{}, everything, false});
            const auto news = plain.advance(std::chrono::hours(1));
            std::vector<SpanId> all, seen;
            for (const StoryPage &p : news.pages)
                for (const StoryRow &r : p.rows(eye))
                    all.push_back(r.span);
            for (const StoryRow &r : news.tail)
                all.push_back(r.span);
            std::set<SpanId> opened;
            std::size_t folded = 0, before = 0;
            for (int i = 0; i < 9; ++i) { // folds stand in folds
                const auto rows = d.told(opened, everything);
                folded = i ? folded : rows.size();
                before = opened.size();
                seen.clear();
                for (const StoryRow &r : rows)
                    if (r.repeats)
                        opened.insert(r.span);
                    else
                        seen.push_back(r.span);
                if (opened.size() == before)
                    break;
            }
            QCOMPARE(opened.size(), before);
            QVERIFY2(folded < all.size() * 2 / 3, qPrintable(QString::number(folded)));
            QCOMPARE(seen.size(), all.size());
            QVERIFY(seen == all);
        }
    }
}

void FoldsTest::anAccountGoesAcrossTurnsAndThreads()
{
    Gate d;
    Records worker(d.trace, 1, false);
    worker.time = d.main.time;
    worker.object(0x1, "QEventLoop\n").object(0x20, "Loader\nloader").signalName(0x72, "Loader\nload()");
    worker.put(Kind::LoopBegin, 0, 0x1).put(Kind::WaitBegin, link::NoTimeout);
    d.pass(ms);
    d.main.put(Kind::WaitEnd)
        .put(Kind::DispatchBegin, QEvent::MouseButtonPress | link::FromWindowSystem, 0x11, 0x98, 1);
    d.main.put(Kind::SignalBegin, 0, 0x11, 0x81).put(Kind::CallBegin, 2, 0x11, 0, 0x71, 0);
    d.pass(1000);
    d.main.put(Kind::Post, QEvent::MetaCall, 0x555, 0x20);
    d.pass(1000);
    d.main.put(Kind::CallEnd).put(Kind::SignalEnd).put(Kind::DispatchEnd, 1, 0x98).put(Kind::WaitBegin, 5);
    worker.time = d.main.time + 4 * ms;
    worker.put(Kind::WaitEnd).put(Kind::DispatchBegin, QEvent::MetaCall, 0x20, 0x555, 0);
    worker.put(Kind::CallBegin, 2, 0x20, 0, 0x72, 0);
    worker.time += 2 * ms;
    worker.put(Kind::CallEnd).put(Kind::DispatchEnd, 1, 0x555).put(Kind::WaitBegin, 5);
    d.main.time = worker.time;
    d.trace.caughtUp(worker.time + 1);
    SpanId press, load;
    for (const Span &s : spansOf(d.trace)) {
        if (s.kind == SpanKind::Dispatch && s.what == QEvent::MouseButtonPress)
            press = s.id;
        if (s.kind == SpanKind::Call && s.thread != press.thread())
            load = s.id;
    }
    QVERIFY(press && load);
    const auto texts = [](const std::vector<AccountStep> &steps) {
        QStringList all;
        for (const AccountStep &s : steps)
            all << s.text;
        return all;
    };
    const Account forward = accountOf(d.trace, d.handlers, press);
    QCOMPARE(texts(forward.effects),
             (QStringList{"Desk::board ran for 4.0 µs", "Loader::load ran for 2.00 ms on another thread"}));
    QVERIFY(forward.causes.empty() && !forward.more);
    const Account back = accountOf(d.trace, d.handlers, load);
    QCOMPARE(texts(back.causes),
             (QStringList{"loader gets a queued call", "Desk::board runs", "boardButton emits clicked",
                          "boardButton gets a mouse press"}));
}

void FoldsTest::theQueueIsCounted()
{
    Gate d;
    const auto post = [&](std::uint64_t event) { d.main.put(Kind::Post, QEvent::User, event, 0x12); };
    d.main.put(Kind::WaitEnd);
    d.main.put(Kind::DispatchBegin, QEvent::User, 0x12, 0x300, 0);
    for (const std::uint64_t e : {0x301, 0x302, 0x303})
        post(e);
    d.pass(ms);
    const std::int64_t then = d.main.time;
    d.pass(1);
    d.main.put(Kind::DispatchEnd, 1, 0x300);
    for (const std::uint64_t e : {0x301, 0x302, 0x303}) {
        d.pass(1000);
        d.main.put(Kind::DispatchBegin, QEvent::User, 0x12, e, 0).put(Kind::DispatchEnd, 1, e);
    }
    d.main.put(Kind::WaitBegin, 5);
    d.trace.caughtUp(d.main.time);
    QCOMPARE(waitingAt(d.trace, 0, then), 3);
    const Span second = d.trace.span(SpanId(0, d.trace.rows(0).firstFrom(then)));
    QCOMPARE(waitingAt(d.trace, 0, second.start), 2); // the one that begins waits no more
    QCOMPARE(waitingAt(d.trace, 0, d.main.time), 0);
    QCOMPARE(waitingAt(d.trace, 0, then, 2), 2);
}

// Against all turns, one by one.
void FoldsTest::aGlanceSeesTheLongestTurns()
{
    Gate d;
    QRandomGenerator random(7);
    for (int i = 0; i < 30'000; ++i) {
        d.tick(random.bounded(1000) ? random.bounded(100'000) : 80 * ms);
        d.pass(random.bounded(int(ms)));
    }
    d.trace.caughtUp(d.main.time);
    for (const int pieces : {1, 7, 600}) {
        const Glance g = glanceOf(d.trace, pieces);
        QCOMPARE(int(g.longest.size()), pieces);
        std::int64_t all = 0, seen = 0;
        std::vector<std::int64_t> exact(std::size_t(pieces), 0);
        for (const Span &s : spansOf(d.trace))
            if (s.kind == SpanKind::Turn && !s.open()) {
                all = std::max(all, s.end - s.start);
                std::int64_t &there = exact[g.pieceOf(s.start)];
                there = std::max(there, s.end - s.start);
            }
        int alike = 0;
        for (std::size_t i = 0; i < exact.size(); ++i) {
            seen = std::max(seen, g.longest[i]);
            alike += exact[i] == g.longest[i];
        }
        QCOMPARE(seen, all);
        QVERIFY2(alike >= pieces - 2, qPrintable(QString::number(alike))); // a border may fall between
    }
}

void FoldsTest::whatLiesBetweenIsCounted()
{
    Gate d;
    const std::int64_t from = d.main.time;
    std::vector<std::int64_t> clicks;
    for (int i = 0; i < 4; ++i) {
        d.tick(2 * ms);
        d.pass(10 * ms);
        clicks.push_back(d.main.time);
        d.click();
        d.pass(10 * ms);
    }
    d.trace.caughtUp(d.main.time);
    const Between b = between(d.trace, d.handlers, from, d.main.time);
    QCOMPARE(b.turns, 8);
    QCOMPARE(b.inputs, 4);
    QCOMPARE(b.handlers.size(), 2u);
    QCOMPARE(b.handlers[0].name, QString("Desk::readGate"));
    QCOMPARE(b.handlers[0].calls, 4);
    QCOMPARE(b.handlers[0].all / (ms / 10), 80);
    QCOMPARE(b.handlers[1].all / (ms / 10), 40);
    QVERIFY(betweenText(b).contains("Desk::readGate ran 4 times for 8.00 ms, at most 2.00 ms"));
    // The next input, the one before, and neither at the ends.
    const auto at = [&](SpanId id) { return id ? d.trace.span(id).start : 0; };
    const auto near = [&](SpanId id, std::int64_t then) { return at(id) >= then && at(id) - then < ms / 10; };
    QVERIFY(near(inputBeside(d.trace, from, true), clicks[0]));
    QVERIFY(near(inputBeside(d.trace, at(inputBeside(d.trace, from, true)), true), clicks[1]));
    QVERIFY(near(inputBeside(d.trace, clicks[2], false), clicks[1]));
    QVERIFY(!inputBeside(d.trace, d.main.time, true) && !inputBeside(d.trace, clicks[0], false));
}

PIPIT_TEST(FoldsTest)
#include "folds_test.moc"
