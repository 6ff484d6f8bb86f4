// The Board and its parts, by keyboard and mouse.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/typed.h"
#include "tests/support/window.h"

#include <QProcess>
#include <QScrollBar>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class BoardTest : public QObject
{
    Q_OBJECT
private:
    Desks desks_;

private slots:
    void sentencesStandInTheOrderOfTheOutline();
    void filteringKeepsWhatFits();
    void theOutlineAddsWhereTheSelectionSays();
    void propertiesAreSetInALine();
    void mistakesAreSaidAndKeepTheLine();
    void completionsFollowWhatIsTyped();
    void aConnectionIsRemovedAndComesBack();
    void aCardDraggedToAnotherBandShowsTheMove();
    void theWordsOnACardWork();
    void sentencesAreEditedInPlace();
    void stubsLeadToTheirCards();
    void selectionIsOneEverywhere();
    void theFinderFinds();
    void manyConnectionsStayReadable();
};

void BoardTest::sentencesStandInTheOrderOfTheOutline()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    QCOMPARE(phrases(w),
             (QStringList{"ticketField · returnPressed calls boardPassenger",
                          "ticketField · key press (key Escape) calls ticketKey",
                          "boardButton · clicked calls boardPassenger",
                          "tideButton · clicked calls tideForecast", "gateTimer · timeout calls readGate"}));
    const auto rows = w.board()->wiring()->cardModel()->rows();
    QStringList cards;
    for (const CardRow &r : rows)
        cards << (r.kind == CardRow::Band ? "- " + r.name : r.name);
    QCOMPARE(cards, (QStringList{"- on the loop, in one go", "boardPassenger", "ticketKey", "tideForecast",
                                 "readGate", "- on a timer, in steps", "- in the background, on a thread"}));
    QVERIFY(rows[1].place.startsWith("ferry_desk.cpp:"));
    QCOMPARE(rows[1].connections, 2);
    w.session()->open(desks_.fresh("after"));
    QCOMPARE(w.board()->wiring()->cardModel()->rows().last().name, QString("tideForecast"));
}

void BoardTest::filteringKeepsWhatFits()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    auto *filter = w.board()->findChild<QLineEdit *>("filterLine");
    QTest::keyClicks(filter, "ticket");
    QCOMPARE(phrases(w).size(), 2);
    filter->setText("nothing like it");
    QVERIFY(phrases(w).isEmpty());
    filter->clear();
    QCOMPARE(phrases(w).size(), 5);
}

void BoardTest::theOutlineAddsWhereTheSelectionSays()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    const auto parentOf = [&](const QString &name) {
        QString parent;
        s.document.project().eachWidget([&](const WidgetNode &n, const WidgetNode *p) {
            if (n.name == name && p)
                parent = p->name;
        });
        return parent;
    };
    s.selection.select({"tideRow", {}, {}});
    enter(w.board()->outline()->addLine(), "button inRow");
    QCOMPARE(parentOf("inRow"), QString("tideRow"));
    QCOMPARE(s.selection.now().object, QString("inRow"));
    enter(w.board()->outline()->addLine(), "label besideIt \"beside\"");
    QCOMPARE(parentOf("besideIt"), QString("tideRow"));
    s.selection.select({"statusLabel", {}, {}});
    enter(w.board()->outline()->addLine(), "tick box atEnd \"Papers\"");
    QCOMPARE(parentOf("atEnd"), QString("ferryDesk"));
    enter(w.board()->outline()->addLine(), "timer second");
    QCOMPARE(s.document.project().classOf("second"), QString("QTimer"));
    for (int i = 0; i < 4; ++i)
        s.document.undo();
    QVERIFY(!s.document.project().widget("inRow") && !s.document.workspace().canUndo());
}

void BoardTest::propertiesAreSetInALine()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    s.selection.select({"boardButton", {}, {}});
    enter(w.board()->outline()->valueLine(), "text=All aboard = now");
    QCOMPARE(s.document.project().widget("boardButton")->property("text")->toString(),
             QString("All aboard = now"));
    QVERIFY(w.board()->outline()->valueLine()->text().isEmpty());
    s.selection.select({"gateTimer", {}, {}});
    enter(w.board()->outline()->valueLine(), "interval=500");
    QCOMPARE(s.document.project().timer("gateTimer")->interval, 500);
}

