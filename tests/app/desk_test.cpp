// The ferry desk from nothing, by keyboard and mouse alone, in the real window; then run, and
// compared with the one that ships.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/typed.h"
#include "tests/support/window.h"

#include <QApplication>
#include <QClipboard>
#include <QCompleter>

using namespace pipit;
using namespace pipit::app;
using namespace pipit::tests;

class DeskTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;
    static void click(QWidget *on, const QPoint &at) { QTest::mouseClick(on, Qt::LeftButton, {}, at); }
    // Pressed, moved in several steps, let go.
    static void drag(QWidget *from, const QPoint &at, QWidget *to, const QPoint &end)
    {
        QTest::mousePress(from, Qt::LeftButton, {}, at);
        const QPoint target = from->mapFromGlobal(to->mapToGlobal(end));
        for (int i = 1; i <= 5; ++i)
            QTest::mouseMove(from, at + (target - at) * i / 5);
        QMouseEvent move(QEvent::MouseMove, target, from->mapToGlobal(target), Qt::NoButton, Qt::LeftButton,
                         {});
        QApplication::sendEvent(from, &move);
        QTest::mouseRelease(from, Qt::LeftButton, {}, target);
    }
    static QPoint rowOf(RowList *list, const QString &key)
    {
        return list->visualRect(list->model()->index(list->rowModel()->indexOf(key), 0)).center();
    }
    void openFresh(MainWindow &w, const QString &name)
    {
        w.show();
        w.session()->document.create(dir_.path() + '/' + name);
        QVERIFY(w.session()->document.isOpen());
    }

private slots:
    void theDeskIsTypedFromNothing();
    void widgetsAreMovedByDraggingAndByKeys();
    void offersAreDraggedToCards();
    void copiedAndPastedByKeys();
    void renamingShowsWhatFollows();
    void newNamesAreJudgedByWhatTheyStandFor();
    void whatIsTypedIsLookedAtBefore();
    void namesAreLookedAtAsTheyAreTyped();
    void findingsAreMendedInOneStep();
    void connectionsAreSwitchedWhileRunning();
    void theEditorHelps();
    void theEditorKnowsWhatTheCodeDeclares();
    void previewFollowsItsOptions();
    void unsavedWorkIsOffered();
    void closingSavesWhatIsTypedMeanwhile();
    void whatCannotBeSavedKeepsTheWindowOnce();
};

