// The window closed in the middle of whatever goes on: threads that still build, start, play, drain or read
// must touch nothing that is gone. Worth most under the address sanitizer.
#include "app/shell/main_window.h"
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QRandomGenerator>
#include <QTest>
#include <QThreadPool>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class ClosingTest : public QObject
{
    Q_OBJECT
    QTemporaryDir dir_;
    static constexpr int times = 6; // of each kind, at moments that differ

private slots:
    void initTestCase();
    void inTheMiddle_data();
    void inTheMiddle();
};

void ClosingTest::initTestCase()
{
    copyFolder(smallDesk() + "/before", dir_.path() + "/desk");
    // Built once, so that most moments lie in the run and not in the compiler.
    const Ran built = verb({"build", dir_.path() + "/desk"});
    QVERIFY2(built.code == 0, built.err.constData());
    const Ran recorded =
        verb({"run", dir_.path() + "/desk", "--for", "0.5", "--record", dir_.path() + "/rec"});
    QVERIFY2(recorded.code == 0, recorded.err.constData());
}

using Doing = std::function<void(Session &)>;

void ClosingTest::inTheMiddle_data()
{
    QTest::addColumn<Doing>("doing");
    QTest::addColumn<int>("most"); // ms until it is closed
    const QString desk = dir_.path() + "/desk";
    QTest::newRow("a run") << Doing([=](Session &s) {
        s.open(desk);
        s.runs.run();
    }) << 1500;
    QTest::newRow("a build") << Doing([=](Session &s) {
        s.open(desk);
        s.document.workspace().files().setText(
            "ferry_desk.cpp", *s.document.workspace().files().text("ferry_desk.cpp") +
                                  QStringLiteral("// %1\n").arg(QRandomGenerator::global()->generate()));
        s.runs.run();
    }) << 900;
    QTest::newRow("a play") << Doing([=](Session &s) {
        s.open(desk);
        s.runs.runPlayFile(desk + "/plays/tide.play");
    }) << 2500;
    QTest::newRow("a program that talks") << Doing([](Session &s) {
        s.runs.record({"/bin/sh", {"-c", targetProgram("loops") + " 20 20 20; yes | head -c 3000000"}});
    }) << 700;
    QTest::newRow("a program that ends at once") << Doing([](Session &s) {
        s.runs.record({targetProgram("dying"), {"early"}});
    }) << 200;
    QTest::newRow("reading a recording")
        << Doing([rec = dir_.path() + "/rec"](Session &s) { s.open(rec); }) << 60;
    QTest::newRow("saving") << Doing([=](Session &s) {
        s.open(desk);
        for (int i = 0; i < 20; ++i)
            s.document.edit(
                [i](Workspace &w) { return w.setProperty("boardButton", "toolTip", QString::number(i)); });
        s.document.save();
    }) << 40;
}

void ClosingTest::inTheMiddle()
{
    QFETCH(Doing, doing);
    QFETCH(int, most);
    QRandomGenerator random(qEnvironmentVariableIntValue("PIPIT_SEED") +
                            quint32(qHash(QString::fromLatin1(QTest::currentDataTag()))));
    for (int n = 0; n < times; ++n) {
        const int ms = int(random.bounded(most));
        auto window = std::make_unique<MainWindow>();
        window->show();
        doing(*window->session());
        QTest::qWait(ms);
        window.reset();
        // What was on its way to the window arrives nowhere.
        QCoreApplication::sendPostedEvents();
        QTest::qWait(20);
    }
    QVERIFY(QThreadPool::globalInstance()->waitForDone(30'000)); // everything that it began ends
    QCoreApplication::sendPostedEvents();
}

PIPIT_TEST(ClosingTest)
#include "closing_test.moc"
