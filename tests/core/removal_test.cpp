// What removals, undo and mends cost a person: nothing that is not said.
#include "core/edits/mend.h"
#include "core/findings/findings.h"
#include "core/sentences/sentence.h"
#include "core/userfiles/cpp_scan.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class RemovalTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    Workspace keys();
    static QStringList targets(const Workspace &w);
    static const Finding *find(const QList<Finding> &all, const QString &id);

private slots:
    void aHandlerTakesOnlyItsOwnConnections();
    void ofABackgroundHandlerTheJobsConnectionsGo();
    void aWidgetSaysWhatWentWithIt();
    void aSelectorThatFitsNothingStaysAndIsSaid();
    void aWindowTakesTheCallsToItsHandlers();
    void undoIsNeverStuck();
    void whatFitsNowhereIsHandedOut();
    void doneAgainNothingIsDoubled();
    void shortTextIsNotTakenBackElsewhere();
    void aMisspeltBodyIsRenamed_data();
    void aMisspeltBodyIsRenamed();
    void whatIsDeclaredIsNoMisspelling();
    void aBodyOfAnotherSignatureIsFound_data();
    void aBodyOfAnotherSignatureIsFound();
    void stubsTakeWhatTheSourceGives();
    void aHandlerCalledTwiceIsSaid_data();
    void aHandlerCalledTwiceIsSaid();
    void mendingADuplicateCostsNoOtherSource();
};

Workspace RemovalTest::keys()
{
    Workspace w = fresh_.project();
    type(w, {"add: button a \"A\"", "add: button b \"B\"", "add: button pick_{1..2} \"{}\"",
             "connect: a.clicked calls one", "connect: QPushButton pressed calls two",
             "connect: #pick_* clicked calls three", "connect: * mouse enter calls four",
             "connect: b.clicked calls five"});
    return w;
}

QStringList RemovalTest::targets(const Workspace &w)
{
    QStringList all;
    for (const Connection &c : w.project().connections)
        all << c.target();
    return all;
}

const Finding *RemovalTest::find(const QList<Finding> &all, const QString &id)
{
    const auto it = std::find_if(all.begin(), all.end(), [&](const Finding &f) { return f.id == id; });
    return it == all.end() ? nullptr : &*it;
}

// A handler in one go has no job, and a selector has no name: both empty were taken for the same, so every
// connection with a selector went.
void RemovalTest::aHandlerTakesOnlyItsOwnConnections()
{
    Workspace w = keys();
    const auto removed = w.remove("one");
    QVERIFY(removed);
    QCOMPARE(targets(w), (QStringList{"two", "three", "four", "five"}));
    QCOMPARE(removed->connections.size(), 1);
    const QString said = removed->sentences({"one"}).join('\n');
    QVERIFY2(said.contains("a · clicked calls one") && said.contains("Code removed: desk.cpp:"),
             qPrintable(said));
}

void RemovalTest::ofABackgroundHandlerTheJobsConnectionsGo()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go", "connect: go.clicked calls slow"});
    Edit e{"shape", {}, w.project(), {}};
    e.after.handler("slow")->shape = Shape::Background;
    QVERIFY(w.apply(std::move(e)));
    type(w, {"add: label say", "connect: slowJob.progressTextChanged calls say.setText"});
    const auto removed = w.remove("slow");
    QVERIFY(removed);
    QCOMPARE(removed->objects, QStringList{"slowJob"});
    QCOMPARE(removed->connections.size(), 2);
    QVERIFY(w.project().connections.isEmpty());
}

void RemovalTest::aWidgetSaysWhatWentWithIt()
{
    Workspace w = fresh_.project();
    type(w, {"add: group box"});
    QVERIFY(w.addWidget("box", "field", "name", {}));
    type(w, {"add: label nameLabel buddy=name", "connect: name.textChanged calls check"});
    const auto removed = w.remove("box");
    QVERIFY(removed);
    QCOMPARE(removed->objects, (QStringList{"box", "name"}));
    const QString said = removed->sentences({"box"}).join('\n');
    for (const char *part :
         {"Also removed: name", "name · textChanged calls check", "nameLabel names no buddy"})
        QVERIFY2(said.contains(part), qPrintable(said));
    QVERIFY(w.project().widget("nameLabel")->textOf("buddy").isEmpty());
}