void DeskTest::theDeskIsTypedFromNothing()
{
    MainWindow w;
    openFresh(w, "ferry-desk");
    const QList<TypedLine> lines = typedLines("ferry-desk.typed");
    for (const TypedLine &line : lines) {
        if (line.verb == "set") { // a person selects what is to be set, then types
            const QString subject = line.text.section(':', 0, 0);
            RowList *outline = w.board()->outline()->objects();
            outline->scrollTo(outline->model()->index(outline->rowModel()->indexOf(subject), 0));
            click(outline->viewport(), rowOf(outline, subject));
            QCOMPARE(w.session()->selection.now().object, subject);
            typeInto(w.board()->outline()->valueLine(), line.text.section(':', 1).trimmed());
        } else if (line.verb == "add") {
            typeInto(w.board()->outline()->addLine(), line.text);
        } else {
            typeInto(w.board()->connectLine(), line.text);
        }
        QVERIFY2(w.message().isEmpty(), qPrintable(line.text + ": " + w.message()));
    }
    auto shipped = readFile(demoFolder() + "/ferry-desk/before/ferry-desk.pipit");
    QCOMPARE(QString::fromUtf8(projectBytes(w.session()->document.project())), QString::fromUtf8(*shipped));
    // Run it: the stubs do nothing yet, but the window is there and its wiring counts.
    w.session()->runs.run();
    QTRY_VERIFY_WITH_TIMEOUT(w.session()->runs.state() == RunState::Running, 90'000);
    auto run = w.session()->shown.liveRun();
    QVERIFY(run->program().request("window", {}, std::chrono::seconds(20)));
    QVERIFY(run->program().request("click", {{"target", "boardButton"}}, std::chrono::seconds(5)));
    QTRY_VERIFY_WITH_TIMEOUT(w.session()->shown.figures().handlers.value("boardPassenger").count == 1,
                             10'000);
    w.session()->runs.stop();
    QTRY_COMPARE_WITH_TIMEOUT(w.session()->runs.state(), RunState::Idle, 20'000);
}

void DeskTest::widgetsAreMovedByDraggingAndByKeys()
{
    MainWindow w;
    openFresh(w, "moves");
    for (const char *line : {"row left", "row right in moves", "button a in left", "button b in left"})
        typeInto(w.board()->outline()->addLine(), line);
    RowList *outline = w.board()->outline()->objects();
    const Session &s = *w.session();
    drag(outline->viewport(), rowOf(outline, "b"), outline->viewport(),
         rowOf(outline, "right") + QPoint(0, 4));
    QCOMPARE(s.document.project().parentOf("b")->name, QString("right"));
    w.session()->document.undo();
    QCOMPARE(s.document.project().parentOf("b")->name, QString("left"));
    click(outline->viewport(), rowOf(outline, "b"));
    w.board()->outline()->moveSelected(Outline::Step::Up);
    QCOMPARE(s.document.project().widget("left")->children.first().name, QString("b"));
    w.board()->outline()->moveSelected(Outline::Step::Out);
    QCOMPARE(s.document.project().parentOf("b")->name, QString("moves"));
    w.board()->outline()->moveSelected(Outline::Step::In);
    QCOMPARE(s.document.project().parentOf("b")->name, QString("left"));
    // In the preview, before the widget under the pointer.
    PreviewView *p = w.board()->preview();
    QTRY_VERIFY_WITH_TIMEOUT(p->placeOf("b").isValid() && p->placeOf("b").x() > p->placeOf("a").x(), 10'000);
    drag(p, p->shownAt("b").center().toPoint(), p, p->shownAt("a").center().toPoint());
    QCOMPARE(s.document.project().widget("left")->children.first().name, QString("b"));
}

void DeskTest::offersAreDraggedToCards()
{
    MainWindow w;
    openFresh(w, "offers");
    typeInto(w.board()->outline()->addLine(), "button {go,stop}");
    typeInto(w.board()->connectLine(), "go · clicked calls depart");
    RowList *outline = w.board()->outline()->objects();
    click(outline->viewport(), rowOf(outline, "stop"));
    RowList *offers = w.board()->outline()->offers();
    offers->scrollTo(offers->model()->index(offers->rowModel()->indexOf("clicked"), 0));
    QListView *cards = w.board()->wiring()->cards();
    const QPoint card = cards->visualRect(cards->model()->index(1, 0)).center();
    drag(offers->viewport(), rowOf(offers, "clicked"), cards->viewport(), card);
    QCOMPARE(w.session()->document.project().connections.size(), 2);
    QCOMPARE(w.session()->document.project().connections.last().from, QString("stop"));
    QCOMPARE(w.session()->document.project().connections.last().to, QString("depart"));
}

void DeskTest::copiedAndPastedByKeys()
{
    MainWindow w;
    openFresh(w, "copies");
    typeInto(w.board()->outline()->addLine(), "field nameField");
    typeInto(w.board()->connectLine(), "nameField · returnPressed calls take");
    RowList *outline = w.board()->outline()->objects();
    click(outline->viewport(), rowOf(outline, "nameField"));
    w.board()->outline()->copy();
    w.board()->outline()->paste();
    QVERIFY(w.session()->document.project().widget("nameField2"));
    QCOMPARE(w.session()->document.project().connections.size(), 2);
    QApplication::clipboard()->setText("something else");
    w.board()->outline()->paste();
    QVERIFY(w.message().contains("no widgets of a Pipit project"));
}

void DeskTest::renamingShowsWhatFollows()
{
    MainWindow w;
    openFresh(w, "names");
    typeInto(w.board()->outline()->addLine(), "button b{1..3}");
    typeInto(w.board()->connectLine(), "b1 · clicked calls go");
    Session &s = *w.session();
    QString code = *s.document.workspace().files().text("names.cpp");
    code.replace("void Names::go()\n{\n",
                 "void Names::go()\n{\n    b2->setText(\"b2\"); // b2\n    other.b2 = 1;\n");
    s.document.workspace().files().setText("names.cpp", code);
    typeInto(w.board()->outline()->valueLine(), "rename b(\\d+) to key_$1");
    RenamePanel *panel = w.board()->drawer()->renamePanel();
    QVERIFY(panel->isVisible());
    QVERIFY2(panel->sentences().contains("1 line of your code changes"), qPrintable(panel->sentences()));
    QVERIFY(panel->sentences().contains("belongs to other"));
    QVERIFY(s.document.project().widget("b2")); // nothing has changed yet
    QTest::mouseClick(panel->applyButton(), Qt::LeftButton);
    QVERIFY(s.document.project().widget("key_2") && !s.document.project().widget("b2"));
    QCOMPARE(s.document.project().connections.first().from, QString("key_1"));
    code = *s.document.workspace().files().text("names.cpp");
    QVERIFY(code.contains("key_2->setText(\"b2\"); // b2"));
    QVERIFY(code.contains("other.b2 = 1;"));
    s.document.undo();
    QVERIFY(s.document.project().widget("b2"));
    QVERIFY(s.document.workspace().files().text("names.cpp")->contains("    b2->setText"));
}

// What the text alone would leave alone is shown again once the code was read.
void DeskTest::newNamesAreJudgedByWhatTheyStandFor()
{
    MainWindow w;
    openFresh(w, "looked");
    typeInto(w.board()->outline()->addLine(), "button go");
    typeInto(w.board()->connectLine(), "go · clicked calls start");
    Session &s = *w.session();
    QString code = *s.document.workspace().files().text("looked.cpp");
    code.replace("void Looked::start()\n{\n",
                 "void Looked::start()\n{\n    Looked &me = *this;\n    me.go->hide();\n");
    s.document.workspace().files().setText("looked.cpp", code);
    s.selection.select({"go", {}, {}});
    typeInto(w.board()->outline()->valueLine(), "name departButton");
    RenamePanel *panel = w.board()->drawer()->renamePanel();
    QVERIFY2(panel->sentences().contains("No line of your code"), qPrintable(panel->sentences()));
    QVERIFY2(panel->sentences().contains("Pipit is reading your code"), qPrintable(panel->sentences()));
    QTRY_VERIFY_WITH_TIMEOUT(panel->sentences().contains("Names were resolved in your code"), 60000);
    QVERIFY2(panel->sentences().contains("1 line of your code"), qPrintable(panel->sentences()));
    QTest::mouseClick(panel->applyButton(), Qt::LeftButton);
    QVERIFY(s.document.workspace().files().text("looked.cpp")->contains("me.departButton->hide();"));
}

void DeskTest::whatIsTypedIsLookedAtBefore()
{
    MainWindow w;
    openFresh(w, "looks");
    typeInto(w.board()->outline()->addLine(), "button key_{0..9}");
    typeInto(w.board()->outline()->addLine(), "field ticketField");
    w.board()->connectLine()->setText("#key_* · clicked calls keyDown");
    QTRY_VERIFY(w.board()->connectNote().contains("10 sources"));
    w.board()->connectLine()->setText("ticketField · key press (key Ctrl+X) calls cutAll");
    QTRY_VERIFY(w.board()->connectNote().contains("cuts"));
    QVERIFY(w.board()->connectNote().contains("returns true"));
    w.board()->connectLine()->setText("ticketField · key press (key Nonsense) calls cutAll");
    QTRY_VERIFY(w.board()->connectNote().contains("unknown key"));
    QVERIFY(w.session()->document.project().connections.isEmpty());
}

void DeskTest::namesAreLookedAtAsTheyAreTyped()
{
    MainWindow w;
    openFresh(w, "typed");
    typeInto(w.board()->outline()->addLine(), "button boardButton");
    const auto said = [&](const QString &line) {
        w.board()->outline()->addLine()->clear();
        QTest::keyClicks(w.board()->outline()->addLine(), line);
        return w.board()->outline()->addNote();
    };
    QVERIFY(said("button boardButton").contains("already"));
    QVERIFY(said("button bordButton").contains("nearly the same as boardButton"));
    QVERIFY(said("button size").contains("hides"));
    QVERIFY(said("button class").contains("not a C++ name"));
    QCOMPARE(said("button ticketButton"), QString());
}

void DeskTest::findingsAreMendedInOneStep()
{
    MainWindow w;
    w.show();
    copyFolder(demoFolder() + "/faults/sleeping-timer", dir_.path() + "/sleeping");
    w.session()->open(dir_.path() + "/sleeping");
    QCOMPARE(w.session()->document.findings().size(), 1);
    w.board()->drawer()->showFindings();
    RowList *list = w.board()->drawer()->findingsList();
    QTest::keyClick(list, Qt::Key_Down);
    list->setCurrentIndex(list->model()->index(0, 0));
    QTest::keyClick(list, Qt::Key_Return);
    QVERIFY(w.session()->document.findings().isEmpty());
    QVERIFY(w.session()->document.project().timer("gateTimer")->autostart);
}

void DeskTest::connectionsAreSwitchedWhileRunning()
{
    MainWindow w;
    openFresh(w, "switches");
    typeInto(w.board()->outline()->addLine(), "button go \"Go\"");
    typeInto(w.board()->connectLine(), "go · clicked calls first");
    typeInto(w.board()->connectLine(), "go · clicked calls second");
    Session &s = *w.session();
    s.runs.run();
    QTRY_VERIFY_WITH_TIMEOUT(s.runs.state() == RunState::Running, 90'000);
    auto run = s.shown.liveRun();
    QVERIFY(run->program().request("window", {}, std::chrono::seconds(20)));
    const auto press = [&] {
        QVERIFY(run->program().request("click", {{"target", "go"}}, std::chrono::seconds(5)));
        QVERIFY(run->program().request("idle", {}, std::chrono::seconds(5)));
    };
    const auto calls = [&](const char *name) {
        return s.shown.figures().handlers.value(QLatin1String(name)).count;
    };
    press();
    QTRY_COMPARE_WITH_TIMEOUT(calls("second"), 1, 10'000);
    s.runs.switchConnection(s.document.project().connections.first().id, false);
    QTest::qWait(300); // the program takes it on its own loop
    press();
    QTRY_COMPARE_WITH_TIMEOUT(calls("second"), 2, 10'000);
    QCOMPARE(calls("first"), 1); // and only once
    QCOMPARE(s.lastInput().first, QString("go"));
    QCOMPARE(s.lastInput().second, QString("clicked"));
    s.runs.switchConnection(s.document.project().connections.first().id, true);
    QTest::qWait(300);
    press();
    QTRY_COMPARE_WITH_TIMEOUT(calls("first"), 2, 10'000);
    s.runs.stop();
    QTRY_COMPARE_WITH_TIMEOUT(s.runs.state(), RunState::Idle, 20'000);
}

void DeskTest::theEditorHelps()
{
    MainWindow w;
    openFresh(w, "helps");
    typeInto(w.board()->outline()->addLine(), "button boardButton");
    typeInto(w.board()->connectLine(), "boardButton · clicked calls board");
    Editor *e = w.board()->drawer()->editor();
    QCOMPARE(e->handlerAtCursor(), QString("board"));
    int line = 0, column = 0;
    e->getCursorPosition(&line, &column);
    e->insertAt("    boardButton->setT\n", line, 0);
    QVERIFY(e->completionsAt(line, 21).contains("setText"));
    QVERIFY(!e->completionsAt(line, 21).contains("clicked"));
    QSignalSpy checked(e, &Editor::checked);
    QTRY_VERIFY_WITH_TIMEOUT(checked.count() > 0, 60'000);
    e->findText("setT", false);
    QCOMPARE(e->selectedText(), QString("setT"));
    QVERIFY(w.session()->document.workspace().files().dirty("helps.cpp"));
}

// Variables of the function's own, which no catalog has.
void DeskTest::theEditorKnowsWhatTheCodeDeclares()
{
    MainWindow w;
    openFresh(w, "knows");
    typeInto(w.board()->outline()->addLine(), "button boardButton");
    typeInto(w.board()->connectLine(), "boardButton · clicked calls board");
    Editor *e = w.board()->drawer()->editor();
    int line = 0, column = 0;
    e->getCursorPosition(&line, &column);
    const QString code = "    const QString ferryName;\n    ferryName.";
    e->insertAt(code, line, 0);
    e->setCursorPosition(line + 1, 14);
    QVERIFY(activate(w));
    QTest::keyClick(w.board()->connectLine(), Qt::Key_C, Qt::AltModifier);
    QVERIFY(e->hasFocus());
    e->setCursorPosition(line + 1, 14);
    QSignalSpy known(e, &Editor::wordsKnown);
    QTest::keyClicks(e, "tr");
    QTRY_VERIFY_WITH_TIMEOUT(known.count() > 0, 60'000);
    QVERIFY2(e->knownWords().contains("trimmed"), qPrintable(e->knownWords().join(' ')));
    QVERIFY(!e->knownWords().contains("size")); // does not begin so
    // And its own name, where one begins.
    QTest::keyClick(e, Qt::Key_Escape);
    e->insertAt("immed();\n    ", line + 1, 16);
    e->setCursorPosition(line + 2, 4);
    QTest::keyClicks(e, "fer");
    QTRY_VERIFY_WITH_TIMEOUT(known.count() > 1, 60'000);
    QVERIFY2(e->knownWords().contains("ferryName"), qPrintable(e->knownWords().join(' ')));
}

void DeskTest::previewFollowsItsOptions()
{
    MainWindow w;
    openFresh(w, "looks2");
    typeInto(w.board()->outline()->addLine(), "button boardButton \"Board the ferry\"");
    PreviewView *p = w.board()->preview();
    QTRY_VERIFY_WITH_TIMEOUT(p->placeOf("boardButton").isValid(), 15'000);
    PreviewView::Options o;
    o.size = QSize(1024, 640);
    p->setOptions(o);
    QTRY_COMPARE_WITH_TIMEOUT(p->pictureSize(), QSize(1024, 640), 10'000);
    o = {};
    o.longer = true;
    o.scale = 1.5;
    p->setOptions(o);
    const int before = p->placeOf("boardButton").height();
    QTRY_VERIFY_WITH_TIMEOUT(
        p->pictureSize() != QSize(1024, 640) && p->placeOf("boardButton").height() > before, 10'000);
    // Another window is shown when something in it is selected.
    typeInto(w.board()->outline()->addLine(), "dialog fareDialog \"Fare\"");
    typeInto(w.board()->outline()->addLine(), "field fareField in fareDialog");
    QTRY_VERIFY_WITH_TIMEOUT(p->placeOf("fareField").isValid() && !p->placeOf("boardButton").isValid(),
                             10'000);
}

void DeskTest::unsavedWorkIsOffered()
{
    const QString folder = dir_.path() + "/kept";
    {
        MainWindow w;
        openFresh(w, "kept");
        typeInto(w.board()->outline()->addLine(), "button boardButton");
        QVERIFY(w.session()->document.workspace().dirty());
        Workspace &workspace = w.session()->document.workspace();
        QVERIFY(keepUnsaved(workspace.place(), unsavedWork(workspace.project(), workspace.files())));
    } // gone without saving, as when it is killed
    MainWindow w;
    w.show();
    w.session()->open(folder);
    QVERIFY(!w.session()->document.project().widget("boardButton"));
    QVERIFY(w.message().contains("unsaved work"));
    QTest::mouseClick(w.findChild<QPushButton *>("messageAction"), Qt::LeftButton);
    QVERIFY(w.session()->document.project().widget("boardButton"));
    w.session()->document.save();
    QTRY_VERIFY(!w.session()->document.saving());
    w.session()->open(folder);
    QVERIFY(!w.message().contains("boardButton"));
}

// Saving goes on beside the loop: what is typed meanwhile is saved too, and closing waits for it.
void DeskTest::closingSavesWhatIsTypedMeanwhile()
{
    const QString folder = dir_.path() + "/closing";
    {
        MainWindow w;
        w.show();
        Session &s = *w.session();
        s.document.create(folder);
        s.document.edit([](Workspace &ws) { return ws.addWidget(".", "button", "first", {}); });
        s.document.save();
        QVERIFY(s.document.saving());
        s.document.edit([](Workspace &ws) { return ws.addWidget(".", "button", "second", {}); });
        int told = 0;
        s.document.save([&] { ++told; });
        s.document.edit([](Workspace &ws) { return ws.addWidget(".", "button", "third", {}); });
        QVERIFY(!w.close());
        QTRY_VERIFY(!w.isVisible());
        QCOMPARE(told, 1);
    }
    auto again = Workspace::open(folder);
    QVERIFY(again);
    for (const char *name : {"first", "second", "third"})
        QVERIFY2(again->project().widget(QLatin1String(name)), name);
}

// A file that somebody else changed is not overwritten; closing again leaves without saving.
void DeskTest::whatCannotBeSavedKeepsTheWindowOnce()
{
    const QString folder = dir_.path() + "/not-saved";
    MainWindow w;
    w.show();
    Session &s = *w.session();
    s.document.create(folder);
    const QString file = s.document.workspace().place().file;
    const QByteArray theirs = "{ half written";
    QVERIFY(writeFile(file, theirs));
    s.document.edit([](Workspace &ws) { return ws.addWidget(".", "button", "mine", {}); });
    QVERIFY(!w.close());
    QTRY_VERIFY(w.message().contains("Close again to leave without saving"));
    QVERIFY2(w.message().contains("changed on disk"), qPrintable(w.message()));
    QVERIFY(w.isVisible());
    QVERIFY(w.close());
    QCOMPARE(*readFile(file), theirs);
}

PIPIT_TEST(DeskTest)
#include "desk_test.moc"
