// What a play does and what it says of a window: every kind of click, where it hits, what is out of
// reach, what is expected, and menus. The program's own output is the truth.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QJsonArray>
#include <QJsonDocument>

using namespace pipit;
using namespace pipit::tests;

class HandsTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    Ran play(Workspace &w, const QString &steps)
    {
        if (auto ok = w.save(); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        const QString file = w.place().folder + "/x.play";
        if (auto ok = writeFile(file, steps.toUtf8()); !ok)
            qFatal("%s", qPrintable(ok.problem().text()));
        return verb({"run", w.place().folder, "--play", file});
    }
    static void including(Workspace &w, const QStringList &headers)
    {
        QString text = *w.files().text("desk.cpp");
        for (const QString &h : headers)
            text.prepend("#include " + h + '\n');
        w.files().setText("desk.cpp", text);
    }
    static QByteArray said(const Ran &r) { return r.out + r.err; }

private slots:
    void clicksHitWhereTheControlIs();
    void whatIsOutOfReachIsSaid();
    void statesAreExpected();
    void allButtonsAndTheWheel();
    void keysMeanTheirSubjectWhileTheLoopIsBusy();
    void menusAreOpenedAndClicked();
    void aProgramThatCrashesIsNoSuccess_data();
    void aProgramThatCrashesIsNoSuccess();
    void waitingAddsNoTurns();
    void partlyCheckedIsNeither();
    void theLastStepMayEndTheProgram();
    void whatDidNotComeIsSaidAsItIs();
};

// A box that is partly checked was called checked.
void HandsTest::partlyCheckedIsNeither()
{
    Workspace w = fresh_.project();
    type(w, {"add: tick box papers \"Papers\" tristate=true", "add: tick box plain \"Plain\""});
    Ran r = play(w, "papers: expect unchecked\npapers: click\npapers: expect partly checked\n"
                    "papers: click\npapers: expect checked\npapers: click\npapers: expect unchecked\n");
    QVERIFY2(r.code == 0, said(r).constData());
    r = play(
        w, "papers: click\npapers: expect checked\npapers: expect unchecked\nplain: expect partly checked\n");
    QCOMPARE(r.code, 1);
    QCOMPARE(said(r).count("FAIL"), 3);
    QVERIFY(said(r).contains("plain cannot be partly checked"));
}

// Where the last click closed the window, the program had ended before the click was answered, 1 of 4 times
// on a busy machine, and the play failed.
void HandsTest::theLastStepMayEndTheProgram()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "connect: go.pressed calls leave", "body: leave: ::_exit(0);"});
    including(w, {"<unistd.h>"});
    for (int i = 0; i < 12; ++i) {
        const Ran r = play(w, "go: click\n");
        QVERIFY2(r.code == 0, said(r).constData());
    }
    // What comes after it has not happened.
    const Ran r = play(w, "go: click\nwait 100ms\ngo: click\n");
    QCOMPARE(r.code, 1);
}

// A tick box in a wide column answers only at its mark and words.
void HandsTest::clicksHitWhereTheControlIs()
{
    Workspace w = fresh_.project();
    type(w, {"set: desk: windowSize 700x300", "add: tick box ready \"Ready\"", "add: choice one \"One\"",
             "add: group extra \"Extra\" checkable=true checked=false", "add: field inner in extra",
             "connect: ready.toggled calls readyNow", "body: readyNow: qInfo(\"ready %d\", int(checked));"});
    const Ran r = play(
        w, "ready: expect unchecked\nready: click\nready: expect checked\none: click\none: expect checked\n"
           "extra: click\nextra: expect checked\nhandler readyNow: expect 1 call\n");
    QVERIFY2(r.code == 0, said(r).constData());
    QVERIFY2(said(r).contains("ready 1"), said(r).constData());
}

