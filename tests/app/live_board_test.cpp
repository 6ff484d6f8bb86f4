// The Board of a program that was not composed here.
#include "app/shell/main_window.h"
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/window.h"

#include <QSignalSpy>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class LiveBoardTest : public QObject
{
    Q_OBJECT
private slots:
    void itsObjectsSentencesAndHandlersStandThere();
    void whatIsWrongStandsOut();
    void itsCodeIsShown();
    void aProjectTakesItsPlace();
    void aKeptPictureChoosesWidgets();
    void aRunningProgramIsPictured();
    void packedCodeIsShownAsItWas();

private:
    bool open(MainWindow &w, const QString &fault)
    {
        const QString folder = dir_.filePath(fault);
        if (!QFileInfo::exists(folder) && !runTarget("faults", {fault}, folder).info)
            return false;
        w.resize(1280, 800);
        w.show();
        QSignalSpy read(&w.session()->shown, &ShownTrace::readToEnd);
        w.session()->open(folder);
        if (!QTest::qWaitFor([&] { return !read.isEmpty(); }, 20'000))
            return false;
        w.show(MainWindow::Board);
        return QTest::qWaitFor([&] { return !w.liveBoard()->board().objects.empty(); }, 20'000);
    }
    static QStringList texts(const RowList *list)
    {
        QStringList all;
        for (const Row &r : list->rowModel()->rows())
            all << r.text;
        return all;
    }
    QTemporaryDir dir_;
};

void LiveBoardTest::itsObjectsSentencesAndHandlersStandThere()
{
    MainWindow w;
    QVERIFY(open(w, "healthy_slots"));
    const LiveBoardView *live = w.liveBoard();
    QVERIFY(live->isVisible());
    const QStringList objects = texts(live->objects());
    QVERIFY2(objects.first().startsWith("ferryDesk, a "), qPrintable(objects.join('\n')));
    QVERIFY(objects.contains("boardButton, a QPushButton saying “Board”"));
    const QStringList sentences = texts(live->sentences());
    QVERIFY2(sentences.contains("boardButton · clicked calls QLineEdit::clear"),
             qPrintable(sentences.join('\n')));
    QVERIFY(sentences.contains("tideSlider · valueChanged calls QProgressBar::setValue"));
    const int row = int(sentences.indexOf("boardButton · clicked calls QLineEdit::clear"));
    QVERIFY2(live->sentences()->rowModel()->rows()[std::size_t(row)].tail.startsWith("1 ×"),
             qPrintable(live->sentences()->rowModel()->rows()[std::size_t(row)].tail));
    QCOMPARE(texts(live->handlers()).first(), QString("on the loop"));
    QVERIFY(texts(live->handlers()).contains("QLabel::setText"));
    // Of the selected widget only.
    live->objects()->setCurrentIndex(live->objects()->rowModel()->index(
        int(objects.indexOf("boardButton, a QPushButton saying “Board”"))));
    QCOMPARE(texts(live->sentences()).size(), 2);
    // And why of it.
    QSignalSpy answered(w.why(), &WhyPage::answered);
    QTest::keyClick(live->objects(), Qt::Key_Return);
    QVERIFY(QTest::qWaitFor([&] { return !answered.isEmpty(); }, 20'000));
    QCOMPARE(w.why()->answer()->widget, QString("boardButton"));
}

void LiveBoardTest::whatIsWrongStandsOut()
{
    MainWindow w;
    QVERIFY(open(w, "no_such_signal"));
    const std::vector<Row> rows = w.liveBoard()->sentences()->rowModel()->rows();
    QCOMPARE(rows.size(), std::size_t(1));
    QVERIFY(rows.front().broken);
    QVERIFY2(rows.front().text.contains("the connect failed: there is no signal QPushButton::clickd()"),
             qPrintable(rows.front().text));
    MainWindow other;
    QVERIFY(open(other, "not_connected"));
    bool silent = false;
    for (const Row &r : other.liveBoard()->objects()->rowModel()->rows())
        silent = silent || (r.text.startsWith("boardButton") && r.tail == "no connection");
    QVERIFY(silent);
}

void LiveBoardTest::itsCodeIsShown()
{
    MainWindow w;
    QVERIFY(open(w, "healthy_button"));
    const LiveBoardView *live = w.liveBoard();
    live->sentences()->setCurrentIndex(live->sentences()->rowModel()->index(0));
    QVERIFY(QTest::qWaitFor([&] { return live->code()->isVisible(); }, 10'000));
    QVERIFY2(live->code()->textCursor().selectedText().contains("QObject::connect"),
             qPrintable(live->code()->textCursor().selectedText()));
    QVERIFY(live->code()->isReadOnly());
}

void LiveBoardTest::aProjectTakesItsPlace()
{
    MainWindow w;
    QVERIFY(open(w, "healthy_button"));
    QVERIFY(!w.board()->isVisible());
    Desks desks;
    w.session()->open(desks.fresh());
    QVERIFY(QTest::qWaitFor([&] { return w.session()->document.isOpen(); }, 10'000));
    QVERIFY(w.board()->isVisible());
    QVERIFY(!w.liveBoard()->isVisible());
}

// What stands at the middle of a widget in the picture is that widget.
static bool choosesByClick(LiveBoardView *live, const QString &name)
{
    for (const LiveObject &o : live->board().objects)
        if (o.name == name && !o.at.isEmpty()) {
            QTest::mouseClick(live->picture(), Qt::LeftButton, {},
                              live->picture()->placeOf(o.at).center().toPoint());
            return live->objects()->currentKey() == QString::number(o.address, 16);
        }
    return false;
}

void LiveBoardTest::aKeptPictureChoosesWidgets()
{
    const QString play = dir_.filePath("look.play"), folder = dir_.filePath("pictured");
    QVERIFY(writeFile(play, "wait 200ms\nboardButton: click\nwait 200ms\n"));
    QCOMPARE(
        verb({"record", "--play", play, "--pictures", "--out", folder, "--", targetProgram("lessons")}).code,
        0);
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    w.session()->open(folder);
    w.show(MainWindow::Board);
    LiveBoardView *live = w.liveBoard();
    QVERIFY(QTest::qWaitFor([&] { return live->picture()->isVisible() && live->board().objects.size() > 10; },
                            20'000));
    QTest::qWait(50);
    for (const char *name : {"boardButton", "papersCheck", "ticketField", "speedSlider"})
        QVERIFY2(choosesByClick(live, QLatin1String(name)), name);
    live->showLast();
    QVERIFY(QTest::qWaitFor(
        [&] {
            return live->objects()->rowModel()->row(live->objects()->currentIndex()) &&
                   live->objects()
                       ->rowModel()
                       ->row(live->objects()->currentIndex())
                       ->text.startsWith("boardButton");
        },
        5000));
    QVERIFY(!w.grab().isNull());
    // Without being asked to, none is kept.
    const QString bare = dir_.filePath("bare");
    QCOMPARE(verb({"record", "--play", play, "--out", bare, "--", targetProgram("lessons")}).code, 0);
    QVERIFY(!QFileInfo::exists(bare + "/pipit/pictures") && QFileInfo::exists(folder + "/pipit/pictures"));
}

void LiveBoardTest::aRunningProgramIsPictured()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    ProgramSpec spec;
    spec.program = targetProgram("lessons");
    w.session()->runs.record(spec, {});
    QVERIFY(QTest::qWaitFor([&] { return w.session()->shown.trace(); }, 20'000));
    w.show(MainWindow::Board);
    LiveBoardView *live = w.liveBoard();
    QVERIFY(QTest::qWaitFor([&] { return live->picture()->isVisible() && live->board().objects.size() > 10; },
                            20'000));
    QTest::qWait(50);
    QVERIFY(choosesByClick(live, "openButton"));
    w.session()->runs.stop();
    QVERIFY(QTest::qWaitFor([&] { return w.session()->runs.state() == RunState::Idle; }, 20'000));
    QVERIFY(live->picture()->isVisible()); // as it was last
}

void LiveBoardTest::packedCodeIsShownAsItWas()
{
    MainWindow w;
    QVERIFY(open(w, "healthy_button"));
    const QString packed = dir_.filePath("healthy.pack");
    QSignalSpy done(&w.session()->handingOn, &HandingOn::done);
    w.session()->handingOn.pack(packed, true);
    QVERIFY(QTest::qWaitFor([&] { return !done.isEmpty(); }, 20'000));
    QVERIFY(done.first().first().toBool());
    MainWindow other;
    QSignalSpy read(&other.session()->shown, &ShownTrace::readToEnd);
    other.show();
    other.session()->open(packed);
    QVERIFY(QTest::qWaitFor([&] { return !read.isEmpty(); }, 20'000));
    other.show(MainWindow::Board);
    LiveBoardView *live = other.liveBoard();
    QVERIFY(QTest::qWaitFor([&] { return live->sentences()->rowModel()->rowCount() > 0; }, 20'000));
    live->sentences()->setCurrentIndex(live->sentences()->rowModel()->index(0));
    QVERIFY(QTest::qWaitFor([&] { return live->code()->isVisible(); }, 10'000));
    QVERIFY2(live->code()->textCursor().selectedText().contains("QObject::connect"),
             qPrintable(live->code()->textCursor().selectedText()));
    // And as a page to be read.
    QSignalSpy written(&other.session()->handingOn, &HandingOn::done);
    other.session()->handingOn.write("html", dir_.filePath("healthy.html"));
    QVERIFY(QTest::qWaitFor([&] { return !written.isEmpty(); }, 20'000));
    QVERIFY(written.first().first().toBool() && QFileInfo(dir_.filePath("healthy.html")).size() > 1000);
}

PIPIT_TEST(LiveBoardTest)
#include "live_board_test.moc"
