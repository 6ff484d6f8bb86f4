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
    void sentencesAreEditedInPlace();
    void stubsLeadToTheirCards();
    void selectionIsOneEverywhere();
    void theFinderFinds();
    void theSheetShowsEverything();
    void manyAreConnectedInARow();
    void theWindowIsShownLarge();
    void aHandlerIsRemovedWithItsCode();
    void manyConnectionsStayReadable();
    void theKeyboardGoesToThePage();
};

void BoardTest::theKeyboardGoesToThePage()
{
    MainWindow w;
    w.show();
    w.session()->open(desks_.fresh());
    QVERIFY(activate(w));
    QTest::keyClick(&w, Qt::Key_2, Qt::AltModifier);
    QVERIFY(w.trace()->list()->hasFocus());
    QTest::keyClick(&w, Qt::Key_3, Qt::AltModifier);
    QVERIFY(w.pace()->stalls()->hasFocus());
    QTest::keyClick(&w, Qt::Key_4, Qt::AltModifier);
    QVERIFY(w.playsPage()->files()->hasFocus());
    QTest::keyClick(&w, Qt::Key_1, Qt::AltModifier);
    QVERIFY(w.board()->outline()->objects()->hasFocus());
    w.board()->connectLine()->setFocus();
    QTest::keyClick(&w, Qt::Key_1, Qt::AltModifier); // it is there already: nothing is taken away
    QVERIFY(w.board()->connectLine()->hasFocus());
}

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
    Outline *outline = w.board()->outline();
    enter(outline->addLine(), "frobnicator x");
    QVERIFY2(outline->addNote().contains("frobnicator"), qPrintable(outline->addNote()));
    QCOMPARE(outline->addLine()->text(), QString("frobnicator x"));
    enter(outline->addLine(), "buton x");
    QVERIFY2(outline->addNote().contains("Nearest: button"), qPrintable(outline->addNote()));
    enter(outline->addLine(), "button boardButton");
    QVERIFY2(outline->addNote().contains("already"), qPrintable(outline->addNote()));
    QTest::keyClick(outline->addLine(), Qt::Key_Backspace); // it goes when the text changes
    QVERIFY2(!outline->addNote().contains("already"), qPrintable(outline->addNote()));
    s.selection.select({"boardButton", {}, {}});
    enter(outline->valueLine(), "colour");
    QVERIFY2(outline->valueNote().contains("no property"), qPrintable(outline->valueNote()));
    enter(outline->valueLine(), "txt=x");
    QVERIFY2(outline->valueNote().contains("Nearest: text"), qPrintable(outline->valueNote()));
    enter(w.board()->connectLine(), "boardButton.clickd calls x");
    QVERIFY2(w.board()->connectNote().contains("Nearest: clicked"), qPrintable(w.board()->connectNote()));
    enter(w.board()->connectLine(), "boardButton clicked");
    QVERIFY2(w.board()->connectNote().contains("boardButton.clicked calls boardButtonClicked"),
             qPrintable(w.board()->connectNote()));
    enter(w.board()->connectLine(), "boardButton · clicked calls ticketKey");
    QVERIFY2(w.board()->connectNote().contains("does not fit"), qPrintable(w.board()->connectNote()));
    QVERIFY(w.message().isEmpty()); // it stands under the line that it is about, and nowhere else
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
    QVERIFY(offered("tide").contains("tideButton."));
    // However it is divided, it goes on from what is typed.
    for (const QString between : {".", " ", " . ", " · "})
        QVERIFY2(offered("tideButton" + between + "cl").contains("tideButton" + between + "clicked calls "),
                 qPrintable(between));
    QVERIFY(offered("tideButton clicked calls statusLabel se")
                .contains("tideButton clicked calls statusLabel setText"));
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
    auto *note = w.findChild<QLabel *>("sentenceNote");
    QVERIFY(note && note->isVisible() && note->text().contains("begins with the name"));
    QTest::keyClick(line, Qt::Key_Escape);
    QVERIFY(!line->isVisible());
    QCOMPARE(s.document.project().widget("boardButton")->textOf("text"), QString("Board"));
    // Another name renames, with the code shown before.
    QTest::mouseClick(rows->viewport(), Qt::LeftButton, {}, rows->visualRect(rows->currentIndex()).center());
    QTest::mouseDClick(rows->viewport(), Qt::LeftButton, {}, rows->visualRect(rows->currentIndex()).center());
    QVERIFY(line->isVisible());
    line->setText(line->text().replace("boardButton,", "departButton,"));
    QTest::keyClick(line, Qt::Key_Return);
    QVERIFY(w.board()->drawer()->renamePanel()->isVisible());
    QTest::mouseClick(w.board()->drawer()->renamePanel()->applyButton(), Qt::LeftButton);
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
    Finder *finder = w.finder();
    QVERIFY(finder->isVisible());
    QVERIFY(finder->list()->rowModel()->rowCount() > 60); // everything, before anything is typed
    QTest::keyClicks(finder->line(), "tideButton");
    QTest::keyClick(finder->line(), Qt::Key_Return);
    QCOMPARE(w.session()->selection.now().object, QString("tideButton"));
    QVERIFY(!finder->isVisible());
    const auto go = [&](const QString &name) {
        QTest::keyClick(&w, Qt::Key_J, Qt::ControlModifier);
        finder->line()->setText(name);
        QTest::keyClick(finder->line(), Qt::Key_Return);
    };
    go("boardPassenger"); // a handler, by its full name
    QCOMPARE(w.session()->selection.now().handler, QString("boardPassenger"));
    QVERIFY(w.board()->drawer()->isOpen());
    go("tide"); // a play
    QVERIFY(w.playsPage()->isVisible());
    go("Trace");
    QVERIFY(w.trace()->isVisible());
    go("boardButton clicked"); // by words, a connection
    QVERIFY(!w.session()->selection.now().connection.isEmpty());
}

