// Moved handlers do what they did before: two of the cases of ./dev proof moves, and single forms.
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/build/compiler.h"
#include "core/code/reader.h"
#include "core/moves/other.h"
#include "core/plays/player.h"
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QTemporaryDir>

using namespace pipit;
using namespace pipit::tests;

class MovesTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void theyDoTheSame_data();
    void theyDoTheSame();
    void refusedWithTheirLines_data();
    void refusedWithTheirLines();
    void theCodeReadsAsByHand();
    void statementsStayInOrder();
    void trustCountsForItsLineOnly();
    void argumentsGoAlong();
    void nothingIsLostInAThousandTriggers();
    void triggeredAgainItRestartsOrIgnoresOrQueues_data();
    void triggeredAgainItRestartsOrIgnoresOrQueues();
    void exceptionsArriveOnTheLoop();
    void halfWrittenCodeIsLeft();
    void codeOfOthersMovesAsADiff();
    void aReaderThatDiesIsStartedAgain();
    void othersThatAddToTheSameListAreNamed();
    void aSleepBecomesATimer();
    void putBackKeepsTheTypes();
};

// `add`, behind a button of the desk, adds to orderList as well.
void MovesTest::othersThatAddToTheSameListAreNamed()
{
    Desk both(
        bodyCase("    QString text;\n    for (int i = 0; i < 90; ++i)\n        text += QChar('a' + i % 7);\n"
                 "    orderList->addItem(text);\n"));
    const auto move = both.plan();
    QVERIFY(move && move->refused.isEmpty());
    QCOMPARE(move->sentences.filter("add adds to orderList too").size(), 1);
    Desk other(bodyCase("    int n = 0;\n    for (int i = 0; i < 90; ++i)\n        n += i;\n"
                        "    statusLabel->setText(QString::number(n)); // not orderList->addItem()\n"));
    const auto alone = other.plan();
    QVERIFY(alone && alone->refused.isEmpty());
    QVERIFY2(alone->sentences.filter("too:").isEmpty(), qPrintable(alone->sentences.join('\n')));
}

void MovesTest::theyDoTheSame_data()
{
    QTest::addColumn<int>("shape");
    // Of some three hundred; ./dev proof moves compiles and runs them all.
    QTest::newRow("gathers rows") << int(Shape::Background);
    if (inProof())
        QTest::newRow("leaves the loop early") << int(Shape::Steps);
}

void MovesTest::theyDoTheSame()
{
    QFETCH(int, shape);
    const HandlerVerdict v =
        judgeHandler(caseOf("movable.txt", QTest::currentDataTag()), Shape(shape), 11, 4);
    QVERIFY2(v.moved, qPrintable(v.reasons.join("; ") + v.wrong));
    QVERIFY2(v.same, qPrintable(v.wrong + '\n' + v.code));
    QVERIFY2(v.back, qPrintable(v.reasons.join("; ")));
}

void MovesTest::refusedWithTheirLines_data()
{
    QTest::addColumn<QString>("says");
    QTest::addColumn<QString>("at"); // the line begins with
    QTest::newRow("asks in the middle") << "waits for an answer"
                                        << "    if (QMessageBox";
    QTest::newRow("counts what others count") << "other functions use it"
                                              << "        total_ +=";
    QTest::newRow("makes widgets in the loop") << "is a widget"
                                               << "        auto *label";
    QTest::newRow("keeps an item") << "QListWidgetItem"
                                   << "    QListWidgetItem *item";
    QTest::newRow("a virtual function") << "may be overridden"
                                        << "        sum += price";
    QTest::newRow("a function that is known only when it runs") << "known only at run time"
                                                                << "        n = rule_";
    QTest::newRow("reads back what it has set") << "countSpin is read"
                                                << "        countSpin->setValue";
    QTest::newRow("alias to a member") << "text_ is used by other functions"
                                       << "    QString &s = text_;";
}

void MovesTest::refusedWithTheirLines()
{
    QFETCH(QString, says);
    QFETCH(QString, at);
    Desk desk(caseOf("refused.txt", QTest::currentDataTag()));
    auto move = desk.plan();
    QVERIFY2(move, qPrintable(move ? QString() : move.problem().text()));
    QVERIFY(!move->refused.isEmpty());
    QVERIFY(move->edit.files.isEmpty());
    const MoveRefusal first = move->refused.first();
    QVERIFY2(first.reason.contains(says), qPrintable(first.reason));
    const QString line = desk.code().split('\n').value(first.line - 1);
    QVERIFY2(line.startsWith(at), qPrintable(line));
}