void RemovalTest::aSelectorThatFitsNothingStaysAndIsSaid()
{
    Workspace w = keys();
    const auto removed = w.removeAll({"pick_1", "pick_2"});
    QVERIFY(removed);
    QVERIFY(targets(w).contains("three"));
    QCOMPARE(removed->emptied.size(), 1);
    QVERIFY(removed->sentences({}).join('\n').contains("its selector has no matches any more"));
    // A misspelt selector loses no wiring either.
    const QList<Finding> found = findingsOf(w.project(), w.files());
    QVERIFY(find(found, "empty-selector"));
    QVERIFY(find(found, "empty-selector")->costs); // so it is mended only where somebody asks for it
}

void RemovalTest::aWindowTakesTheCallsToItsHandlers()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go", "add: dialog fare", "connect: go.clicked opens fare"});
    QVERIFY(w.addWidget("fare", "button", "pay", {}));
    type(w, {"connect: pay.clicked calls payNow"});
    QCOMPARE(w.project().handler("payNow")->window, QString("Fare"));
    const auto removed = w.remove("fare");
    QVERIFY(removed);
    QVERIFY(w.project().connections.isEmpty());
    QCOMPARE(removed->handlers, QStringList{"payNow"});
    QCOMPARE(removed->connections.size(), 2);
}

// Undoing failed for good: it changed nothing, and the next try failed again.
void RemovalTest::undoIsNeverStuck()
{
    Workspace w = fresh_.project();
    type(w, {"add: button a", "connect: a.clicked calls one", "connect: a.pressed calls two",
             "connect: a.released calls three", "body: two: setWindowTitle(\"two\");"});
    QVERIFY(w.remove("two"));
    QString code = *w.files().text("desk.cpp");
    w.files().setText("desk.cpp", code.replace("void Desk::three()", "// edited\nvoid Desk::three()"));
    const auto taken = w.undo();
    QVERIFY(taken);
    QVERIFY(w.project().handler("two"));
    QCOMPARE(targets(w), (QStringList{"one", "two", "three"}));
    // One neighbour stands, so the code is back, in its place.
    QVERIFY(taken->left.isEmpty());
    code = *w.files().text("desk.cpp");
    const qsizetype one = code.indexOf("Desk::one"), two = code.indexOf("setWindowTitle(\"two\")"),
                    three = code.indexOf("// edited");
    QVERIFY2(one < two && two < three, qPrintable(code));
    QVERIFY(w.undo() && w.undo()); // the older steps can be reached
    QVERIFY(!w.project().handler("two"));
}

void RemovalTest::whatFitsNowhereIsHandedOut()
{
    Workspace w = fresh_.project();
    type(w, {"add: button a", "connect: a.clicked calls one", "body: one: setWindowTitle(\"mine\");"});
    QVERIFY(w.remove("one"));
    w.files().setText("desk.cpp", "// all is new here\n");
    const auto taken = w.undo();
    QVERIFY(taken);
    QVERIFY(w.project().handler("one"));
    QCOMPARE(taken->left.size(), 1);
    QVERIFY(taken->left.first().text.contains("setWindowTitle(\"mine\")"));
    QVERIFY(taken->left.first().sentence().startsWith("desk.cpp: "));
    QCOMPARE(*w.files().text("desk.cpp"), QString("// all is new here\n"));
    const int steps = [&] {
        int n = 0;
        while (w.canUndo() && w.undo())
            ++n;
        return n;
    }();
    QCOMPARE(steps, 2);
    QVERIFY(!w.project().widget("a"));
}

void RemovalTest::doneAgainNothingIsDoubled()
{
    Workspace w = fresh_.project();
    type(w, {"add: button a", "connect: a.clicked calls one"});
    const QString stub = *w.files().text("desk.cpp");
    QVERIFY(w.remove("one"));
    const QString without = *w.files().text("desk.cpp");
    w.files().setText("desk.cpp", "// all is new here\n");
    QVERIFY(w.undo()); // its text stays out
    QVERIFY(w.redo());
    QVERIFY(!w.project().handler("one"));
    QCOMPARE(*w.files().text("desk.cpp"), QString("// all is new here\n"));
    w.files().setText("desk.cpp", without);
    QVERIFY(w.undo());
    QCOMPARE(*w.files().text("desk.cpp"), stub);
}

