#include "core/plays/play.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit;

class PlaysTest : public QObject
{
    Q_OBJECT
private slots:
    void everyStepIsUnderstood();
    void everyExpectationIsUnderstood();
    void mistakesNameTheirLine_data();
    void mistakesNameTheirLine();
    void fingerprintsFollowTheSteps();
    void thePaceIsExpectedInWords();
};

void PlaysTest::thePaceIsExpectedInWords()
{
    auto p =
        parsePlay("loop: expect wait under 100ms\ngateTimer: expect every 250 ms within 20ms\n", "x.play");
    QVERIFY2(bool(p), p ? "" : qPrintable(p.problem().text()));
    QCOMPARE(p->steps[0].verb, PlayVerb::ExpectWait);
    QCOMPARE(p->steps[0].time, std::chrono::milliseconds(100));
    QCOMPARE(p->steps[1].verb, PlayVerb::ExpectEvery);
    QCOMPARE(p->steps[1].subject, QString("gateTimer"));
    QCOMPARE(p->steps[1].every, std::chrono::milliseconds(250));
    QCOMPARE(p->steps[1].time, std::chrono::milliseconds(20));
    QVERIFY(p->steps[0].isPace() && p->steps[1].isPace());
    for (const char *wrong : {"loop: expect wait under soon", "gateTimer: expect every 250ms",
                              "gateTimer: expect every 0ms within 1ms", "loop: expect wait under 0ms"})
        QVERIFY2(!parsePlay(wrong, "x.play"), wrong);
}

void PlaysTest::everyStepIsUnderstood()
{
    auto p = parsePlay(
        "# a comment\n\nticketField: type \"K \\\"204\\\"\"\nticketField: press Ctrl+S\nboardButton: click\n"
        "QPushButton \"New: game\": click\nwait 300ms\nstatus: wait for text containing \"aboard\" within "
        "2s\n"
        "status: expect text \"\"\nhandler board: expect 1 call\nhandler board: expect 12 calls\n"
        "loop: expect no stall over 50ms\ncarList row 2: drag to deckLane_3\ncarList: drag to lanes row 4\n"
        "deckMap: hover 40,60\ndeckMap: hover\ncarList row 12: click\n",
        "x.play");
    QVERIFY2(bool(p), p ? "" : qPrintable(p.problem().text()));
    QCOMPARE(p->steps.size(), 15);
    QCOMPARE(p->steps[0].text, QString("K \"204\""));
    QCOMPARE(p->steps[0].line, 3);
    QCOMPARE(p->steps[3].subject, QString("QPushButton \"New: game\""));
    QCOMPARE(p->steps[4].time, std::chrono::milliseconds(300));
    QCOMPARE(p->steps[5].kind, QString("containing"));
    QCOMPARE(p->steps[5].time, std::chrono::milliseconds(2000));
    QCOMPARE(p->steps[7].subject, QString("board"));
    QCOMPARE(p->steps[8].count, 12);
    QCOMPARE(p->steps[9].verb, PlayVerb::ExpectPace);
    QCOMPARE(p->steps[10].verb, PlayVerb::Drag);
    QCOMPARE(p->steps[10].subject, QString("carList"));
    QCOMPARE(p->steps[10].row, 2);
    QCOMPARE(p->steps[10].text, QString("deckLane_3"));
    QCOMPARE(p->steps[11].row, 0);
    QCOMPARE(p->steps[11].text, QString("lanes"));
    QCOMPARE(p->steps[11].textRow, 4);
    QCOMPARE(std::pair(p->steps[12].x, p->steps[12].y), std::pair(40, 60));
    QCOMPARE(std::pair(p->steps[13].x, p->steps[13].y), std::pair(0, 0));
    QCOMPARE(p->steps[14].row, 12);
}

void PlaysTest::everyExpectationIsUnderstood()
{
    const auto step = [](const QString &line) {
        auto p = parsePlay(line + '\n', "x.play");
        return p ? p->steps.first() : PlayStep{};
    };
    for (const auto &[line, kind, is] : {std::tuple{"a: expect checked", "checked", true},
                                         {"a: expect unchecked", "checked", false},
                                         {"a: expect enabled", "enabled", true},
                                         {"a: expect disabled", "enabled", false},
                                         {"a: expect visible", "visible", true},
                                         {"a: wait for hidden within 2s", "visible", false}}) {
        QCOMPARE(step(line).kind, QString(kind));
        QCOMPARE(step(line).is, is);
        QCOMPARE(step(line).expected(),
                 QString(line).section(' ', QString(line).contains("wait") ? 3 : 2).section(' ', 0, 0));
    }
    QCOMPARE(step("a: expect value 2.5").number, 2.5);
    QCOMPARE(step("a: expect count 3").kind, QString("count"));
    QCOMPARE(step("a: expect item \"x within 2s\"").text, QString("x within 2s"));
    QVERIFY(step("a: expect text \"x\" within 200ms").isPace());
    QVERIFY(!step("a: wait for text \"x\" within 200ms").isPace());
    QCOMPARE(int(step("a: double click").click), int(ClickKind::Double));
    QCOMPARE(int(step("a: context click").click), int(ClickKind::Context));
    QCOMPARE(int(step("a: press and hold").click), int(ClickKind::Hold));
    QCOMPARE(int(step("a: release").click), int(ClickKind::Release));
    QCOMPARE(step("a: wheel down 3").count, -3);
    QCOMPARE(step("a: wheel up").count, 1);
    QCOMPARE(step("handler lambda at main.cpp:12: expect 2 calls").subject, QString("lambda at main.cpp:12"));
}

void PlaysTest::mistakesNameTheirLine_data()
{
    QTest::addColumn<QString>("step");
    QTest::addColumn<QString>("says");
    QTest::newRow("no subject") << "click"
                                << "no subject";
    QTest::newRow("unknown") << "a: hop"
                             << "not understood";
    QTest::newRow("wait") << "wait long"
                          << "The time to wait is not understood";
    QTest::newRow("quotes") << "a: type K-204"
                            << "double quotes";
    QTest::newRow("within") << "a: wait for text \"x\""
                            << "within 2s";
    QTest::newRow("pace") << "loop: expect no stall over 50"
                          << "write a time";
    QTest::newRow("too short a pace") << "loop: expect no stall over 5ms" // once judged as if it said 16
                                      << "16ms or more";
    QTest::newRow("value") << "a: expect value big"
                           << "write a number";
    QTest::newRow("state") << "a: expect happy"
                           << "checked, unchecked";
    QTest::newRow("hover") << "a: hover there"
                           << "hover 40,60";
    QTest::newRow("drag") << "a: drag"
                          << "not understood";
    QTest::newRow("calls") << "a: expect 1 call"
                           << "not understood";
}

void PlaysTest::mistakesNameTheirLine()
{
    QFETCH(QString, step);
    QFETCH(QString, says);
    auto p = parsePlay("a: click\n" + step + "\n", "x.play");
    QVERIFY(!p);
    QCOMPARE(p.problem().line, 2);
    QVERIFY2(p.problem().text().contains(says), qPrintable(p.problem().text()));
}

void PlaysTest::fingerprintsFollowTheSteps()
{
    const auto print = [](const char *t) { return parsePlay(t, "x")->fingerprint; };
    QCOMPARE(print("a: click\n"), print("# different comment\n  a: click  \n\n"));
    QVERIFY(print("a: click\n") != print("b: click\n"));
}

PIPIT_TEST(PlaysTest)
#include "plays_test.moc"