void MovesTest::theCodeReadsAsByHand()
{
    Desk desk(caseOf("movable.txt", "comments stay"));
    auto move = desk.plan();
    QVERIFY(move && move->refused.isEmpty());
    QCOMPARE(move->newText, QString("void Desk::goTake()\n"
                                    "{\n"
                                    "    // What the clerk sees first.\n"
                                    "    statusLabel->setText(\"Starting\"); // at once\n"
                                    "}\n\n"
                                    "// On a worker thread: from the input alone.\n"
                                    "int goWork(QPromise<int> &promise)\n"
                                    "{\n"
                                    "    int n = 0;\n\n"
                                    "    // Every number, /* even these */ slowly.\n"
                                    "    for (int i = 0; i < 20000; ++i) { // up\n"
                                    "        if (promise.isCanceled())\n"
                                    "            return {};\n"
                                    "        n += i; // add\n"
                                    "    }\n"
                                    "    return n;\n"
                                    "}\n\n"
                                    "// On the loop.\n"
                                    "void Desk::goShow(const Outcome<int> &outcome)\n"
                                    "{\n"
                                    "    if (outcome.cancelled)\n"
                                    "        return;\n"
                                    "    const int n = outcome.value();\n"
                                    "    /* And the end. */\n"
                                    "    resultLabel->setText(QString::number(n % 1000)); // at last\n"
                                    "}"));
    QVERIFY(move->headerText.isEmpty());
}

void MovesTest::statementsStayInOrder()
{
    // A text set before the work, one in the middle, one after it: each goes where it was.
    Desk desk(bodyCase(
        "    statusLabel->setText(\"one\");\n    QThread::msleep(2);\n"
        "    setWindowTitle(\"two\");\n    QThread::msleep(2);\n    statusLabel->setText(\"three\");\n"));
    auto move = desk.plan();
    QVERIFY(move && move->refused.isEmpty());
    QList<Stage> stages;
    for (const MovedLine &l : move->lines)
        stages << l.place;
    QCOMPARE(stages, (QList<Stage>{Stage::Take, Stage::Work, Stage::Take, Stage::Work, Stage::Show}));
}

void MovesTest::trustCountsForItsLineOnly()
{
    Desk desk(caseOf("refused.txt", "a function that is known only when it runs"));
    auto move = desk.plan();
    QVERIFY(move && !move->refused.isEmpty());
    QSet<int> lines;
    for (const MoveRefusal &r : move->refused)
        lines.insert(r.line);
    auto other = desk.plan(Shape::Background, {lines.values().first() + 1});
    QVERIFY(other && !other->refused.isEmpty()); // another line's word is not enough
}

namespace
{

// A project whose handler gets a text, built and played; what it printed.
QString playedWith(Workspace &w, const QString &play)
{
    Builder builder(w.place());
    auto built = builder.build(w.project(), w.files());
    if (!built || !built->ok)
        return "not built: " + (built ? built->messages.value(0).text : built.problem().text());
    const QString file = w.place().folder + "/one.play";
    if (!writeFile(file, play.toUtf8()))
        return "no play";
    const Ran ran = verb({"run", w.place().folder, "--play", file});
    return QString::fromUtf8(ran.out + ran.err);
}

} // namespace

