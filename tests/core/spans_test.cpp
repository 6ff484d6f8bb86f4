// The store of spans against a plain list of them.
#include "core/spans/thread_rows.h"
#include "tests/support/registered.h"

#include <QRandomGenerator>
#include <QTemporaryDir>
#include <QTest>

#include <map>
#include <thread>

using namespace pipit;

class SpansTest : public QObject
{
    Q_OBJECT
private slots:
    void rowsAreAsTheyWereWritten_data();
    void rowsAreAsTheyWereWritten();
    void flagsThatComeAtTheEndAreKept();
    void whatBeganInTheNanosecondOfAnEndIsKnownByItsParents();
    void hopsAreFoundByTheirRow();
    void timesFarApartFit();
    void readersSeeOnlyWhatIsComplete();
    void memoryGoesToTheFileAndComesBack();
    void aFolderThatCannotBeWrittenIsNoEnd();
    void turnsAreSeenFromFar();
    void aMillionSpansAreSmall();
};

namespace
{

struct Plain {
    SpanKind kind;
    std::int64_t start, end;
    std::uint32_t object, what, parent, after; // parent + 1
    std::uint8_t flags;
    Posting posting;
};

// The same to both: begins and ends at random, nested at random, with pauses of up to `longest`.
struct Both {
    Both(SpanMemory &memory, std::uint32_t seed, std::int64_t longest)
        : rows(memory, 3), random(seed), pause(longest)
    {
    }
    ThreadRows rows;
    QRandomGenerator random;
    std::int64_t pause, time = 1'000'000'000'000;
    std::vector<Plain> plain;
    std::vector<std::uint32_t> open;

