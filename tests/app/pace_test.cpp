// The ribbon, the Pace page, the Trace page and the Plays page, on recordings whose times are known.
#include "app/shell/main_window.h"
#include "core/base/files.h"
#include "core/recordings/writer.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QJsonDocument>
#include <QTextDocument>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;
using link::Kind;

class PaceTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;
    // A recording with a stall of 300 ms, a queued call from another thread, and a message.
    QString recording(const QString &name)
    {
        const QString folder = dir_.path() + '/' + name;
        auto w = RecordingWriter::create(folder);
        if (!w)
            qFatal("%s", qPrintable(w.problem().text()));
        Records r(**w);
        r.object(0x1, "QEventLoop\n")
            .object(0x10, "QPushButton\ntideButton")
            .object(0x20, "QLineEdit\nticketField");
        r.signalName(0x70, "Desk\nslow()")
            .signalName(0x71, "Desk\nquick()")
            .signalName(0x80, "QAbstractButton\nclicked(bool)");
        r.put(Kind::LoopBegin, 0, 0x1);
        r.at(1).put(Kind::WaitBegin, link::NoTimeout);
        r.at(500).put(Kind::WaitEnd);
        r.put(Kind::DispatchBegin, 3 | link::FromWindowSystem, 0x10, 0x99, 1'000'000'000 + 499'000'000);
        r.put(Kind::SignalBegin, 0, 0x10, 0x80);
        r.put(Kind::CallBegin, 2, 0x10, 0, 0x70, 0);
        r.at(800).put(Kind::CallEnd);
        r.put(Kind::SignalEnd).put(Kind::DispatchEnd, 1);
        r.put(Kind::DispatchBegin, 6 | link::FromWindowSystem, 0x20, 0x98, 1'000'000'000 + 600'000'000);
        r.put(Kind::DispatchEnd, 1);
        r.at(801).put(Kind::WaitBegin, link::NoTimeout);
        r.at(1800).put(Kind::WaitEnd);
        r.put(Kind::CallBegin, 2, 0x10, 0, 0x71, 0).put(Kind::CallEnd);
        r.put(Kind::WaitBegin, link::NoTimeout);
        if (auto ok = (*w)->finish(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        RunInfo info;
        info.ending = "desk ended with exit code 0";
        if (auto ok = makeFolder(folder + "/pipit"); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        if (auto ok = writeFile(folder + "/pipit/info.json", QJsonDocument(info.toJson()).toJson()); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        return folder;
    }
    static QStringList story(MainWindow &w)
    {
        QStringList all;
        for (int i = 0; i < w.trace()->model()->rowCount(); ++i)
            all << w.trace()->model()->sentence(i);
        return all;
    }

private slots:
    void aRecordingOpensWithItsStall();
    void theRibbonOpensTheStall();
    void theMomentIsShownInTheTrace();
    void theTraceTellsTheStory();
    void comparisonsTellWhyNot();
    void playsAreWrittenCheckedAndSaved();
    void emptyPagesSayWhatBelongsThere();
    void aCutShortRecordingIsShownAllTheSame();
    void theRibbonIsARing();
};

// Before the program said anything its clock is at nothing, and a minute before that is negative.
void PaceTest::theRibbonIsARing()
{
    for (std::int64_t quarter = -1000; quarter < 1000; ++quarter)
        QVERIFY(LiveFigures::ribbonSlot(quarter) < std::size_t(LiveFigures::ribbonSlots));
    QCOMPARE(LiveFigures::ribbonSlot(-1), std::size_t(LiveFigures::ribbonSlots - 1));
    QCOMPARE(LiveFigures::ribbonSlot(LiveFigures::ribbonSlots), std::size_t(0));
    MainWindow w; // a program that runs and says nothing
    w.show();
    w.session()->runs.record({"/bin/sleep", {"1"}});
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Running; }, 20'000));
    (void)w.ribbon()->grab(); // paints it
    const auto &seen = w.session()->shown.figures().ribbon;
    QVERIFY(std::all_of(seen.begin(), seen.end(), [](auto turn) { return turn == 0; }));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Idle; }, 20'000));
}

void PaceTest::aRecordingOpensWithItsStall()
{
    MainWindow w;
    w.show();
    w.session()->open(recording("a"));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 5000));
    w.show(MainWindow::Pace);
    QCOMPARE(w.pace()->stalls()->rowModel()->rowCount(), 1);
    const Row &row = w.pace()->stalls()->rowModel()->rows()[0];
    QCOMPARE(row.text, QString("Desk::slow"));
    QCOMPARE(row.tail, QString("301 ms"));
    QCOMPARE(w.pace()->sentence()->text(),
             QString("Desk::slow blocked the event loop for 301 ms; 1 input waited."));
    QCOMPARE(w.pace()->waiting()->rowModel()->rows()[0].text, QString("key press on ticketField waited"));
    QCOMPARE(w.pace()->waiting()->rowModel()->rows()[0].tail, QString("200 ms"));
    QVERIFY(!w.pace()->moveButton()->isVisible()); // no project, so nothing to move
}

void PaceTest::theRibbonOpensTheStall()
{
    MainWindow w;
    w.show();
    w.session()->open(recording("b"));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 5000));
    w.show(MainWindow::Board);
    QSignalSpy opened(w.ribbon(), &Ribbon::stallOpened);
    QTest::mouseClick(w.ribbon(), Qt::LeftButton, {}, QPoint(w.ribbon()->width() - 20, 10));
    QCOMPARE(opened.size(), 1);
    QCOMPARE(opened[0][0].toInt(), 0);
    QVERIFY(w.pace()->isVisible());
    QTest::keyClick(w.ribbon(), Qt::Key_Return);
    QCOMPARE(opened.size(), 2);
    QCOMPARE(w.ribbon()->accessibleDescription(), QString("1 stall, worst 301 ms"));
}

