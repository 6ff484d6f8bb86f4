// The Why page: what was done, the stations of one of these, and the step that mends it.
#include "app/shell/main_window.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/window.h"

#include <QSignalSpy>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class WhyPageTest : public QObject
{
    Q_OBJECT
private slots:
    void nothingIsAskedOfNothing();
    void theLastThingIsAskedAbout();
    void whatIsBrokenStandsOut();
    void aNameIsAskedFor();
    void aConnectionIsBegun();

private:
    // A recording of a fault, open in the window.
    bool open(MainWindow &w, const QString &fault)
    {
        const QString folder = dir_.filePath(fault);
        if (!QFileInfo::exists(folder) && !runTarget("faults", {fault}, folder).info)
            return false;
        w.show();
        QSignalSpy read(&w.session()->shown, &ShownTrace::readToEnd);
        w.session()->open(folder);
        return QTest::qWaitFor([&] { return !read.isEmpty(); }, 20'000);
    }
    static bool answers(MainWindow &w, const std::function<void()> &ask)
    {
        QSignalSpy answered(w.why(), &WhyPage::answered);
        ask();
        return QTest::qWaitFor([&] { return !answered.isEmpty(); }, 20'000);
    }
    QTemporaryDir dir_;
};

void WhyPageTest::nothingIsAskedOfNothing()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    QTest::keyClick(&w, Qt::Key_Y, Qt::AltModifier);
    QVERIFY(w.findChild<QLabel *>("stateText")->text().contains("Run a program first"));
}

void WhyPageTest::theLastThingIsAskedAbout()
{
    MainWindow w;
    QVERIFY(open(w, "healthy_button"));
    QVERIFY(answers(w, [&] { QTest::keyClick(&w, Qt::Key_Y, Qt::AltModifier); }));
    QVERIFY(w.why()->isVisible());
    QCOMPARE(w.why()->answer()->widget, QString("boardButton"));
    QCOMPARE(w.why()->answer()->verdict, QString("ok"));
    QVERIFY2(w.why()->sentence()->text().startsWith("Nothing is wrong here"),
             qPrintable(w.why()->sentence()->text()));
    QVERIFY(w.why()->stations()->stations()->rowCount() >= 9);
    QCOMPARE(w.why()->interactions()->rowModel()->rows().front().tail, QString("left click"));
    QVERIFY(!w.why()->mendButton()->isVisible());
}

void WhyPageTest::whatIsBrokenStandsOut()
{
    MainWindow w;
    QVERIFY(open(w, "filter_swallowed"));
    QVERIFY(answers(w, [&] { QTest::keyClick(&w, Qt::Key_Y, Qt::AltModifier); }));
    const StationsModel *stations = w.why()->stations()->stations();
    const Station *last = stations->at(stations->rowCount() - 1);
    QVERIFY(last && last->state == Station::Broken);
    QCOMPARE(last->name, QString("filters"));
    // A screen reader reads the same.
    QVERIFY(stations->data(stations->index(stations->rowCount() - 1), Qt::AccessibleTextRole)
                .toString()
                .startsWith("filters, broken: "));
    QVERIFY(w.why()->sentence()->text().contains("guard swallowed it"));
}

void WhyPageTest::aNameIsAskedFor()
{
    MainWindow w;
    QVERIFY(open(w, "timer_never_started"));
    w.MainWindow::show(MainWindow::Why);
    QVERIFY(answers(w, [&] {
        w.why()->line()->setText("gateTimer");
        QTest::keyClick(w.why()->line(), Qt::Key_Return);
    }));
    QCOMPARE(w.why()->answer()->verdict, QString("never started"));
    QVERIFY(answers(w, [&] {
        w.why()->line()->setText("gatTimer");
        QTest::keyClick(w.why()->line(), Qt::Key_Return);
    }));
    QVERIFY(!w.why()->answer());
    QVERIFY2(w.why()->sentence()->text().contains("The nearest name is gateTimer"),
             qPrintable(w.why()->sentence()->text()));
    QCOMPARE(w.why()->stations()->stations()->rowCount(), 0);
}

// A button that nobody connected: the line that connects is begun.
void WhyPageTest::aConnectionIsBegun()
{
    MainWindow w;
    w.show();
    Desks desks;
    w.session()->open(desks.fresh());
    QVERIFY(QTest::qWaitFor([&] { return w.session()->document.isOpen(); }, 10'000));
    QVERIFY(open(w, "not_connected"));
    QVERIFY(answers(w, [&] { QTest::keyClick(&w, Qt::Key_Y, Qt::AltModifier); }));
    QCOMPARE(w.why()->answer()->verdict, QString("not connected"));
    QVERIFY(w.why()->mendButton()->isVisible());
    w.why()->mendButton()->click();
    QCOMPARE(w.board()->connectLine()->text(), QString("boardButton.clicked calls "));
}

PIPIT_TEST(WhyPageTest)
#include "why_page_test.moc"