// Everything that can be done is in one sheet; what cannot act says why; keys can be others.
void BoardTest::theSheetShowsEverything()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    w.session()->open(desks_.fresh());
    QTest::keyClick(&w, Qt::Key_F10);
    QVERIFY(w.sheet()->isVisible());
    int listed = 0;
    for (const Row &r : w.sheet()->list()->rowModel()->rows())
        listed += !r.heading;
    QCOMPARE(listed, int(w.actions()->all().size()));
    w.sheet()->list()->selectKey("rename");
    QTest::keyClick(w.sheet()->list(), Qt::Key_Return); // nothing is selected
    QVERIFY(!w.sheet()->isVisible());
    auto *state = w.findChild<QLabel *>("stateText");
    QVERIFY(state && state->text().contains("Select a widget"));
    // Keys that another action has are refused; others are taken and work.
    QTest::keyClick(&w, Qt::Key_F10);
    w.sheet()->list()->selectKey("plays");
    w.actions()->setKeys("plays", "Ctrl+4");
    QVERIFY(w.actions()->takenBy("Ctrl+4", "board"));
    QTest::keyClick(w.sheet()->list(), Qt::Key_Escape);
    QTest::keyClick(&w, Qt::Key_4, Qt::ControlModifier);
    QVERIFY(w.playsPage()->isVisible());
    w.actions()->setKeys("plays", {});
    QVERIFY(!w.actions()->takenBy("Ctrl+4", {}));
    QSet<QString> ids, keys;
    for (const Action &a : w.actions()->all()) {
        QVERIFY2(!ids.contains(a.id), qPrintable(a.id));
        ids.insert(a.id);
        for (const QString &k : a.keys) {
            QVERIFY2(!keys.contains(k), qPrintable(k)); // none means two things
            keys.insert(k);
        }
    }
}

// One key, and the window stands at its true size where the sentences were; texts are changed in it.
void BoardTest::theWindowIsShownLarge()
{
    MainWindow w;
    w.resize(1280, 800);
    w.show();
    QVERIFY(activate(w));
    w.session()->open(desks_.fresh());
    PreviewView *preview = w.board()->preview();
    QVERIFY(QTest::qWaitFor([&] { return preview->hasPicture(); }, 20'000));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QVERIFY(w.board()->isLarge() && preview->height() > 400 &&
            !w.board()->wiring()->sentences()->isVisible());
    QVERIFY(w.board()->wiring()->cards()->isVisible());
    QCOMPARE(preview->shownAt("boardButton").size().toSize(),
             preview->placeOf("boardButton").size()); // not scaled
    QTest::mouseDClick(preview, Qt::LeftButton, {}, preview->shownAt("boardButton").center().toPoint());
    QVERIFY(preview->textLine() && preview->textLine()->isVisible());
    QTest::keyClicks(preview->textLine(), "Depart");
    QTest::keyClick(preview->textLine(), Qt::Key_Return);
    QCOMPARE(w.session()->document.project().widget("boardButton")->textOf("text"), QString("Depart"));
    preview->setFocus();
    QTest::keyClick(preview, Qt::Key_B); // what is typed there is added there
    QCOMPARE(w.board()->outline()->addLine()->text(), QString("b"));
    QTest::keyClick(&w, Qt::Key_W, Qt::AltModifier);
    QVERIFY(!w.board()->isLarge() && preview->isVisible() && w.board()->wiring()->sentences()->isVisible());
    QCOMPARE(preview->height(), 200);
}

void BoardTest::aHandlerIsRemovedWithItsCode()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    w.session()->open(desks_.fresh());
    Document &d = w.session()->document;
    const QString before = *d.workspace().files().text("ferry_desk.cpp");
    w.session()->selection.select({{}, {}, "boardPassenger"});
    w.board()->wiring()->cards()->setFocus();
    QTest::keyClick(w.board()->wiring()->cards(), Qt::Key_Delete);
    QVERIFY(!d.project().handler("boardPassenger"));
    QVERIFY(!d.workspace().files().text("ferry_desk.cpp")->contains("::boardPassenger"));
    for (const Connection &c : d.project().connections)
        QVERIFY(c.to != "boardPassenger");
    d.undo();
    QVERIFY(d.project().handler("boardPassenger"));
    QCOMPARE(*d.workspace().files().text("ferry_desk.cpp"), before);
}

// After a connection the line is ready for the next; our keys work from within the code.
void BoardTest::manyAreConnectedInARow()
{
    MainWindow w;
    w.show();
    QVERIFY(activate(w));
    w.session()->open(desks_.fresh());
    QTest::keyClick(&w, Qt::Key_I, Qt::AltModifier);
    QLineEdit *line = w.board()->connectLine();
    for (const char *sentence : {"boardButton.pressed calls first", "boardButton released calls second"}) {
        QVERIFY(line->hasFocus());
        QTest::keyClicks(line, sentence);
        QTest::keyClick(line, Qt::Key_Return);
        QVERIFY(line->text().isEmpty());
    }
    QVERIFY(w.session()->document.project().handler("second"));
    Editor *editor = w.board()->drawer()->editor();
    QTest::keyClick(line, Qt::Key_C, Qt::AltModifier);
    QVERIFY(editor->hasFocus());
    QTest::keyClick(editor, Qt::Key_Insert); // the text's own
    QVERIFY(editor->hasFocus());
    QTest::keyClick(editor, Qt::Key_I, Qt::AltModifier);
    QVERIFY(line->hasFocus());
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
