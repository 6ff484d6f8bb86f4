// The control channel: answers while the loop is frozen, unknown requests, programs that go away.
#include "core/runner/listener.h"
#include "link/control.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QElapsedTimer>
#include <QJsonArray>

#include <sys/mman.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <thread>
#include <unistd.h>

using namespace pipit;
using namespace pipit::tests;
using namespace std::chrono_literals;

class ControlTest : public QObject
{
    Q_OBJECT
private:
    static std::unique_ptr<LiveRun> start(const QString &name, const QStringList &arguments)
    {
        RunSpec spec;
        spec.program.program = targetProgram(name);
        spec.program.arguments = arguments;
        auto run = LiveRun::start(spec, {});
        if (!run)
            qFatal("%s", qPrintable(run.problem().text()));
        return std::move(*run);
    }

private slots:
    void aFrozenLoopIsSaidAtOnce();
    void unknownMethodsAndTargets();
    void requestsToADyingProgramEnd();
    void aProgramIsKilledWithItsOwner();
    void theSocketIsPrivate();
    void anyRubbishOnTheSocketIsHarmless();
    void rubbishInTheArenaIsHarmless();
};

void ControlTest::aFrozenLoopIsSaidAtOnce()
{
    QStringList work{"1500"};
    for (int i = 0; i < 60; ++i)
        work << "1"; // it goes on for more than a second afterwards
    auto run = start("loops", work);
    QTest::qWait(400); // it blocks now
    QElapsedTimer t;
    t.start();
    auto idle = run->program().request("idle", {{"timeout_ms", 150}}, 5s);
    QVERIFY(!idle);
    QVERIFY2(idle.problem().text().contains("busy since"), qPrintable(idle.problem().text()));
    QVERIFY(t.elapsed() < 1000);
    // Later it answers.
    auto later = run->program().request("idle", {{"timeout_ms", 4000}}, 5s);
    QVERIFY2(bool(later), later ? "" : qPrintable(later.problem().text()));
}

void ControlTest::unknownMethodsAndTargets()
{
    auto run = start("dying", {"normal"});
    auto r = run->program().request("dance", {}, 5s);
    QVERIFY(!r && r.problem().text().contains("unknown method"));
    auto none = run->program().request("window", {{"timeout_ms", 50}}, 5s);
    QVERIFY(!none); // it opens no window
    QVERIFY2(none.problem().text().contains("no window") || none.problem().text().contains("ended"),
             qPrintable(none.problem().text()));
}