void MovesTest::argumentsGoAlong()
{
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "field", "nameField", {}));
        QVERIFY(ws.addWidget(".", "label", "status", {}));
        QVERIFY(ws.connect({"nameField", "textChanged", {}, "look", {}}));
    });
    replaceIn(dir.path() + "/desk/desk.cpp", "::look(const QString &text)\n{\n    Q_UNUSED(text)\n",
              "::look(const QString &text)\n{\n    QThread::msleep(5);\n"
              "    qInfo(\"looked at %s\", qPrintable(text));\n    status->setText(text);\n");
    replaceIn(dir.path() + "/desk/desk.cpp", "#include \"desk.h\"\n",
              "#include \"desk.h\"\n\n#include <QtCore/QThread>\n");
    auto opened = Workspace::open(w.place().file);
    QVERIFY(opened);
    auto move = planMove(MoveQuestion::of(*opened, "look", Shape::Background), false);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("QString Desk::lookTake(const QString &text)"),
             qPrintable(move->newText));
    QVERIFY(opened->apply(move->edit) && opened->save());
    const QString said =
        playedWith(*opened, "nameField: type \"abc\"\nstatus: wait for text \"abc\" within 5s\n");
    // All three, in their order.
    const qsizetype one = said.indexOf("looked at a\n"), two = said.indexOf("looked at ab\n"),
                    three = said.indexOf("looked at abc\n");
    QVERIFY2(one >= 0 && two > one && three > two, qPrintable(said));
}

void MovesTest::nothingIsLostInAThousandTriggers()
{
    HandlerCase one = bodyCase(
        "    int n = countSpin->value();\n    for (int i = 0; i < 50; ++i)\n        n = (n * 31 + i) % 997;\n"
        "    resultLabel->setText(QString(\"%1 %2\").arg(n).arg(++done_));\n");
    one.members = "int done_ = 0;";
    Desk desk(one);
    auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY(desk.workspace.apply(move->edit) && desk.workspace.save());
    // The button clicks itself a thousand times within one turn of the loop.
    replaceIn(desk.workspace.place().folder + "/desk.cpp", "void Desk::more()\n{\n",
              "void Desk::more()\n{\n    for (int i = 0; i < 1000; ++i)\n        goButton->click();\n");
    auto opened = Workspace::open(desk.workspace.place().file);
    QVERIFY(opened);
    const QString said =
        playedWith(*opened, "moreButton: click\nresultLabel: wait for text containing \" 1000\" within 60s\n"
                            "tellButton: click\ndoneLabel: wait for text \"1\" within 10s\n");
    QVERIFY2(said.contains("TOLD "), qPrintable(said.right(400)));
    const QString story = said.section("TOLD ", 1).section(" | ", 0, 0);
    QCOMPARE(story.count('/') + 1, 1000);
}