void HandsTest::whatIsOutOfReachIsSaid()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "add: button off \"Off\" enabled=false",
             "add: button gone \"Gone\" visible=false", "add: dialog ask", "add: button yes \"&Yes\" in ask",
             "connect: go.clicked opens ask", "connect: yes.clicked calls ask.accept"});
    const Ran r = play(
        w,
        "off: click\ngone: click\ngo: click\nwait 100ms\ngo: click\nQPushButton \"Yes\": click\nwait 100ms\n"
        "go: click\nyes: expect text \"Yes\"\n");
    QCOMPARE(r.code, 1);
    QVERIFY2(r.out.contains("FAIL line 1: off: click: off is disabled"), said(r).constData());
    QVERIFY2(r.out.contains("FAIL line 2: gone: click: gone is hidden"), said(r).constData());
    QVERIFY2(r.out.contains("FAIL line 5: go: click: go lies behind ask, which keeps input from it"),
             said(r).constData());
    QVERIFY2(r.out.contains("ok   line 6"), said(r).constData());
    QVERIFY2(r.out.contains("ok   line 8"), said(r).constData());
    QVERIFY2(r.out.contains("ok   line 9"), said(r).constData());
    static const QRegularExpression seconds("off is disabled\\. \\(at \\d+\\.\\d\\d s\\)");
    QVERIFY2(seconds.match(QString::fromUtf8(r.out)).hasMatch(), said(r).constData());
}

void HandsTest::statesAreExpected()
{
    Workspace w = fresh_.project();
    type(w, {"add: number seats minimum=1 maximum=9", "add: drop-down fare items=\"Adult\\nChild\"",
             "add: list people items=\"Ann\\nBo\"", "add: button hush \"&Hush\"",
             "add: button off \"Off\" enabled=false"});
    const QByteArrayList good = {"seats: expect value 1",       "fare: expect item \"Adult\"",
                                 "fare: expect count 2",        "people: expect item \"Bo\"",
                                 "people: expect count 2",      "hush: expect text \"Hush\"",
                                 "hush: expect text \"&Hush\"", "off: expect disabled",
                                 "hush: expect enabled",        "hush: expect visible",
                                 "nobody: expect hidden",       "people: expect text containing \"Ann\""};
    const QByteArrayList bad = {"seats: expect value 2",  "fare: expect item \"Child\"",
                                "people: expect count 3", "people: expect item \"Cy\"",
                                "hush: expect checked",   "off: expect enabled",
                                "hush: expect hidden",    "hush: expect value 3"};
    const Ran r = play(w, QString::fromUtf8((good + bad).join('\n')) + '\n');
    QCOMPARE(r.code, 1);
    for (qsizetype i = 0; i < good.size(); ++i)
        QVERIFY2(r.out.contains("ok   line " + QByteArray::number(i + 1) + ": " + good[i]),
                 said(r).constData());
    for (qsizetype i = 0; i < bad.size(); ++i)
        QVERIFY2(r.out.contains("FAIL line " + QByteArray::number(good.size() + i + 1)), said(r).constData());
    QVERIFY2(r.out.contains("expected value 2, found value 1"), said(r).constData());
    QVERIFY2(r.out.contains("hush cannot be checked"), said(r).constData());
}

void HandsTest::allButtonsAndTheWheel()
{
    Workspace w = fresh_.project();
    type(w, {"add: button hold \"Hold\"", "add: list people items=\"Ann\\nBo\"", "add: slider level",
             "connect: hold.pressed calls down", "connect: hold.released calls up",
             "connect: people.itemDoubleClicked calls twice", "connect: people.context menu calls menu",
             "body: down: qInfo(\"down\");", "body: up: qInfo(\"up\");"});
    const Ran r = play(
        w,
        "hold: press and hold\nhandler down: expect 1 call\nhandler up: expect 0 calls\nhold: release\n"
        "handler up: expect 1 call\npeople row 2: double click\nhandler twice: expect 1 call\n"
        "people row 1: context click\nhandler menu: expect 1 call\nlevel: wheel up 2\nlevel: expect value 6\n"
        "level: wheel down\nlevel: expect value 3\n");
    QVERIFY2(r.code == 0, said(r).constData());
}

// Once a key went to whatever had the focus while the loop could not move it.
void HandsTest::keysMeanTheirSubjectWhileTheLoopIsBusy()
{
    Workspace w = fresh_.project();
    type(w, {"add: button slow \"Slow\"", "add: tick box one \"One\"", "add: tick box two \"Two\"",
             "connect: slow.clicked calls work"});
    including(w, {"<QtCore/QThread>"});
    type(w, {"body: work: QThread::msleep(600);"});
    const Ran r =
        play(w, "slow: click\nwait 100ms\ntwo: press Space\none: click\none: press Space\ntwo: press Space\n"
                "two: press Space\ntwo: expect checked\none: expect unchecked\n");
    QVERIFY2(r.code == 0, said(r).constData());
    QVERIFY2(r.out.contains("ok   line 8") && r.out.contains("ok   line 9"), said(r).constData());
}