void ControlTest::requestsToADyingProgramEnd()
{
    auto run = start("loops", {"3000"});
    QTest::qWait(200);
    std::thread killer([&] {
        std::this_thread::sleep_for(300ms);
        run->program().kill();
    });
    QElapsedTimer t;
    t.start();
    auto r = run->program().request("idle", {{"timeout_ms", 20'000}}, 25s);
    killer.join();
    QVERIFY(!r);
    QVERIFY2(t.elapsed() < 5000, "a request outlived its program");
    QVERIFY(run->program().waitForEnd(5s));
    QCOMPARE(run->program().ending().signal, 9);
    QVERIFY(!run->program().request("idle", {}, 1s));
}

void ControlTest::aProgramIsKilledWithItsOwner()
{
    auto run = start("loops", {"20000"});
    QTest::qWait(200);
    const int pid = run->program().pid();
    QVERIFY(QFileInfo::exists(QStringLiteral("/proc/%1").arg(pid)));
    run.reset();
    QVERIFY(!QFileInfo::exists(QStringLiteral("/proc/%1").arg(pid)));
}

void ControlTest::theSocketIsPrivate()
{
    Listener c;
    QVERIFY(c.listen());
    struct stat st {
    };
    QCOMPARE(stat(c.path().toUtf8().constData(), &st), 0);
    QCOMPARE(int(st.st_mode & 0777), 0600);
    QCOMPARE(stat(QFileInfo(c.path()).path().toUtf8().constData(), &st), 0);
    QCOMPARE(int(st.st_mode & 0777), 0700);
}

static int connectTo(const QString &path)
{
    const int fd = socket(AF_UNIX, SOCK_STREAM, 0);
    sockaddr_un a{};
    a.sun_family = AF_UNIX;
    strcpy(a.sun_path, path.toUtf8().constData());
    return ::connect(fd, reinterpret_cast<sockaddr *>(&a), sizeof a) == 0 ? fd : -1;
}

void ControlTest::anyRubbishOnTheSocketIsHarmless()
{
    Listener c;
    QVERIFY(c.listen());
    // Strangers are turned away, a hello of another version is refused in words, one that is right is not.
    const QList<std::pair<QByteArray, bool>> callers{
        {"\n\n{}\n", false},
        {"[1,2]\n\xff\xfe\n", false},
        {"{\"id\":77,\"result\":5}\n", false},
        {QByteArray(100'000, 'x'), false},
        {"{\"method\":\"hello\",\"params\":{\"version\":1}}\n", true},
        {"{\"method\":\"refused\",\"params\":{\"text\":\"no\"}}\n", true},
        {"{\"method\":\"hello\",\"params\":{\"version\":" + QByteArray::number(link::controlVersion) + "}}\n",
         true},
    };
    int told = 0, peers = 0, expected = 0;
    QList<int> open;
    for (const auto &[line, counts] : callers) {
        const int fd = connectTo(c.path());
        QVERIFY(fd >= 0);
        open << fd;
        (void)::send(fd, line.constData(), std::size_t(line.size()), MSG_NOSIGNAL | MSG_DONTWAIT);
        expected += counts;
    }
    open << connectTo(c.path()); // and one that never says a word
    for (int i = 0; i < 40 && told < expected; ++i) {
        for (const Newcomer &n : c.accept(link::Clock::Monotonic)) {
            ++told;
            peers += n.peer != nullptr;
            QVERIFY(n.peer || !n.refused.isEmpty());
        }
        QTest::qWait(5);
    }
    QCOMPARE(told, expected);
    QCOMPARE(peers, 1);
    QCOMPARE(c.descriptors().size(), 2u); // the silent one is waited for, and holds nobody up
    for (const int fd : open)
        ::close(fd);
}

// What a process writes into the arena is anybody's: nothing is read outside of it, nor for ever.
void ControlTest::rubbishInTheArenaIsHarmless()
{
    int fd = -1;
    auto peer = Peer::make(getpid(), link::Clock::Monotonic, &fd);
    QVERIFY(peer);
    auto *arena = static_cast<link::ArenaHeader *>(
        mmap(nullptr, link::arenaBytes, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_NORESERVE, fd, 0));
    ::close(fd);
    QVERIFY(arena != MAP_FAILED);
    std::uint64_t seed = 7;
    const auto next = [&] { return seed = seed * 6364136223846793005u + 1442695040888963407u; };
    int streams = 0;
    const Peer::Events events{[&](std::uint32_t) { return streams++; },
                              [](int, const link::Record &, const char *text, std::size_t bytes) {
                                  QVERIFY(bytes <= link::maxTextBytes && (text || bytes == 0));
                              },
                              [](int, std::uint64_t) {}};
    for (int round = 0; round < 200; ++round) {
        const std::size_t place = (next() >> 33) % link::arenaPlaces;
        link::RingHeader *ring = link::ringAt(arena, place);
        for (std::size_t cell = 0; cell < 64; ++cell) {
            link::Record &r = link::cellsOf(ring)[cell];
            r.kind = std::uint16_t((next() >> 33) % 40);
            r.words[3] = next() >> (next() % 64);
        }
        ring->head = next() >> (next() % 64);
        ring->lost = next();
        arena->places[place] = link::Place((next() >> 33) % 6);
        arena->changes = std::uint32_t(next());
        arena->toPipit.head = std::uint32_t(next());
        arena->forked = std::int32_t(next());
        (void)peer->drain(events, false);
        (void)peer->receive();
        (void)peer->forkedChild();
    }
    QVERIFY(streams > 50);
    (void)peer->drain(events, true);
    munmap(arena, link::arenaBytes);
}

PIPIT_TEST(ControlTest)
#include "control_test.moc"