void BoardTest::mistakesAreSaidAndKeepTheLine()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    const QByteArray before = projectBytes(s.document.project());
    enter(w.board()->outline()->addLine(), "frobnicator x");
    QVERIFY(w.message().contains("frobnicator"));
    QCOMPARE(w.board()->outline()->addLine()->text(), QString("frobnicator x"));
    enter(w.board()->outline()->addLine(), "button boardButton");
    QVERIFY(w.message().contains("already"));
    s.selection.select({"boardButton", {}, {}});
    enter(w.board()->outline()->valueLine(), "colour");
    QVERIFY(w.message().contains("no property"));
    enter(w.board()->outline()->valueLine(), "txt=x");
    QVERIFY(w.message().contains("Nearest: text"));
    enter(w.board()->connectLine(), "boardButton · clickd calls x");
    QVERIFY(w.message().contains("Nearest: clicked"));
    enter(w.board()->connectLine(), "boardButton clicked");
    QVERIFY(w.message().contains("no connection yet"));
    enter(w.board()->connectLine(), "boardButton · clicked calls ticketKey");
    QVERIFY(w.message().contains("does not fit"));
    QCOMPARE(w.board()->connectLine()->text(), QString("boardButton · clicked calls ticketKey"));
    QCOMPARE(projectBytes(s.document.project()), before);
}

void BoardTest::completionsFollowWhatIsTyped()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    QLineEdit *line = w.board()->connectLine();
    const auto offered = [&](const QString &typed) {
        line->setFocus();
        line->clear();
        QTest::keyClicks(line, typed);
        QStringList all;
        auto *c = line->completer();
        for (int i = 0; i < c->completionModel()->rowCount(); ++i)
            all << c->completionModel()->index(i, 0).data().toString();
        return all;
    };
    QVERIFY(offered("tide").contains("tideButton · "));
    line->setText("tideButton · ");
    Q_EMIT line->textEdited(line->text());
    const auto lines = static_cast<QStringListModel *>(line->completer()->model())->stringList();
    QVERIFY(lines.contains("tideButton · clicked calls "));
    QVERIFY(lines.contains("tideButton · key press calls "));
    line->setText("tideButton · clicked calls ");
    Q_EMIT line->textEdited(line->text());
    QVERIFY(static_cast<QStringListModel *>(line->completer()->model())
                ->stringList()
                .contains("tideButton · clicked calls boardPassenger"));
}

void BoardTest::aConnectionIsRemovedAndComesBack()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    QVERIFY(activate(w));
    QListView *list = w.board()->wiring()->sentences();
    list->setFocus();
    list->setCurrentIndex(list->model()->index(3, 0));
    QCOMPARE(s.selection.now().handler, QString("tideForecast"));
    QTest::keyClick(list, Qt::Key_Delete);
    QCOMPARE(s.document.project().connections.size(), 4);
    QVERIFY(phrases(w).contains("Nothing is connected to tideButton · clicked. Connect it to a handler."));
    bool dead = false;
    for (const CardRow &r : w.board()->wiring()->cardModel()->rows())
        dead = dead || r.finding.contains("No connection calls tideForecast");
    QVERIFY(dead);
    s.document.undo();
    QCOMPARE(phrases(w).size(), 5);
    QCOMPARE(s.document.workspace().redoText(), QString("disconnect tideButton · clicked"));
}

void BoardTest::aCardDraggedToAnotherBandShowsTheMove()
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
    QVERIFY(w.board()->drawer()->movePanel()->isVisible());
    QVERIFY(w.board()->drawer()->movePanel()->sentences().contains("tideForecastWork"));
    QCOMPARE(s.document.project().handler("tideForecast")->shape,
             Shape::OneGo); // nothing happens before it is applied
    QTest::mouseClick(w.board()->drawer()->movePanel()->applyButton(), Qt::LeftButton);
    QCOMPARE(s.document.project().handler("tideForecast")->shape, Shape::Background);
}

void BoardTest::theWordsOnACardWork()
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

void BoardTest::sentencesAreEditedInPlace()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    QVERIFY(activate(w));
    RowList *rows = w.board()->outline()->objects();
    s.selection.select({"boardButton", {}, {}});
    rows->setFocus();
    QTest::keyClick(rows, Qt::Key_F2);
    auto *line = w.findChild<QLineEdit *>("sentenceLine");
    QVERIFY(line && line->isVisible());
    QCOMPARE(line->selectedText(), QString("Board")); // what is changed most often
    QTest::keyClicks(line, "Depart");
    line->end(false);
    QTest::keyClicks(line, ", hidden");
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(!line->isVisible());
    QCOMPARE(s.document.project().widget("boardButton")->textOf("text"), QString("Depart"));
    QVERIFY(s.document.project().widget("boardButton")->property("visible"));
    s.document.undo(); // one step
    QCOMPARE(s.document.project().widget("boardButton")->textOf("text"), QString("Board"));
    // A mistake keeps the line and says why; Escape leaves everything as it was.
    QTest::keyClick(rows, Qt::Key_F2);
    line->setText("boardButton, a list");
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(line->isVisible());
    QVERIFY(w.message().contains("begins with the name"));
    QTest::keyClick(line, Qt::Key_Escape);
    QVERIFY(!line->isVisible());
    QCOMPARE(s.document.project().widget("boardButton")->textOf("text"), QString("Board"));
    // Another name renames, with the code shown before.
    QTest::mouseClick(rows->viewport(), Qt::LeftButton, {}, rows->visualRect(rows->currentIndex()).center());
    QTest::mouseDClick(rows->viewport(), Qt::LeftButton, {}, rows->visualRect(rows->currentIndex()).center());
    QVERIFY(line->isVisible());
    line->setText(line->text().replace("boardButton,", "departButton,"));
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(w.board()->drawer()->movePanel()->isVisible());
    QTest::mouseClick(w.board()->drawer()->movePanel()->applyButton(), Qt::LeftButton);
    QVERIFY(s.document.project().widget("departButton"));
}

