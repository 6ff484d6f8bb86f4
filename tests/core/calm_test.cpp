// What fails while the machine did other things is run again; what fails in a quiet time has failed.
#include "tests/support/calm.h"
#include "tests/support/registered.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <csignal>
#include <thread>
#include <unistd.h>

using namespace pipit::tests;

class CalmTest : public QObject
{
    Q_OBJECT
private slots:
    void probe_data();
    void probe();
    void besideAHoldUpItIsRunAgain();
    void inAQuietTimeItHasFailed();

private:
    // This class's probe as the suite runs tests that measure time: exit code and output.
    static std::pair<int, QByteArray> run(const QString &file, const char *how)
    {
        QProcess p;
        QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
        e.insert("PIPIT_TEST_ALONE", "1");
        e.insert("PROBE_FILE", file);
        e.insert("PROBE", how);
        p.setProcessEnvironment(e);
        p.start(QCoreApplication::applicationFilePath(), {"CalmTest", "probe"});
        return {p.waitForFinished(60'000) ? p.exitCode() : -1, p.readAllStandardOutput()};
    }
};

void CalmTest::probe_data()
{
    QTest::addColumn<bool>("fails");
    QTest::newRow("one, with a comma") << true;
    QTest::newRow("another") << false;
}

// Fails at first; "held": while the process that watches the machine does not run.
void CalmTest::probe()
{
    QFETCH(bool, fails);
    const QByteArray how = qgetenv("PROBE");
    if (how.isEmpty())
        QSKIP("Only run by the others");
    QFile ran(qEnvironmentVariable("PROBE_FILE") + (fails ? "" : "-another"));
    const bool isFirst = !ran.exists();
    QVERIFY(ran.open(QIODevice::Append));
    ran.write("x");
    if (!fails || !isFirst)
        return;
    if (how == "held") {
        kill(getppid(), SIGSTOP);
        std::this_thread::sleep_for(heldUp * 5);
        kill(getppid(), SIGCONT);
    }
    QVERIFY(false);
}

void CalmTest::besideAHoldUpItIsRunAgain()
{
    QTemporaryDir dir;
    const auto [code, out] = run(dir.filePath("ran"), "held");
    QVERIFY2(code == 0, out.constData());
    QVERIFY2(out.contains("Run again"), out.constData());
    QCOMPARE(QFile(dir.filePath("ran")).size(), 2);
    QCOMPARE(QFile(dir.filePath("ran-another")).size(), 1); // it had passed
}

void CalmTest::inAQuietTimeItHasFailed()
{
    QTemporaryDir dir;
    std::pair<int, QByteArray> is;
    for (int tries = 0; tries < 20; ++tries) { // the machine itself may be busy
        QFile::remove(dir.filePath("ran"));
        is = run(dir.filePath("ran"), "quiet");
        if (!is.second.contains("Run again"))
            break;
    }
    QVERIFY2(is.first == 1 && !is.second.contains("Run again"), is.second.constData());
}

PIPIT_TEST(CalmTest)
#include "calm_test.moc"
