// What is told page by page is what would be told if all of it were gathered at once.
#include "core/pace/stalls.h"
#include "core/trace/story.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QEvent>
#include <QRandomGenerator>

#include <thread>

using namespace pipit;
using namespace pipit::tests;
using link::Kind;

class StoryTest : public QObject
{
    Q_OBJECT
private slots:
    void pagesTellWhatTheWholeTells_data();
    void pagesTellWhatTheWholeTells();
    void aStoryGrowsWithItsTrace();
    void stallsAreClosedOnce();
    void readersFollowTheWriter();
};

namespace
{

// A program of some threads that click, call and wait at random.
struct Busy {
    TraceModel trace;
    Handlers handlers{trace};
    QRandomGenerator random;
    std::vector<std::unique_ptr<Records>> threads;
    std::vector<int> nesting;
    std::int64_t time = 1'000'000'000;

    Busy(std::uint32_t seed, int count) : random(seed)
    {
        for (int i = 0; i < count; ++i) {
            threads.push_back(std::make_unique<Records>(trace, i, i == 0));
            Records &r = *threads.back();
            r.object(0x10, "QPushButton\nboardButton")
                .object(0x11, "MainWindow\ndesk")
                .object(0x1, "QEventLoop\n");
            r.signalName(0x70, "Desk\nslow()")
                .signalName(0x71, "Desk\nquick()")
                .signalName(0x80, "QPushButton\nclicked()");
            r.time = time;
            r.put(Kind::LoopBegin, 0, 0x1);
            r.put(Kind::WaitBegin, link::NoTimeout);
            nesting.push_back(0);
        }
    }
    void pass(std::int64_t ns) { time += ns; }
    Records &now(std::size_t i)
    {
        threads[i]->time = std::max(threads[i]->time, time);
        return *threads[i];
    }
    void work(std::size_t i, int depth)
    {
        pass(random.bounded(100'000));
        if (random.bounded(4) == 0)
            now(i).put(Kind::SignalBegin, 0, 0x10, 0x80);
        else if (random.bounded(3) == 0)
            now(i).put(Kind::CallBegin, 2, 0x10, 0, random.bounded(2) ? 0x70 : 0x71, 0);
        else
            now(i).put(Kind::DispatchBegin, random.bounded(2) ? QEvent::MouseButtonPress : QEvent::Timer,
                       random.bounded(2) ? 0x10 : 0x11, 0x99, 0);
        for (int n = random.bounded(3); depth < 5 && n > 0; --n)
            work(i, depth + 1);
        if (random.bounded(900) == 0)
            pass(60'000'000 + random.bounded(60'000'000));
        pass(random.bounded(50'000));
        now(i).put(Kind::DispatchEnd, 1); // by depth, whatever it was
    }
    void turn()
    {
        const auto i = std::size_t(random.bounded(int(threads.size())));
        now(i).put(Kind::WaitEnd);
        for (int n = random.bounded(4); n > 0; --n)
            work(i, 1);
        pass(random.bounded(20'000));
        now(i).put(Kind::WaitBegin, 5);
        if (random.bounded(50) == 0)
            pass(random.bounded(90'000'000));
    }
    void go(std::uint64_t spans)
    {
        while (trace.spanCount() < spans) {
            for (int n = 0; n < 30; ++n)
                turn();
            trace.caughtUp(time);
        }
    }
};

// The same, all at once.
std::vector<StoryRow> whole(const Busy &b, Handlers &handlers, const StoryChoice &choice)
{
    StoryEye eye(b.trace, handlers, choice);
    std::vector<StoryRow> told;
    std::unordered_map<SpanId, int> depths;
    std::int64_t lastEnd = 0;
    for (const Span &s : spansOf(b.trace)) {
        const ThreadRows &rows = b.trace.rows(s.thread);
        if (!eye.shows(rows, s.id.row()))
            continue;
        int depth = 0;
        for (SpanId p = s.parent; p; p = b.trace.span(p).parent)
            if (const auto it = depths.find(p); it != depths.end()) {
                depth = it->second + (b.trace.span(p).kind == SpanKind::Loop ? 0 : 1);
                break;
            }
        if (depth == 0 && lastEnd && s.start - lastEnd > 20'000'000)
            told.push_back({{}, 0, lastEnd, s.start - lastEnd});
        depths[s.id] = depth;
        told.push_back({s.id, depth, s.start, 0});
        lastEnd = std::max(lastEnd, s.kind == SpanKind::Loop ? s.start : s.open() ? b.trace.now() : s.end);
    }
    return told;
}

std::vector<StoryRow> rowsOf(const Busy &b, Handlers &handlers, const StoryChoice &choice,
                             const std::vector<StoryPage> &pages, const std::vector<StoryRow> &tail)
{
    std::vector<StoryRow> rows;
    StoryEye eye(b.trace, handlers, choice);
    for (const StoryPage &p : pages) {
        const auto more = p.rows(eye);
        if (int(more.size()) != p.count)
            qWarning("a page of %d rows has %d", p.count, int(more.size()));
        rows.insert(rows.end(), more.begin(), more.end());
    }
    rows.insert(rows.end(), tail.begin(), tail.end());
    return rows;
}

// Threads' rows of one moment may stand in either order at a page's border.
bool sameRows(std::vector<StoryRow> a, std::vector<StoryRow> b)
{
    const auto order = [](const StoryRow &x, const StoryRow &y) {
        return x.start != y.start ? x.start < y.start : x.span < y.span;
    };
    std::stable_sort(a.begin(), a.end(), order);
    std::stable_sort(b.begin(), b.end(), order);
    return a == b;
}

} // namespace

void StoryTest::pagesTellWhatTheWholeTells_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("everything");
    QTest::addColumn<int>("threads");
    QTest::newRow("the story") << QString() << false << 1;
    QTest::newRow("of three threads") << QString() << false << 3;
    QTest::newRow("every event") << QString() << true << 2;
    QTest::newRow("a handler") << "slow" << false << 2;
    QTest::newRow("turns by what they hold") << "2 dispatches" << false << 1;
    QTest::newRow("turns of every event") << "1 call" << true << 2;
    QTest::newRow("by how long it took") << "slow over 40us" << false << 2;
    QTest::newRow("nothing") << "no such thing" << false << 1;
}

void StoryTest::pagesTellWhatTheWholeTells()
{
    QFETCH(QString, text);
    QFETCH(bool, everything);
    QFETCH(int, threads);
    Busy b(17, threads);
    b.go(60'000);
    const StoryChoice choice{text, everything};
    StoryTeller teller(b.trace, b.handlers, choice);
    std::vector<StoryPage> pages;
    StoryTeller::News news;
    int slices = 0;
    do {
        news = teller.advance(std::chrono::milliseconds(1));
        pages.insert(pages.end(), news.pages.begin(), news.pages.end());
        ++slices;
    } while (news.more);
    QVERIFY(pages.size() > 8);
    const auto expected = whole(b, b.handlers, choice);
    QVERIFY(expected.empty() == (text == "no such thing"));
    QVERIFY(sameRows(rowsOf(b, b.handlers, choice, pages, news.tail), expected));
}

void StoryTest::aStoryGrowsWithItsTrace()
{
    Busy b(23, 2);
    const StoryChoice choice;
    StoryTeller teller(b.trace, b.handlers, choice);
    std::vector<StoryPage> pages;
    for (std::uint64_t spans = 100; spans < 40'000; spans += 900) {
        b.go(spans);
        StoryTeller::News news;
        do {
            news = teller.advance(std::chrono::milliseconds(50));
            pages.insert(pages.end(), news.pages.begin(), news.pages.end());
        } while (news.more);
        const auto told = rowsOf(b, b.handlers, choice, pages, news.tail);
        QVERIFY2(sameRows(told, whole(b, b.handlers, choice)), qPrintable(QString::number(spans)));
    }
    QVERIFY(pages.size() > 4);
}

// Whether it is asked all the time or once, the stalls are the same.
void StoryTest::stallsAreClosedOnce()
{
    Busy b(31, 2);
    constexpr std::chrono::milliseconds budget{20};
    StallLog log(b.trace, b.handlers, budget);
    for (std::uint64_t spans = 50; spans < 60'000; spans += 50) {
        b.go(spans);
        log.update();
    }
    const auto sentences = [](const std::vector<Stall> &stalls) {
        QStringList all;
        for (const Stall &s : stalls) {
            all << QString::number(s.start) + ' ' + s.sentence();
            for (const WaitRow &w : s.waiting)
                all << w.what + QString::number(w.wait);
        }
        return all;
    };
    for (const bool main : {true, false}) {
        const QStringList told = sentences(main ? log.stalls() : log.busy());
        QVERIFY(told.size() > 5);
        QCOMPARE(told, sentences(main ? stallsOf(b.trace, b.handlers, budget)
                                      : busyWorkersOf(b.trace, b.handlers, budget)));
    }
}

// As a window does: stories, sentences, stalls and figures are told while the trace is written.
void StoryTest::readersFollowTheWriter()
{
    Busy b(41, 3);
    std::atomic<bool> stop{false};
    std::atomic<std::uint64_t> told{0}, wrong{0};
    std::thread stories([&] {
        while (!stop) {
            StoryTeller teller(b.trace, b.handlers, {});
            StoryTeller::News news;
            do
                news = teller.advance(std::chrono::milliseconds(20));
            while (news.more && !stop);
            for (const StoryRow &r : news.tail)
                if (r.span) {
                    wrong += sentenceOf(b.trace, b.handlers, b.trace.span(r.span)).isEmpty();
                    ++told;
                }
        }
    });
    std::thread stalls([&] {
        StallLog log(b.trace, b.handlers, stallBudget);
        while (!stop) {
            log.update();
            (void)openStall(b.trace, b.handlers, stallBudget);
            for (const ThreadInfo &t : b.trace.threads())
                wrong += t.name.isEmpty();
        }
    });
    b.go(60'000);
    while (told < 1000)
        std::this_thread::yield();
    stop = true;
    stories.join();
    stalls.join();
    QCOMPARE(wrong.load(), 0u);
}

PIPIT_TEST(StoryTest)
#include "story_test.moc"