// A loop over a real number that begins at 0: put back it must not count in whole ones.
void MovesTest::putBackKeepsTheTypes()
{
    for (const char *several : {"", "    area += width * x;\n"}) {
        Desk desk(bodyCase(
            QString(
                "    double area = 0;\n    const double width = 1.0 / (100 + countSpin->value());\n"
                "    for (double x = 0; x < 1; x += width)\n        area += width * std::sqrt(1 - x * x);\n%1"
                "    resultLabel->setText(QString::number(area, 'f', 3));\n")
                .arg(QString(several).replace("x", "2"))));
        auto move = desk.plan(Shape::Steps);
        QVERIFY2(move && move->refused.isEmpty(),
                 qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
        QVERIFY(desk.workspace.apply(move->edit));
        auto back = desk.plan(Shape::OneGo);
        QVERIFY2(back && back->refused.isEmpty(),
                 qPrintable(back ? back->refused.value(0).reason : back.problem().text()));
        QVERIFY2(back->newText.contains("double x = 0;") && !back->newText.contains("auto x"),
                 qPrintable(back->newText));
    }
}

// Instead of sleeping, the handler ends and a single-shot timer goes on.
void MovesTest::aSleepBecomesATimer()
{
    const QString saved = "    statusLabel->setText(\"saved\");\n    QThread::msleep(400);\n    "
                          "statusLabel->setText(\"ready\");\n"
                          "    resultLabel->setText(\"7\");\n";
    Desk desk(bodyCase(saved));
    auto move = desk.plan(Shape::Steps);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("    goPause->start();\n}") &&
                 move->newText.contains(
                     "// After the pause.\nvoid Desk::goGoesOn()\n{\n    statusLabel->setText(\"ready\");"),
             qPrintable(move->newText));
    QVERIFY(desk.workspace.apply(move->edit) && desk.workspace.save());
    const TimerNode *timer = desk.workspace.project().timer("goPause");
    QVERIFY(timer && timer->interval == 400 && !timer->repeat && !timer->autostart);
    const QString said = playedWith(
        desk.workspace, "goButton: click\nstatusLabel: wait for text \"saved\" within 250ms\n"
                        "statusLabel: wait for text \"ready\" within 3s\n"
                        "resultLabel: wait for text \"7\" within 1s\nloop: expect no stall over 300ms\n");
    QVERIFY2(!said.contains("FAIL") && !said.contains("expected"), qPrintable(said));
    QVERIFY(desk.workspace.undo());
    QVERIFY(!desk.workspace.project().timer("goPause") && desk.code().contains("QThread::msleep(400)"));
    // A variable does not outlive the first part.
    Desk local(bodyCase("    const QString name = nameField->text();\n    QThread::msleep(20);\n    "
                        "resultLabel->setText(name);\n"));
    const auto refused = local.plan(Shape::Steps);
    QVERIFY(refused && refused->refused.size() == 1);
    QVERIFY(refused->refused.first().reason.contains("name is created before the pause and used after it"));
    // Nor may what is read after it be another by then.
    Desk reads(bodyCase("    statusLabel->setText(\"x\");\n    QThread::msleep(20);\n    "
                        "resultLabel->setText(nameField->text());\n"));
    const auto changed = reads.plan(Shape::Steps);
    QVERIFY(changed && changed->refused.size() == 1);
    QVERIFY2(changed->refused.first().reason.contains("nameField is read after the pause"),
             qPrintable(changed->refused.first().reason));
    // How long is asked when it is time; other units, and names that are taken.
    Desk asked(
        bodyCase("    statusLabel->setText(\"x\");\n    QThread::msleep(countSpin->value() * 10);\n    "
                 "statusLabel->clear();\n"));
    const auto expression = asked.plan(Shape::Steps);
    QVERIFY(expression && expression->newText.contains("goPause->start(countSpin->value() * 10);"));
    Desk seconds(bodyCase(
        "    statusLabel->setText(\"goPause\");\n    QThread::sleep(2);\n    statusLabel->clear();\n"));
    const auto two = seconds.plan(Shape::Steps);
    QVERIFY(two && two->refused.isEmpty() && two->edit.after.timer("goPause") &&
            two->edit.after.timer("goPause")->interval == 2000);
}

void MovesTest::triggeredAgainItRestartsOrIgnoresOrQueues_data()
{
    QTest::addColumn<QString>("again");
    QTest::addColumn<QString>("story");
    // Five times within one turn, each with another number.
    QTest::newRow("queue") << "queue"
                           << "got 8/got 9/got 10/got 11/got 12";
    if (!inProof())
        return;
    QTest::newRow("restart") << "restart"
                             << "got 12";
    QTest::newRow("ignore") << "ignore"
                            << "got 8";
}

void MovesTest::triggeredAgainItRestartsOrIgnoresOrQueues()
{
    QFETCH(QString, again);
    QFETCH(QString, story);
    Desk desk(bodyCase("    const int n = countSpin->value();\n    QThread::msleep(40);\n"
                       "    resultLabel->setText(QString(\"got %1\").arg(n));\n"));
    auto move = desk.plan(Shape::Background, {}, again);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY(desk.workspace.apply(move->edit) && desk.workspace.save());
    replaceIn(desk.workspace.place().folder + "/desk.cpp", "void Desk::more()\n{\n",
              "void Desk::more()\n{\n    for (int i = 0; i < 5; ++i) {\n        countSpin->stepUp();\n"
              "        goButton->click();\n    }\n    return;\n");
    auto opened = Workspace::open(desk.workspace.place().file);
    QVERIFY(opened);
    const QString said = playedWith(*opened, "moreButton: click\nwait 600ms\ntellButton: click\n"
                                             "doneLabel: wait for text \"1\" within 10s\n");
    QVERIFY2(said.contains("TOLD "), qPrintable(said.right(400)));
    QCOMPARE(said.section("TOLD ", 1).section(" | ", 0, 0), story);
}

