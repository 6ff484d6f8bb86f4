#include "link/ring.h"
#include "tests/support/registered.h"

#include <QTest>

#include <thread>

using namespace pipit::link;

class RingTest : public QObject
{
    Q_OBJECT
private:
    struct Memory {
        explicit Memory(std::size_t cells) : bytes(ringBytes(cells) + 64), capacity(cells)
        {
            header = reinterpret_cast<RingHeader *>((reinterpret_cast<std::uintptr_t>(bytes.data()) + 63) &
                                                    ~std::uintptr_t(63));
        }
        std::vector<char> bytes;
        std::size_t capacity;
        RingHeader *header;
    };

private slots:
    void recordsComeOutAsTheyWentIn();
    void textsOfEveryLengthSurvive();
    void fullRingDropsAndCounts();
    void twoThreadsLoseNothingWhileDrained();
    void tornContentIsGivenUp();
    void everyKindHasItsOwnNumberAndName();
};

void RingTest::recordsComeOutAsTheyWentIn()
{
    Memory m(64);
    RingWriter w(m.header, m.capacity);
    for (std::uint64_t i = 0; i < 50; ++i)
        QVERIFY(
            w.write(Record{i, std::uint16_t(Kind::Post), 3, std::uint32_t(i * 2), {i, i + 1, i + 2, i + 3}}));
    std::uint64_t next = 0;
    RingReader(m.header, m.capacity).drain([&](const Record &s, const char *text, std::size_t) {
        QCOMPARE(s.time, next);
        QCOMPARE(s.words[3], next + 3);
        QCOMPARE(s.depth, std::uint16_t(3));
        QVERIFY(!text);
        ++next;
    });
    QCOMPARE(next, 50u);
}

void RingTest::textsOfEveryLengthSurvive()
{
    Memory m(1024);
    RingWriter w(m.header, m.capacity);
    RingReader r(m.header, m.capacity);
    for (std::size_t length : {1u, 47u, 48u, 49u, 96u, 1000u, unsigned(maxTextBytes)}) {
        std::string text(length, 'x');
        text.back() = 'z';
        QVERIFY(
            w.write(Record{1, std::uint16_t(Kind::Message), 0, 0, {0, 0, 0, length}}, text.data(), length));
        std::string got;
        QCOMPARE(r.drain([&](const Record &, const char *t, std::size_t n) { got.assign(t, n); }), 1u);
        QCOMPARE(got, text);
    }
}

void RingTest::fullRingDropsAndCounts()
{
    Memory m(16);
    RingWriter w(m.header, m.capacity);
    int written = 0;
    for (int i = 0; i < 40; ++i)
        written += w.write(Record{std::uint64_t(i), std::uint16_t(Kind::FullPoll), 0, 0, {}});
    QCOMPARE(written, 16);
    QCOMPARE(w.lost(), 24u);
    QCOMPARE(RingReader(m.header, m.capacity).drain([](const Record &, const char *, std::size_t) {}), 16u);
    QVERIFY(w.write(Record{99, std::uint16_t(Kind::FullPoll), 0, 0, {}}));
}

void RingTest::twoThreadsLoseNothingWhileDrained()
{
    Memory m(1 << 12);
    constexpr std::uint64_t count = 300'000;
    std::atomic<bool> done{false};
    std::thread writer([&] {
        RingWriter w(m.header, m.capacity);
        for (std::uint64_t i = 0; i < count;) {
            if (w.write(Record{i, std::uint16_t(Kind::Post), 0, 0, {i * 7, 0, 0, 0}}))
                ++i;
            else
                std::this_thread::yield();
        }
        done = true;
    });
    std::uint64_t next = 0, wrong = 0;
    RingReader r(m.header, m.capacity);
    while (next < count) {
        r.drain([&](const Record &s, const char *, std::size_t) {
            wrong += s.time != next || s.words[0] != next * 7;
            ++next;
        });
        if (done && next < count)
            continue;
    }
    writer.join();
    QCOMPARE(wrong, 0u);
}

void RingTest::tornContentIsGivenUp()
{
    // A reader must not follow a text length that points outside what was published.
    Memory m(64);
    RingWriter w(m.header, m.capacity);
    QVERIFY(w.write(Record{1, std::uint16_t(Kind::Message), 0, 0, {0, 0, 0, 1'000'000}}));
    int seen = 0;
    RingReader(m.header, m.capacity).drain([&](const Record &, const char *, std::size_t) { ++seen; });
    QCOMPARE(seen, 0);
}

void RingTest::everyKindHasItsOwnNumberAndName()
{
    QSet<int> numbers;
    QSet<QString> names;
    for (const KindInfo &k : kinds) {
        QVERIFY2(!numbers.contains(int(k.kind)), k.name);
        numbers.insert(int(k.kind));
        names.insert(k.name);
        QVERIFY(k.words >= 0 && k.words <= 4);
        QVERIFY2(!k.text || k.words <= 3, "a text's length needs the last word");
    }
    QCOMPARE(names.size(), numbers.size());
    QVERIFY(!infoOf(999));
}

PIPIT_TEST(RingTest)
#include "ring_test.moc"
