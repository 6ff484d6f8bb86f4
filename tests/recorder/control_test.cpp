// The control channel: answers while the loop is frozen, unknown requests, programs that go away.
#include "core/runner/channel.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QElapsedTimer>
#include <QJsonArray>

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
    Channel c;
    QVERIFY(c.listen());
    struct stat st {
    };
    QCOMPARE(stat(c.path().toUtf8().constData(), &st), 0);
    QCOMPARE(int(st.st_mode & 0777), 0600);
    QCOMPARE(stat(QFileInfo(c.path()).path().toUtf8().constData(), &st), 0);
    QCOMPARE(int(st.st_mode & 0777), 0700);
}

void ControlTest::anyRubbishOnTheSocketIsHarmless()
{
    Channel c;
    QVERIFY(c.listen());
    const int fd = socket(AF_UNIX, SOCK_STREAM, 0);
    sockaddr_un a{};
    a.sun_family = AF_UNIX;
    strcpy(a.sun_path, c.path().toUtf8().constData());
    QCOMPARE(::connect(fd, reinterpret_cast<sockaddr *>(&a), sizeof a), 0);
    const QByteArray rubbish = "\n\n{}\n[1,2]\n{\"id\":77,\"result\":5}\n\xff\xfe\n{\"method\":\"ring\","
                               "\"params\":{}}\n{\"method\":\"hello\"}\n";
    QCOMPARE(::write(fd, rubbish.constData(), std::size_t(rubbish.size())), ssize_t(rubbish.size()));
    QList<QString> methods;
    for (int i = 0; i < 20 && methods.size() < 2; ++i) {
        for (const auto &m : c.receive(getpid())) {
            methods << m.body.value("method").toString();
            QCOMPARE(m.fd, -1); // a ring without its memory
        }
        QTest::qWait(5);
    }
    QCOMPARE(methods, (QList<QString>{"ring", "hello"}));
    ::close(fd);
    c.close();
    QVERIFY(!c.request("idle", {}, 100ms));
}

PIPIT_TEST(ControlTest)
#include "control_test.moc"
