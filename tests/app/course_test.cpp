// The demo's course from its first sentence to the last, in the window; and what stands beside the stalls on
// the Pace page: timers with their lab, and strains.
#include "app/shell/main_window.h"
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class CourseTest : public QObject
{
    Q_OBJECT
private:
    static bool until(const std::function<bool()> &what, int ms = 90'000)
    {
        return QTest::qWaitFor(what, ms);
    }
    static void applyMove(MainWindow &w)
    {
        MovePanel *panel = w.board()->drawer()->movePanel();
        QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60'000);
        QTest::mouseClick(panel->applyButton(), Qt::LeftButton);
    }

private slots:
    void theDemoLeadsThroughFindMoveProve();
    void aCourseThatIsNotUnderstoodIsTold();
    void anIntervalIsTriedAndKept();
    void strainsStandOnThePacePage();
};

void CourseTest::theDemoLeadsThroughFindMoveProve()
{
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/before", dir.path() + "/desk");
    MainWindow w;
    w.show();
    Session &s = *w.session();
    QVERIFY(w.courseBar()->isHidden());
    s.open(dir.path() + "/desk");
    QVERIFY(w.courseBar()->isVisible());
    QVERIFY(w.courseBar()->sentence()->text().contains("Run it"));
    ComparePanel *compare = w.pace()->compare();
    compare->plays()->setCurrentText("tide.play");
    compare->times()->setCurrentIndex(1);
    // The play does what the sentences ask for: it runs the desk and asks for the tide.
    QTest::mouseClick(compare->playButton(), Qt::LeftButton);
    QVERIFY(until([&] { return s.course.at() == 2; }));
    QVERIFY(w.courseBar()->sentence()->text().contains("go to Pace"));
    w.show(MainWindow::Pace);
    QVERIFY(s.course.at() >= 3);
    QVERIFY(until([&] { return s.course.at() == 4 && s.runs.state() == RunState::Idle; }));
    QCOMPARE(s.runs.past().size(), 5);
    // On a busy machine there may be other stalls before it.
    QVERIFY(until([&] {
        for (const Row &r : w.pace()->stalls()->rowModel()->rows())
            if (r.text.contains("tideForecast") && r.number >= 0)
                w.pace()->showStall(r.number);
        return w.pace()->sentence()->text().contains("tideForecast blocked the event loop");
    }));
    QStringList told;
    for (const Row &r : w.pace()->waiting()->rowModel()->rows())
        told << r.text;
    QVERIFY2(told.filter("statusLabel's text was set to \"Working on the tide table\" and painted").size() ==
                 1,
             qPrintable(told.join('\n')));
    QTest::mouseClick(w.pace()->moveButton(), Qt::LeftButton);
    applyMove(w);
    QCOMPARE(s.document.project().handler("tideForecast")->shape, Shape::Background);
    QCOMPARE(s.course.at(), 5);
    w.show(MainWindow::Pace);
    QTest::mouseClick(compare->playButton(), Qt::LeftButton);
    QVERIFY(until([&] { return s.course.at() == 6 && s.runs.past().size() == 10; }));
    const Comparison &c = compare->comparison()->comparison();
    QVERIFY2(c.comparable && c.change == Change::Better, qPrintable(c.reason + c.verdict));
    QCOMPARE(c.runsBefore, 5);
    QCOMPARE(c.runsAfter, 5);
    QVERIFY2(c.verdict.startsWith("It got better: longest turn"), qPrintable(c.verdict));
    compare->savePage(dir.path() + "/proof.html");
    QVERIFY(until([&] { return QFileInfo::exists(dir.path() + "/proof.html"); }, 5000));
    const QByteArray page = *readFile(dir.path() + "/proof.html");
    QVERIFY(page.contains("It got better") && page.contains("<svg") && page.contains("Mann-Whitney"));
    // By the person's word, and back, and away; and it can be begun again.
    QTest::mouseClick(w.courseBar()->nextButton(), Qt::LeftButton);
    QCOMPARE(s.course.at(), 7);
    QTest::mouseClick(w.courseBar()->backButton(), Qt::LeftButton);
    QCOMPARE(s.course.at(), 6);
    // One that was gone back to stays, though what it asks for has happened.
    QTest::mouseClick(w.courseBar()->backButton(), Qt::LeftButton);
    Q_EMIT s.shown.figuresChanged();
    QCOMPARE(s.course.at(), 5);
    QTest::mouseClick(w.courseBar()->nextButton(), Qt::LeftButton);
    QCOMPARE(s.course.at(), 6);
    QTest::mouseClick(w.courseBar()->leaveButton(), Qt::LeftButton);
    QVERIFY(w.courseBar()->isHidden());
    s.course.begin();
    QVERIFY(w.courseBar()->isVisible());
}

void CourseTest::aCourseThatIsNotUnderstoodIsTold()
{
    QTemporaryDir dir;
    copyFolder(smallDesk() + "/before", dir.path() + "/desk");
    MainWindow w;
    w.show();
    QStringList notes;
    connect(&w.session()->messages, &Messages::note, &w, [&](const QString &t) { notes << t; });
    for (const char *bytes : {R"({"steps": [{"say": "Run it", "until": "ran"}]})", "{\n\"steps\": [}", "{}",
                              R"({"steps": [{"say": "", "until": "running"}]})",
                              R"({"steps": [{"say": "x", "until": "plays soon x"}]})"}) {
        QVERIFY(writeFile(dir.path() + "/desk/course.json", bytes));
        notes.clear();
        w.session()->open(dir.path() + "/desk");
        QVERIFY2(!notes.filter("course.json").isEmpty(), bytes);
        QVERIFY(w.session()->document.isOpen() && w.courseBar()->isHidden());
    }
}

void CourseTest::anIntervalIsTriedAndKept()
{
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/before", dir.path() + "/desk");
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(dir.path() + "/desk");
    s.runs.run();
    QVERIFY(until([&] { return s.runs.state() == RunState::Running; }));
    w.show(MainWindow::Pace);
    w.pace()->showSide(PacePage::Timers);
    TimersPanel *timers = w.pace()->timers();
    QVERIFY(until(
        [&] { return timers->sentence()->text().startsWith("gateTimer: promised every 250 ms, median"); }));
    TimerLab *lab = timers->lab();
    QCOMPARE(lab->interval(), std::chrono::milliseconds(250));
    QVERIFY2(lab->words().contains("as now"), qPrintable(lab->words()));
    QVERIFY(!lab->keepButton()->isEnabled() && lab->tryButton()->isVisible());
    lab->slider()->setValue(lab->slider()->value() - 40);
    const auto chosen = lab->interval();
    QVERIFY(chosen.count() < 150 && chosen.count() > 50);
    QVERIFY2(lab->words().startsWith(QString("Every %1 ms").arg(chosen.count())) ||
                 lab->words().contains("Now: 12"),
             qPrintable(lab->words()));
    QTest::mouseClick(lab->tryButton(), Qt::LeftButton);
    QVERIFY(until([&] {
        return timers->sentence()->text().contains("promised every " +
                                                   durationText(chosen.count() * 1'000'000));
    }));
    QCOMPARE(s.document.project().timer("gateTimer")->interval, 250); // the project is as it was
    lab->slider()->setValue(lab->slider()->value() + 80);
    const auto kept = lab->interval();
    QTest::mouseClick(lab->keepButton(), Qt::LeftButton);
    QCOMPARE(s.document.project().timer("gateTimer")->interval, int(kept.count()));
    s.document.undo();
    QCOMPARE(s.document.project().timer("gateTimer")->interval, 250);
    s.runs.stop();
    QVERIFY(until([&] { return s.runs.state() == RunState::Idle; }));
}

void CourseTest::strainsStandOnThePacePage()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    w.show(MainWindow::Pace);
    w.pace()->showSide(PacePage::Strains);
    ProgramSpec program;
    program.program = targetProgram("strained");
    s.runs.record(program);
    QVERIFY(until([&] { return s.runs.past().size() == 1 && s.runs.state() == RunState::Idle; }));
    RowList *list = w.pace()->strains()->list();
    QVERIFY(until([&] { return list->rowModel()->rowCount() >= 5; }));
    QStringList rows;
    for (const Row &r : list->rowModel()->rows())
        rows << r.text;
    QVERIFY2(rows.first().contains("status's text was set on a thread other than"),
             qPrintable(rows.join('\n')));
    list->setCurrentIndex(list->rowModel()->index(0));
    QVERIFY(w.pace()->strains()->sentence()->text().contains("Use widgets on the main thread only"));
    QSignalSpy asked(w.pace(), &PacePage::timeAsked);
    for (QPushButton *b : w.pace()->strains()->findChildren<QPushButton *>())
        if (b->text() == "Show the moment")
            QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(asked.size(), 1);
    QVERIFY(w.trace()->isVisible());
}

PIPIT_TEST(CourseTest)
#include "course_test.moc"