// A word that was put in stood elsewhere too; when its own place was gone, the other one was changed.
void RemovalTest::shortTextIsNotTakenBackElsewhere()
{
    Workspace w = fresh_.project();
    w.files().setText("desk.cpp", "int first = alpha;\nint second = 1;\n");
    Edit e{"rename", {}, w.project(), {}};
    e.files.append({"desk.cpp", 12, "alpha", "beta"});
    QVERIFY(w.apply(std::move(e)));
    w.files().setText("desk.cpp", "void other() { use(beta); }\n");
    const auto taken = w.undo();
    QVERIFY(taken);
    QCOMPARE(taken->left.size(), 1);
    QCOMPARE(*w.files().text("desk.cpp"), QString("void other() { use(beta); }\n"));
}

void RemovalTest::aMisspeltBodyIsRenamed_data()
{
    QTest::addColumn<QString>("head");
    QTest::newRow("letters") << "void Desk::bordPassenger()";
    QTest::newRow("case") << "void Desk::boardpassenger()";
    QTest::newRow("class") << "void Dest::boardPassenger()";
    QTest::newRow("no class") << "void boardPassenger()";
}

// A second, empty stub was added, the written body stayed, and the build failed.
void RemovalTest::aMisspeltBodyIsRenamed()
{
    QFETCH(QString, head);
    Workspace w = fresh_.project();
    type(w, {"add: button a", "connect: a.clicked calls boardPassenger",
             "body: boardPassenger: setWindowTitle(\"mine\");"});
    const QString right = *w.files().text("desk.cpp");
    QString code = right;
    w.files().setText("desk.cpp", code.replace("void Desk::boardPassenger()", head));
    const QList<Finding> found = findingsOf(w.project(), w.files());
    const Finding *f = find(found, "missing-handler");
    QVERIFY(f && f->mend == Finding::Mend::RenameBody);
    QVERIFY(mend(w, *f));
    QCOMPARE(*w.files().text("desk.cpp"), right);
    QVERIFY(findingsOf(w.project(), w.files()).isEmpty());
    QVERIFY(w.undo());
    QVERIFY(w.files().text("desk.cpp")->contains(head));
}

void RemovalTest::whatIsDeclaredIsNoMisspelling()
{
    Workspace w = fresh_.project();
    type(w, {"add: button a", "connect: a.clicked calls boardPassenger"});
    QString code = *w.files().text("desk.cpp"), header = *w.files().text("desk.h");
    w.files().setText("desk.cpp", code.replace("Desk::boardPassenger()", "Desk::boardPassengers()"));
    const qsizetype end = header.lastIndexOf("};");
    w.files().setText("desk.h", header.insert(end, "    void boardPassengers();\n"));
    const QList<Finding> found = findingsOf(w.project(), w.files());
    QVERIFY(find(found, "missing-handler"));
    QVERIFY(find(found, "missing-handler")->mend == Finding::Mend::AddStub);
}

void RemovalTest::aBodyOfAnotherSignatureIsFound_data()
{
    QTest::addColumn<QString>("head");
    QTest::addColumn<bool>("found");
    QTest::newRow("as declared") << "void Desk::setFare(const QString &text)" << false;
    QTest::newRow("other name") << "void Desk::setFare(QString const & fare)" << false;
    QTest::newRow("nothing") << "void Desk::setFare()" << true;
    QTest::newRow("by value") << "void Desk::setFare(QString text)" << true;
    QTest::newRow("number") << "void Desk::setFare(int text)" << true;
    QTest::newRow("two") << "void Desk::setFare(const QString &text, int n)" << true;
    QTest::newRow("gives back") << "bool Desk::setFare(const QString &text)" << true;
    QTest::newRow("const") << "void Desk::setFare(const QString &text) const" << true;
    QTest::newRow("an alias") << "void Desk::setFare(const Fare &text)" << false; // not known, so not said
}

void RemovalTest::aBodyOfAnotherSignatureIsFound()
{
    QFETCH(QString, head);
    QFETCH(bool, found);
    Workspace w = fresh_.project();
    type(w, {"add: field fare", "connect: fare.textChanged calls setFare"});
    QString code = *w.files().text("desk.cpp");
    QVERIFY(code.contains("void Desk::setFare(const QString &text)"));
    w.files().setText("desk.cpp", code.replace("void Desk::setFare(const QString &text)", head));
    const QList<Finding> all = findingsOf(w.project(), w.files());
    const Finding *f = find(all, "body-signature");
    QCOMPARE(bool(f), found);
    if (f) {
        const int line = lineAt(*w.files().text("desk.cpp"), w.files().text("desk.cpp")->indexOf(head));
        QVERIFY2(
            f->message.startsWith(QStringLiteral("desk.cpp:%1: setFare ").arg(line)) &&
                f->message.contains("fare · textChanged calls it as void Desk::setFare(const QString &)"),
            qPrintable(f->message));
    }
}