    void begin()
    {
        time += std::int64_t(random.generate64() % std::uint64_t(pause + 1));
        Plain p{SpanKind(random.bounded(6)),
                time,
                -1,
                random.bounded(40u),
                random.bounded(300u),
                open.empty() ? 0 : open.back() + 1,
                0,
                std::uint8_t(random.bounded(2) ? FromWindow : 0),
                {}};
        if (random.bounded(4) == 0) {
            p.kind = SpanKind::Dispatch;
            p.posting.time = time - std::int64_t(random.generate64() % 5'000'000'000u) + 1000;
            if (!plain.empty() && random.bounded(2))
                p.posting.cause =
                    SpanId(std::uint16_t(random.bounded(3)), random.bounded(std::uint32_t(plain.size())));
            rows.open(p.start, p.object, p.what, p.flags, p.posting);
            p.flags |= WasPosted;
        } else {
            rows.open(p.kind, p.start, p.object, p.what, p.flags);
        }
        open.push_back(std::uint32_t(plain.size()));
        plain.push_back(p);
    }
    void end()
    {
        time += random.bounded(3) ? std::int64_t(random.generate64() % std::uint64_t(pause + 1)) : 0;
        const std::uint8_t flags = random.bounded(3)   ? Handled
                                   : random.bounded(9) ? 0
                                                       : CutShort | BesideLoss;
        Plain &p = plain[open.back()];
        p.end = time;
        p.flags |= flags;
        p.after = std::uint32_t(plain.size());
        open.pop_back();
        rows.close(time, flags);
    }
    void go(std::uint32_t spans)
    {
        while (plain.size() < spans)
            open.size() < 40 && (open.empty() || random.bounded(100) < 52) ? begin() : end();
        rows.publish();
    }
};

bool same(const Span &s, const Plain &p)
{
    return s.kind == p.kind && s.start == p.start && s.end == p.end && s.object == p.object &&
           s.what == p.what && s.flags == p.flags && (s.parent ? s.parent.row() + 1 : 0) == p.parent;
}

} // namespace

void SpansTest::rowsAreAsTheyWereWritten_data()
{
    QTest::addColumn<qint64>("pause");
    QTest::addColumn<int>("spans");
    QTest::newRow("nothing between") << qint64(0) << 9'000;
    QTest::newRow("a busy program") << qint64(2'000) << 60'000;
    QTest::newRow("an idle one") << qint64(3'000'000'000) << 12'000;
    QTest::newRow("few") << qint64(1'000'000) << 15;
}

void SpansTest::rowsAreAsTheyWereWritten()
{
    QFETCH(qint64, pause);
    QFETCH(int, spans);
    for (std::uint32_t seed = 1; seed <= 4; ++seed) {
        SpanMemory memory{QString()};
        Both b(memory, seed, pause);
        b.go(std::uint32_t(spans));
        QCOMPARE(b.rows.count(), std::uint32_t(b.plain.size()));
        std::uint32_t posted = 0;
        for (std::uint32_t i = 0; i < b.rows.count(); ++i) {
            const Plain &p = b.plain[i];
            const Span s = b.rows.at(i);
            QVERIFY2(same(s, p), qPrintable(QString::number(i)));
            QVERIFY(s.thread == 3 && s.id == SpanId(3, i));
            QCOMPARE(b.rows.after(i), p.end < 0 ? b.rows.count() : p.after);
            if (!(s.flags & WasPosted))
                continue;
            QCOMPARE(b.rows.posting(i).time, p.posting.time);
            QVERIFY(b.rows.posting(i).cause == p.posting.cause);
            QCOMPARE(b.rows.postedRow(posted++), i);
        }
        QCOMPARE(b.rows.postedCount(), posted);
        for (int n = 0; n < 300; ++n) {
            const std::int64_t time = 999'999'999'990 + std::int64_t(b.random.generate64() %
                                                                     std::uint64_t(b.time - 999'999'999'980));
            const auto it =
                std::find_if(b.plain.begin(), b.plain.end(), [&](const Plain &p) { return p.start >= time; });
            QCOMPARE(b.rows.firstFrom(time), std::uint32_t(it - b.plain.begin()));
        }
    }
}

// Every row of a chunk unlike all others, before it ended and after.
void SpansTest::flagsThatComeAtTheEndAreKept()
{
    SpanMemory memory{QString()};
    ThreadRows rows(memory, 0);
    constexpr std::uint32_t many = 20'000;
    for (std::uint32_t i = 0; i < many; ++i) {
        rows.open(SpanKind::Dispatch, i, i, i);
        rows.close(i, Handled | BesideLoss);
    }
    rows.publish();
    for (std::uint32_t i = 0; i < many; ++i)
        QVERIFY(rows.at(i).flags == (Handled | BesideLoss) && rows.at(i).object == i);
}

void SpansTest::whatBeganInTheNanosecondOfAnEndIsKnownByItsParents()
{
    SpanMemory memory{QString()};
    ThreadRows rows(memory, 0);
    rows.open(SpanKind::Turn, 10, 0, 0);
    rows.open(SpanKind::Call, 20, 0, 0); // 1: ends in the nanosecond in which its last child begins
    for (int i = 0; i < 3; ++i) {
        rows.open(SpanKind::Signal, 30, 0, 0); // 2, 3, 4
        rows.close(30);
    }
    rows.close(30);
    rows.open(SpanKind::Call, 30, 0, 0); // 5
    rows.close(30);
    rows.publish();
    QCOMPARE(rows.after(1), 5u);
    QCOMPARE(rows.after(4), 5u);
    QCOMPARE(rows.after(5), 6u);
    QCOMPARE(rows.after(0), 6u); // still open
}

// Nested at random, many ending in the same nanosecond; some with hops, some without.
void SpansTest::hopsAreFoundByTheirRow()
{
    SpanMemory memory;
    ThreadRows rows(memory, 3);
    QRandomGenerator random(11);
    std::map<std::uint32_t, std::vector<Hop>> told;
    std::int64_t time = 1000;
    std::uint32_t object = 0;
    for (int i = 0; i < 60'000; ++i) {
        time += random.bounded(3);
        const bool deeper = rows.openRows().empty() || (rows.openRows().size() < 12 && random.bounded(2));
        if (deeper) {
            rows.open(SpanKind::Dispatch, time, 1, 2);
            continue;
        }
        std::vector<Hop> hops;
        for (std::uint32_t n = random.bounded(4) ? 0 : random.bounded(5u); n > 0; --n)
            hops.push_back({++object, n, Hop::Outcome(n % 4), Hop::Role(n % 3)});
        if (!hops.empty())
            told[rows.openRows().back()] = hops;
        rows.close(time, Handled, hops);
    }
    while (!rows.openRows().empty())
        rows.close(time);
    rows.publish();
    QVERIFY(told.size() > 3000);
    for (std::uint32_t row = 0; row < rows.count(); ++row) {
        const auto it = told.find(row);
        QCOMPARE(bool(rows.at(row).flags & HasHops), it != told.end());
        QVERIFY(rows.hops(row) == (it == told.end() ? std::vector<Hop>() : it->second));
    }
}

void SpansTest::timesFarApartFit()
{
    SpanMemory memory{QString()};
    ThreadRows rows(memory, 0);
    const std::int64_t day = 86'400'000'000'000;
    rows.open(SpanKind::Loop, 5, 0, 0);
    rows.open(SpanKind::Turn, 400 * day, 0, 0);
    rows.close(401 * day);
    rows.open(SpanKind::Turn, 300 * day, 0, 0); // a clock that goes back is not believed
    rows.close(402 * day);
    rows.close(403 * day);
    rows.publish();
    QCOMPARE(rows.at(0).end, 403 * day);
    QCOMPARE(rows.at(1).start, 400 * day);
    QCOMPARE(rows.at(1).end, 401 * day);
    QCOMPARE(rows.at(2).start, 401 * day);
}

void SpansTest::readersSeeOnlyWhatIsComplete()
{
    SpanMemory memory{QString()};
    Both b(memory, 7, 1000);
    std::atomic<bool> stop{false};
    std::atomic<std::uint64_t> wrong{0}, looked{0};
    std::vector<std::thread> readers;
    for (int n = 0; n < 2; ++n)
        readers.emplace_back([&] {
            while (!stop) {
                const std::uint32_t count = b.rows.count();
                for (std::uint32_t i = count > 200 ? count - 200 : 0; i < count; ++i) {
                    const Span s = b.rows.at(i);
                    // A parent began before and has not ended before its child.
                    if (s.object >= 40 || s.what >= 300 || (s.parent && s.parent.row() >= i) ||
                        (s.end >= 0 && s.end < s.start))
                        ++wrong;
                    if (s.flags & WasPosted)
                        wrong += b.rows.posting(i).time == 0;
                    ++looked;
                }
            }
        });
    for (std::uint32_t to = 1000; to <= 300'000; to += 50)
        b.go(to);
    while (looked < 1000)
        std::this_thread::yield();
    stop = true;
    for (std::thread &t : readers)
        t.join();
    QCOMPARE(wrong.load(), 0u);
}

static std::size_t residentOf(const char *what)
{
    QFile f("/proc/self/smaps_rollup");
    if (!f.open(QIODevice::ReadOnly))
        return 0;
    for (const QByteArray &line : f.readAll().split('\n'))
        if (line.startsWith(what))
            return line.mid(qsizetype(strlen(what))).trimmed().split(' ').value(0).toULongLong() * 1024;
    return 0;
}

void SpansTest::memoryGoesToTheFileAndComesBack()
{
    QTemporaryDir dir;
    constexpr std::size_t plain = 1 << 20;
    SpanMemory memory(dir.path(), plain);
    Both b(memory, 11, 3000);
    b.go(20'000);
    ThreadRows many(memory, 1);
    for (std::uint32_t i = 0; i < 6'000'000; ++i) {
        many.open(SpanKind::Call, i, i & 3, 1);
        many.close(i);
    }
    many.publish();
    QVERIFY2(memory.inFile() > std::size_t(60) << 20, qPrintable(QString::number(memory.inFile())));
    QVERIFY(QDir(dir.path()).isEmpty()); // it has no name
    const std::size_t before = residentOf("Pss:");
    for (std::uint32_t i = 0; i < 6'000'000; i += 64)
        QCOMPARE(many.at(i).object, i & 3); // all of it is in memory now
    const std::size_t used = residentOf("Pss:");
    memory.rest();
    const std::size_t rested = residentOf("Pss:");
    QVERIFY2(used > before + (std::size_t(20) << 20) && used - rested > (std::size_t(50) << 20),
             qPrintable(QStringLiteral("%1 %2 %3").arg(before).arg(used).arg(rested)));
    for (std::uint32_t i = 0; i < b.rows.count(); ++i)
        QVERIFY(same(b.rows.at(i), b.plain[i]));
    for (std::uint32_t i = 0; i < 6'000'000; i += 997)
        QVERIFY(many.start(i) == i && many.end(i) == i);
}

void SpansTest::aFolderThatCannotBeWrittenIsNoEnd()
{
    SpanMemory memory("/proc/no/such/folder", 1 << 16);
    ThreadRows rows(memory, 0);
    for (std::uint32_t i = 0; i < 200'000; ++i) {
        rows.open(SpanKind::Call, i, i, 1);
        rows.close(i);
    }
    rows.publish();
    QVERIFY(!rows.full());
    QCOMPARE(memory.inFile(), 0u);
    QCOMPARE(rows.at(199'999).object, 199'999u);
}

void SpansTest::turnsAreSeenFromFar()
{
    SpanMemory memory{QString()};
    ThreadRows rows(memory, 0);
    QRandomGenerator random(5);
    std::vector<std::int64_t> turns; // by row; -1 no turn
    std::int64_t time = 0;
    for (int i = 0; i < 100'000; ++i) {
        const bool turn = random.bounded(3) == 0;
        const std::int64_t took = random.bounded(1'000'000);
        rows.open(turn ? SpanKind::Turn : SpanKind::Call, time, 0, 0);
        rows.close(time += took);
        turns.push_back(turn ? took : -1);
    }
    rows.publish();
    for (int n = 0; n < 400; ++n) {
        std::uint32_t from = random.bounded(100'000u), to = random.bounded(100'001u);
        if (from > to)
            std::swap(from, to);
        ZoomCell plain;
        if (from < to)
            for (std::uint32_t i = from / 256 * 256; i < std::min((to + 255) / 256 * 256, 100'000u); ++i)
                if (turns[i] >= 0)
                    plain.add({1, turns[i], turns[i]});
        const ZoomCell cell = rows.turns(from, to);
        QCOMPARE(cell.count, plain.count);
        QCOMPARE(cell.longest, plain.longest);
        QCOMPARE(cell.shortest, plain.shortest);
    }
}

void SpansTest::aMillionSpansAreSmall()
{
    SpanMemory memory{QString()};
    ThreadRows rows(memory, 0);
    for (std::uint32_t i = 0; i < 1'000'000; ++i) {
        rows.open(SpanKind::Call, std::int64_t(i) * 1000, i & 31, 1);
        rows.close(std::int64_t(i) * 1000 + 500, Handled);
    }
    QVERIFY2(memory.taken() < 13'000'000, qPrintable(QString::number(memory.taken())));
}

PIPIT_TEST(SpansTest)
#include "spans_test.moc"
