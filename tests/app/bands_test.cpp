// Handler cards: dragged to another band, and the words on them.
#include "tests/support/registered.h"
#include "tests/support/window.h"

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class BandsTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;

private slots:
    void aCardDraggedToAnotherBandShowsTheMove();
    void theWordsOnACardWork();
    void aCardIsDraggedToABandAtTheFoot_data();
    void aCardIsDraggedToABandAtTheFoot();
};

void BandsTest::aCardDraggedToAnotherBandShowsTheMove()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    QTest::qWait(50);
    WiringView *v = w.board()->wiring();
    const auto rectOf = [&](const QString &name) {
        for (int i = 0; i < v->cardModel()->rowCount(); ++i)
            if (v->cardModel()->rows()[i].name == name)
                return v->cards()->visualRect(v->cardModel()->index(i));
        return QRect();
    };
    const QPoint from = rectOf("tideForecast").center();
    const QPoint to = rectOf("in the background, on a thread").center() + QPoint(0, 20);
    QWidget *port = v->cards()->viewport();
    QTest::mousePress(port, Qt::LeftButton, {}, from);
    QTest::mouseMove(port, from + QPoint(0, 20));
    QTest::mouseMove(port, to);
    QTest::mouseRelease(port, Qt::LeftButton, {}, to);
    MovePanel *panel = w.board()->drawer()->movePanel();
    QVERIFY(panel->isVisible());
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60000);
    QVERIFY2(panel->sentences().contains("5 statements are the work"), qPrintable(panel->sentences()));
    QVERIFY(panel->after()->toPlainText().contains("tideForecastWork"));
    QVERIFY(panel->after()->bands().contains(CodePane::Band::Background));
    QCOMPARE(s.document.project().handler("tideForecast")->shape,
             Shape::OneGo); // nothing happens before it is applied
    QTest::mouseClick(panel->applyButton(), Qt::LeftButton);
    QCOMPARE(s.document.project().handler("tideForecast")->shape, Shape::Background);
}

void BandsTest::theWordsOnACardWork()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    s.selection.select({{}, {}, "readGate"});
    QTest::qWait(50);
    WiringView *v = w.board()->wiring();
    const QRect card = v->cards()->visualRect(v->cards()->currentIndex()).adjusted(4, 0, -8, -6);
    QVERIFY2(card.height() > cardHeight, qPrintable(QString::number(card.height())));
    QTest::mouseClick(v->cards()->viewport(), Qt::LeftButton, {}, CardDelegate::openWord(card).center());
    QVERIFY(w.board()->drawer()->isOpen());
    int line = 0, column = 0;
    w.board()->drawer()->editor()->getCursorPosition(&line, &column);
    QVERIFY(w.board()->drawer()->editor()->text(line).contains("static int reading"));
}

// The bands are in reach however many cards there are: a card is let go on one at their foot.
void BandsTest::aCardIsDraggedToABandAtTheFoot_data()
{
    QTest::addColumn<Shape>("shape");
    QTest::addColumn<QString>("says");
    QTest::newRow("background") << Shape::Background << "statements are the work, on a thread.";
    QTest::newRow("timer") << Shape::Steps << "The loop runs in rounds of 8 ms";
}

void BandsTest::aCardIsDraggedToABandAtTheFoot()
{
    QFETCH(Shape, shape);
    QFETCH(QString, says);
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    QVERIFY(activate(w));
    w.session()->open(demoFolder() + "/ferry-desk/before");
    WiringView *wiring = w.board()->wiring();
    QListView *cards = wiring->cards();
    BandFoot *foot = wiring->bandFoot();
    QVERIFY(foot->isVisible());
    int row = 0;
    while (wiring->cardModel()->rows()[row].name != "ticketKey" &&
           wiring->cardModel()->rows()[row].name != "tideForecast")
        ++row;
    while (wiring->cardModel()->rows()[row].name != "tideForecast")
        ++row;
    cards->scrollTo(cards->model()->index(row, 0));
    const QPoint from = cards->visualRect(cards->model()->index(row, 0)).center();
    QTest::mousePress(cards->viewport(), Qt::LeftButton, {}, from);
    const QPoint step = from + QPoint(0, 30);
    QTest::mouseMove(cards->viewport(), step);
    const QPoint goal = foot->mapToGlobal(foot->zoneOf(shape).center());
    QTest::mouseMove(cards->viewport(), cards->viewport()->mapFromGlobal(goal));
    const QPoint there = foot->mapToGlobal(foot->zoneOf(shape).center()); // it has grown
    QTest::mouseRelease(cards->viewport(), Qt::LeftButton, {}, cards->viewport()->mapFromGlobal(there));
    const MovePanel *panel = w.board()->drawer()->movePanel();
    QVERIFY(panel->isVisible()); // the change is shown before it is made
    QTRY_VERIFY_WITH_TIMEOUT(panel->isReady(), 60'000);
    QVERIFY2(panel->sentences().contains(says), qPrintable(panel->sentences()));
}

PIPIT_TEST(BandsTest)
#include "bands_test.moc"