void PaceTest::theMomentIsShownInTheTrace()
{
    MainWindow w;
    w.show();
    w.session()->open(recording("c"));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 5000));
    w.show(MainWindow::Pace);
    for (QPushButton *b : w.pace()->findChildren<QPushButton *>())
        if (b->text() == "Show the moment")
            QTest::mouseClick(b, Qt::LeftButton);
    QVERIFY(w.trace()->isVisible());
    QVERIFY(QTest::qWaitFor([&] { return w.trace()->list()->currentIndex().isValid(); }, 5000));
    QCOMPARE(w.trace()->model()->sentence(w.trace()->list()->currentIndex().row()),
             QString("Desk::slow runs"));
}

void PaceTest::theTraceTellsTheStory()
{
    MainWindow w;
    w.show();
    w.session()->open(recording("d"));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 5000));
    w.show(MainWindow::Trace);
    QVERIFY(QTest::qWaitFor([&] { return w.trace()->model()->rowCount() > 5; }, 5000));
    const QStringList all = story(w);
    const QStringList expected = {"a turn of the event loop of 2 dispatches and 1 call",
                                  "tideButton gets a mouse release", "tideButton emits clicked",
                                  "Desk::slow runs", "ticketField gets a key press"};
    qsizetype at = -1;
    for (const QString &s : expected) {
        QVERIFY2(all.indexOf(s) > at, qPrintable(s + " in " + all.join(" | ")));
        at = all.indexOf(s);
    }
    QVERIFY2(all.contains("the event loop waits for 999 ms") ||
                 all.contains("the event loop waits for 1.00 s"),
             qPrintable(all.join(" | ")));
    // Depth follows causes: the handler stands below what called it.
    const TraceRows &rows = *w.trace()->model();
    QVERIFY(rows.at(int(all.indexOf("Desk::slow runs"))).depth >
            rows.at(int(all.indexOf("tideButton emits clicked"))).depth);
    w.trace()->list()->setCurrentIndex(w.trace()->model()->index(int(all.indexOf("Desk::slow runs"))));
    const auto said = [&] {
        QTextDocument text;
        text.setHtml(w.trace()->account()->label()->text());
        return text.toPlainText();
    };
    QVERIFY(QTest::qWaitFor(
        [&] {
            return said().startsWith(
                "Because tideButton emits clicked, because tideButton gets a mouse release.");
        },
        5000));
    QTest::keyClicks(w.trace()->filter(), "quick");
    QVERIFY(
        QTest::qWaitFor([&] { return story(w).filter("runs") == QStringList{"Desk::quick runs"}; }, 5000));
}