void RemovalTest::stubsTakeWhatTheSourceGives()
{
    Workspace w = fresh_.project();
    type(w, {"add: button plain", "add: button toggle checkable=true", "add: tick box tick",
             "connect: plain.clicked calls onPlain", "connect: toggle.clicked calls onToggle",
             "connect: tick.clicked calls onTick", "connect: #plain, #toggle clicked calls onBoth"});
    const QString code = *w.files().text("desk.cpp");
    QVERIFY2(code.contains("void Desk::onPlain()"), qPrintable(code));
    QVERIFY2(code.contains("void Desk::onToggle(bool checked)"), qPrintable(code));
    QVERIFY2(code.contains("void Desk::onTick(bool checked)"), qPrintable(code));
    QVERIFY2(code.contains("void Desk::onBoth(QPushButton *source)"), qPrintable(code));
}

void RemovalTest::aHandlerCalledTwiceIsSaid_data()
{
    QTest::addColumn<QStringList>("connections");
    QTest::addColumn<bool>("twice");
    QTest::newRow("return and enter")
        << QStringList{"edit · key press (key Return) calls take", "edit · key press (key Enter) calls take"}
        << true;
    QTest::newRow("other keys") << QStringList{"edit · key press (key Return) calls take",
                                               "edit · key press (key F2) calls take"}
                                << false;
    QTest::newRow("other modifiers") << QStringList{"edit · key press (key Shift+Return) calls take",
                                                    "edit · key press (key Ctrl+Return) calls take"}
                                     << false;
    QTest::newRow("always and sometimes")
        << QStringList{"edit · textChanged calls take", "edit · textChanged (text not empty) calls take"}
        << true;
    QTest::newRow("opposites") << QStringList{"edit · textChanged (text empty) calls take",
                                              "edit · textChanged (text not empty) calls take"}
                               << false;
    QTest::newRow("ranges that meet") << QStringList{"dial · valueChanged (value from 1 to 5) calls take",
                                                     "dial · valueChanged (value at least 5) calls take"}
                                      << true;
    QTest::newRow("ranges that do not") << QStringList{"dial · valueChanged (value from 1 to 5) calls take",
                                                       "dial · valueChanged (value over 5) calls take"}
                                        << false;
}

// Return and Enter called a handler twice without a word.
void RemovalTest::aHandlerCalledTwiceIsSaid()
{
    QFETCH(QStringList, connections);
    QFETCH(bool, twice);
    Workspace w = fresh_.project();
    type(w, {"add: field edit", "add: dial dial", "connect: " + connections[0]});
    const auto request = parseSentence(connections[1]);
    QVERIFY2(bool(request), qPrintable(request ? QString() : request.problem().text()));
    const auto second = w.connect(*request);
    QVERIFY2(bool(second), qPrintable(second ? QString() : second.problem().text()));
    QCOMPARE(second->notes.join(' ').contains("twice"), twice);
    const QList<Finding> all = findingsOf(w.project(), w.files());
    QCOMPARE(bool(find(all, "duplicate-connection")), twice);
    if (twice)
        QVERIFY(find(all, "duplicate-connection")->mend == Finding::Mend::None);
}

// The one finding for one source had as its mend to remove the connection of all of them.
void RemovalTest::mendingADuplicateCostsNoOtherSource()
{
    Workspace w = fresh_.project();
    type(w, {"add: button key_{1..3} \"{}\"", "connect: key_1.pressed calls beep",
             "connect: #key_* pressed calls beep"});
    const QList<Finding> all = findingsOf(w.project(), w.files());
    QVERIFY(find(all, "duplicate-connection"));
    QVERIFY(find(all, "duplicate-connection")->mend == Finding::Mend::None);
    type(w, {"connect: key_2.pressed calls beep"}); // this one adds nothing
    const QList<Finding> more = findingsOf(w.project(), w.files());
    const auto idle = std::find_if(
        more.begin(), more.end(), [](const Finding &f) { return f.mend == Finding::Mend::RemoveConnection; });
    QVERIFY(idle != more.end());
    QCOMPARE(w.project().connection(idle->where)->from, QString("key_2"));
}

PIPIT_TEST(RemovalTest)
#include "removal_test.moc"
