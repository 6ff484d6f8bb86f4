// Under a Wayland compositor programs are recorded and explained as elsewhere.
//
// The compositor has no input devices. The toolkit's own input method for Wayland asks one all the same when
// a field is clicked, and crashes, so another one is chosen.
#include "core/why/why.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QProcess>

using namespace pipit;
using namespace pipit::tests;

class WaylandTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void faultsAreExplained_data();
    void faultsAreExplained();
    void playsAreDone();
    void cleanupTestCase();

private:
    QStringList environment() const
    {
        return {"QT_QPA_PLATFORM=wayland", "XDG_RUNTIME_DIR=" + dir_.path(), "WAYLAND_DISPLAY=pipit",
                "QT_IM_MODULE=compose"};
    }
    QTemporaryDir dir_;
    QProcess compositor_;
};

void WaylandTest::initTestCase()
{
    QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
    e.insert("XDG_RUNTIME_DIR", dir_.path());
    compositor_.setProcessEnvironment(e);
    compositor_.start("weston",
                      {"--backend=headless-backend.so", "--socket=pipit", "--width=1000", "--height=700"});
    QVERIFY2(compositor_.waitForStarted(5000), "weston is not installed: './dev test' installs it");
    QVERIFY(QTest::qWaitFor([&] { return QFileInfo::exists(dir_.filePath("pipit")); }, 10'000));
}

void WaylandTest::cleanupTestCase()
{
    compositor_.terminate();
    compositor_.waitForFinished(5000);
}

void WaylandTest::faultsAreExplained_data()
{
    QTest::addColumn<QString>("widget");
    QTest::addColumn<QString>("verdict");
    QTest::newRow("healthy_button") << "boardButton"
                                    << "ok";
    QTest::newRow("not_connected") << "boardButton"
                                   << "not connected";
    QTest::newRow("no_such_signal") << "boardButton"
                                    << "connect failed";
    QTest::newRow("disabled") << "boardButton"
                              << "disabled";
    QTest::newRow("filter_swallowed") << "boardButton"
                                      << "swallowed by a filter";
    QTest::newRow("changed_nothing") << "boardButton"
                                     << "changed nothing";
}

void WaylandTest::faultsAreExplained()
{
    QFETCH(QString, widget);
    QFETCH(QString, verdict);
    const Whole w = runTarget("faults", {QTest::currentDataTag()}, {}, environment());
    QVERIFY(w.info);
    const auto answer = why(w.run->trace(), w.run->handlers(), {widget, std::nullopt, {}, 0});
    QVERIFY2(answer, qPrintable(answer ? QString() : answer.problem().text()));
    QVERIFY2(answer->verdict == verdict, qPrintable(answer->verdict + ": " + answer->sentence));
    QVERIFY(answer->at > 0 || verdict == "disabled");
}

void WaylandTest::playsAreDone()
{
    const QString play = dir_.filePath("wayland.play"), folder = dir_.filePath("r");
    QFile file(play);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(
        "wait 200ms\nticketField: type \"K-204\"\nticketField: expect text \"K-204\"\npapersCheck: click\n"
        "papersCheck: expect checked\n");
    file.close();
    const Ran ran =
        command("/usr/bin/env",
                environment() + QStringList{QCoreApplication::applicationDirPath() + "/pipit", "record",
                                            "--play", play, "--out", folder, "--", targetProgram("lessons")});
    QVERIFY2(ran.code == 0 && ran.out.count("ok   line") == 5, ran.out + ran.err);
    const Ran hops = verb({"dispatches", folder, "--json"});
    QVERIFY(hops.out.contains("\"exact\":true") && !hops.out.contains("\"exact\":false"));
}

PIPIT_TEST(WaylandTest)
#include "wayland_test.moc"