void PaceTest::comparisonsTellWhyNot()
{
    ComparisonView view;
    view.resize(600, 400);
    const QImage empty = view.grab().toImage();
    ComparedRun a, b;
    a.info.play = b.info.play = "tide.play";
    a.info.playFingerprint = "1";
    b.info.playFingerprint = "2";
    a.figures.longestStall = 300'000'000;
    view.set(compareRuns({a}, {b}));
    QVERIFY(!view.comparison().comparable);
    QVERIFY(view.accessibleDescription().contains("longest stall: 300 ms before, none after"));
    QVERIFY(view.grab().toImage() != empty);
}

void PaceTest::playsAreWrittenCheckedAndSaved()
{
    MainWindow w;
    w.show();
    copyFolder(smallDesk() + "/before", dir_.path() + "/desk");
    w.session()->open(dir_.path() + "/desk");
    w.show(MainWindow::Plays);
    QVERIFY(w.playsPage()->text()->toPlainText().contains("tideButton: click"));
    const auto press = [&](const QString &words) {
        for (QPushButton *b : w.playsPage()->findChildren<QPushButton *>())
            if (b->text() == words)
                QTest::mouseClick(b, Qt::LeftButton);
    };
    press("New play");
    QVERIFY(QFileInfo::exists(dir_.path() + "/desk/plays/play1.play"));
    w.playsPage()->text()->setPlainText("boardButton: clack\n");
    press("Save it");
    QVERIFY2(w.message().contains("play1.play:1"), qPrintable(w.message()));
    QVERIFY(!readFile(dir_.path() + "/desk/plays/play1.play")->contains("clack"));
    w.playsPage()->text()->setPlainText("boardButton: click\nstatusLabel: expect text \"Gone\"\n");
    press("Run this play");
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.past().size() == 1; }, 90'000));
    QVERIFY(readFile(dir_.path() + "/desk/plays/play1.play")->contains("boardButton: click"));
    const auto &rows = w.playsPage()->results()->rowModel()->rows();
    QCOMPARE(rows.size(), 2u);
    QCOMPARE(rows[0].lead, QString("met"));
    QVERIFY(rows[1].broken);
    QVERIFY2(rows[1].text.contains("found text \"No ticket number yet\""), qPrintable(rows[1].text));
    QVERIFY(!w.session()->runs.past().first().info.playOk);
}

void PaceTest::emptyPagesSayWhatBelongsThere()
{
    MainWindow w;
    w.show();
    w.session()->document.create(dir_.path() + "/empty");
    // Each page that a run fills offers to run the project, at a click.
    for (const MainWindow::Page page : {MainWindow::Trace, MainWindow::Pace, MainWindow::Why}) {
        w.show(page);
        int offers = 0;
        for (const EmptyAction *a : w.findChildren<EmptyAction *>())
            offers += a->isVisible() && a->text() == "Run the project";
        QCOMPARE(offers, 1);
    }
    w.show(MainWindow::Plays);
    const auto *write = w.playsPage()->findChild<EmptyAction *>();
    QVERIFY(write->isVisible());
    QCOMPARE(w.pace()->stalls()->rowModel()->rowCount(), 0);
    QVERIFY(!w.pace()->sentence()->isVisible());
    QVERIFY(!w.pace()->playButton()->isEnabled()); // there is no play yet
}

void PaceTest::aCutShortRecordingIsShownAllTheSame()
{
    const QString folder = recording("torn");
    const QString stream = folder + "/stream_0_100";
    const QByteArray whole = *readFile(stream);
    QVERIFY(writeFile(stream, whole + whole.left(40)));
    MainWindow w;
    w.show();
    w.session()->open(folder);
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 5000));
    QCOMPARE(w.session()->shown.figures().stalls.size(), 1u);
    w.show(MainWindow::Pace);
    const auto &rows = w.pace()->stalls()->rowModel()->rows();
    QCOMPARE(rows.size(), 2u); // and what is not known
    QVERIFY2(rows[1].text.contains("some of its records cannot be read"), qPrintable(rows[1].text));
    // A folder that is none is said, and what was open stays.
    QDir().mkpath(dir_.path() + "/none");
    QVERIFY(writeFile(dir_.path() + "/none/metadata", "someone else's"));
    w.session()->open(dir_.path() + "/none");
    QVERIFY(QTest::qWaitFor([&] { return w.message().contains("not written by Pipit"); }, 5000));
    QCOMPARE(w.session()->shown.figures().stalls.size(), 1u);
}

PIPIT_TEST(PaceTest)
#include "pace_test.moc"