void HandsTest::menusAreOpenedAndClicked()
{
    Workspace m = fresh_.project("menus");
    type(m, {"add: menu bar bar", "add: menu fileMenu title=&File in bar",
             "add: menu recentMenu title=Recent in fileMenu", "add: action openAction \"&Open…\"",
             "add: action lastAction \"Last\"", "add: action loneAction \"Lone\" shortcut=Ctrl+L",
             "set: fileMenu: actions openAction, recentMenu", "set: recentMenu: actions lastAction",
             "connect: openAction.triggered calls opened", "connect: lastAction.triggered calls last"});
    const Ran r = play(m, "openAction: click\nhandler opened: expect 1 call\nQAction \"Open…\": click\n"
                          "handler opened: expect 2 calls\nlastAction: click\nhandler last: expect 1 call\n"
                          "openAction: expect enabled\nloneAction: click\n");
    QCOMPARE(r.code, 1); // for the last one
    for (int line = 1; line <= 7; ++line)
        QVERIFY2(r.out.contains("ok   line " + QByteArray::number(line)), said(r).constData());
    QVERIFY2(r.out.contains("loneAction is in no menu or bar that is shown; press Ctrl+L instead"),
             said(r).constData());
}

void HandsTest::aProgramThatCrashesIsNoSuccess_data()
{
    QTest::addColumn<QString>("body");
    QTest::newRow("at once") << "abort();";
    QTest::newRow("later") << "QTimer::singleShot(50, this, [] { ::raise(SIGSEGV); });";
    QTest::newRow("killed") << "::raise(SIGKILL);";
}

void HandsTest::aProgramThatCrashesIsNoSuccess()
{
    QFETCH(QString, body);
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "connect: go.clicked calls first"});
    including(w, {"<csignal>", "<cstdlib>"});
    type(w, {"body: first: " + body});
    const Ran last = play(w, "go: click\n" + QString(body.contains("Shot") ? "wait 300ms\n" : ""));
    QVERIFY2(last.code == 1, said(last).constData());
    const Ran more = play(w, "go: click\nwait 500ms\nwait 1ms\ngo: expect visible\n");
    QCOMPARE(more.code, 1);
    // It may have died before the second step began, or in it.
    QVERIFY2(more.out.contains("FAIL line 3: wait 1ms: The program was ended by signal") ||
                 more.out.contains("FAIL line 2: wait 500ms: The program was ended by signal"),
             said(more).constData());
}

// Looking for a text once woke the loop two hundred times a second.
void HandsTest::waitingAddsNoTurns()
{
    Workspace w = fresh_.project();
    type(w, {"add: label status \"idle\"", "add: timer later interval=900 repeat=false",
             "connect: later.timeout calls now", "body: now: status->setText(\"done\");"});
    QVERIFY(w.save());
    const QString file = w.place().folder + "/x.play", out = w.place().folder + "/recorded";
    QVERIFY(writeFile(file, "status: wait for text \"done\" within 5s\n"));
    const Ran r = verb({"run", w.place().folder, "--play", file, "--record", out});
    QVERIFY2(r.code == 0, said(r).constData());
    const Ran turns = verb({"turns", out, "--json"});
    const auto rows = QJsonDocument::fromJson(turns.out).array();
    QVERIFY2(!rows.isEmpty() && rows.size() < 40, QByteArray::number(rows.size()).constData());
}

// A loop that had nothing to do was once said to be busy when what was waited for did not come.
void HandsTest::whatDidNotComeIsSaidAsItIs()
{
    Workspace w = fresh_.project();
    type(w, {"add: label status \"idle\""});
    const Ran r = play(w, "status: wait for text \"done\" within 400ms\n");
    QCOMPARE(r.code, 1);
    QVERIFY2(r.out.contains("found text \"idle\"") && !r.out.contains("busy"), said(r).constData());
}

PIPIT_TEST(HandsTest)
#include "hands_test.moc"