void MovesTest::exceptionsArriveOnTheLoop()
{
    HandlerCase one = bodyCase(
        "    const int n = countSpin->value();\n    QThread::msleep(2);\n    if (n > 0)\n"
        "        throw std::runtime_error(\"no boat today\");\n    resultLabel->setText(\"sailed\");\n");
    Desk desk(one);
    const QString play = "goButton: click\nresultLabel: wait for text \"sailed\" within 5s\n";
    if (inProof())
        QVERIFY(playedWith(desk.workspace, play).contains("no boat today")); // which ends the program
    auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("outcome.value(); // throws what the work threw"),
             qPrintable(move->newText));
    QVERIFY(desk.workspace.apply(move->edit) && desk.workspace.save());
    const QString said = playedWith(desk.workspace, play);
    QVERIFY2(said.contains("no boat today"), qPrintable(said));
}

void MovesTest::halfWrittenCodeIsLeft()
{
    Desk desk(bodyCase("    for (int i = 0; i < 10; ++i) {\n        nothing.of(this\n"));
    auto move = desk.plan();
    QVERIFY(!move);
    QVERIFY2(move.problem().what.contains("does not compile"), qPrintable(move.problem().text()));
    QVERIFY(move.problem().line > 0);
}

void MovesTest::codeOfOthersMovesAsADiff()
{
    QTemporaryDir dir;
    const QString folder = dir.path();
    const QByteArray source =
        "#include <QtCore/QThread>\n#include <QtWidgets/QLabel>\n\nclass Window : public "
        "QWidget\n{\npublic:\n    void "
        "load();\n    int loads_ = 0;\n    QLabel *status_ = new QLabel(this);\n};\n\n"
        "// Slow.\nvoid Window::load()\n{\n    status_->setText(\"loading\");\n    int n = 0;\n"
        "    for (int i = 0; i < 1000; ++i)\n        n += i % 7;\n    ++loads_;\n    "
        "status_->setText(QString::number(n));\n}\n";
    QVERIFY(writeFile(folder + "/window.cpp", source));
    const QString flags = clang() ? clang()->flags().join(' ') : gcc().flags().join(' ');
    QVERIFY(writeFile(folder + "/compile_commands.json",
                      ("[{\"directory\": \"" + folder + "\", \"file\": \"window.cpp\", \"command\": \"c++ " +
                       flags + " -o window.o -c window.cpp\"}]")
                          .toUtf8()));
    QVERIFY(hasCompileCommands(folder));
    auto move = planOtherMove(folder, "Window::load", {}, false);
    QVERIFY2(move, qPrintable(move ? QString() : move.problem().text()));
    QVERIFY2(move->refused.isEmpty(), qPrintable(move->refused.value(0).reason));
    QVERIFY2(move->diff.startsWith("--- a/window.cpp\n+++ b/window.cpp\n"), qPrintable(move->diff.left(200)));
    QVERIFY(move->diff.contains("+int loadWork(QPromise<int> &promise)"));
    QVERIFY(move->diff.contains("+        ++loads_;"));  // on the loop, with the result
    QCOMPARE(*readFile(folder + "/window.cpp"), source); // nothing was changed
    auto wrong = planOtherMove(folder, "Window::laod", {}, false);
    QVERIFY(!wrong && wrong.problem().what.contains("in none of the files"));
}

void MovesTest::aReaderThatDiesIsStartedAgain()
{
    const std::atomic<bool> cancel{false};
    CodeReader reader(cancel);
    QTemporaryDir dir;
    const QString file = dir.path() + "/one.cpp";
    QVERIFY(writeFile(file,
                      "int twice(int n)\n{\n    return 2 * n; // \xC3\xA4\n}\nint three() { return 3; }\n"));
    CodeQuestion q{file, {"-std=c++17"}, {dir.path() + '/'}, {}, {"three"}, -1};
    auto unit = reader.read(q);
    QVERIFY2(unit, qPrintable(unit ? QString() : unit.problem().text()));
    QCOMPARE(unit->functions.size(), 1);
    // Offsets count characters, not bytes.
    QCOMPARE(unit->functions.first().name, int(QString::fromUtf8(*readFile(file)).indexOf("three")));
    QVERIFY(
        command("pkill", {"-KILL", "-P", QString::number(QCoreApplication::applicationPid()), "pipit-reader"})
            .code == 0);
    unit = reader.read(q);
    QVERIFY2(unit, qPrintable(unit ? QString() : unit.problem().text()));
    QCOMPARE(unit->functions.size(), 1);
}

PIPIT_TEST(MovesTest)
#include "moves_test.moc"