void BoardTest::stubsLeadToTheirCards()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    Session &s = *w.session();
    const QString to = desks_.path() + "/stubs";
    copyFolder(demoFolder() + "/ferry-desk/before", to);
    s.open(to);
    QTest::qWait(50);
    WiringView *v = w.board()->wiring();
    int row = -1, card = -1;
    for (int i = 0; i < v->sentenceModel()->rowCount(); ++i)
        if (v->sentenceModel()->row(i).handler == "loadCar")
            row = i;
    for (int i = 0; i < v->cardModel()->rowCount(); ++i)
        if (v->cardModel()->rows()[i].name == "loadCar")
            card = i;
    QVERIFY(row >= 0 && card >= 0);
    const auto shown = [&] {
        return v->cards()->viewport()->rect().contains(
            v->cards()->visualRect(v->cardModel()->index(card)).center());
    };
    QVERIFY(!shown());
    auto *gutter = v->findChild<QWidget *>("gutter");
    const QRect at = v->sentences()->visualRect(v->sentenceModel()->index(row, 0));
    QTest::mouseClick(gutter, Qt::LeftButton, {}, QPoint(30, at.center().y()));
    QVERIFY(shown());
}

void BoardTest::selectionIsOneEverywhere()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.open(desks_.fresh());
    RowList *outline = w.board()->outline()->objects();
    outline->setFocus();
    outline->setCurrentIndex(outline->rowModel()->index(outline->rowModel()->indexOf("tideButton")));
    QCOMPARE(s.selection.now().object, QString("tideButton"));
    QVERIFY(w.board()->outline()->offers()->isVisible());
    s.selection.select({"ticketField", "c15", "boardPassenger"});
    QCOMPARE(outline->currentKey(), QString("ticketField"));
    QCOMPARE(w.board()->wiring()->sentences()->currentIndex().row(), 0);
    QCOMPARE(w.board()->wiring()->cards()->currentIndex().row(), 1);
    s.selection.select({});
    QVERIFY(!w.board()->wiring()->cards()->currentIndex().isValid());
    QVERIFY(!w.board()->outline()->offers()->isVisible());
}

void BoardTest::theFinderFinds()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    w.session()->open(desks_.fresh());
    QTest::keyClick(&w, Qt::Key_J, Qt::ControlModifier);
    auto *finder = w.findChild<QLineEdit *>("finder");
    QVERIFY(finder->isVisible());
    QTest::keyClicks(finder, "tideB");
    QCOMPARE(finder->completer()->currentCompletion(), QString("tideButton"));
    Q_EMIT finder->completer()->activated(QString("tideButton"));
    QVERIFY(QTest::qWaitFor([&] { return w.session()->selection.now().object == "tideButton"; }, 2000));
    QVERIFY(!finder->isVisible());
}

void BoardTest::manyConnectionsStayReadable()
{
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.document.create(desks_.path() + "/many");
    s.document.edit([](Workspace &ws) {
        Edit e{"fill", {}, ws.project(), {}};
        fillWithButtons(e.after, 1500, [](int i) { return QStringLiteral("press%1").arg(i % 40); });
        for (int i = 0; i < 40; ++i) {
            Handler h;
            h.id = e.after.newId("h");
            h.name = QStringLiteral("press%1").arg(i);
            h.file = "many.cpp";
            e.after.handlers.append(h);
        }
        return ws.apply(e);
    });
    QCOMPARE(phrases(w).size(), 1500);
    w.board()->wiring()->sentences()->verticalScrollBar()->setValue(4000);
    QVERIFY(!w.grab().isNull());
    s.selection.select({"key700", {}, "press20"});
    QCOMPARE(w.board()->outline()->objects()->currentKey(), QString("key700"));
}

PIPIT_TEST(BoardTest)
#include "board_test.moc"
