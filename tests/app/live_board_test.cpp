// The Board of a program that was not composed here.
#include "app/shell/main_window.h"
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
        silent = silent || (r.text.startsWith("boardButton") && r.tail == "nobody listens");
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

PIPIT_TEST(LiveBoardTest)
#include "live_board_test.moc"
