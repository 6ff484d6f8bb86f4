// In the place of a timer that sweeps: one that ends each thing on time.
#include "core/base/files.h"
#include "core/moves/ending.h"
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class EndingTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    // A desk that lights a lamp when the button is clicked, and a timer that puts it out.
    Workspace desk(const QString &light, const QString &sweep, const QString &members = {},
                   const QString &more = {});
    static Result<Move> plan(Workspace &w, const QString &timer = "sweepTimer")
    {
        return planEnding(MoveQuestion::of(w, timer, Shape::Background), false);
    }

private Q_SLOTS:
    void eachFormIsEndedByATimerOfItsOwn_data();
    void eachFormIsEndedByATimerOfItsOwn();
    void itEndsOnTimeEachTime();
    void whatDoesMoreIsRefused_data();
    void whatDoesMoreIsRefused();
    void whoStartsItMeansIt();
    void byTheVerb();
};

Workspace EndingTest::desk(const QString &light, const QString &sweep, const QString &members,
                           const QString &more)
{
    Workspace w = fresh_.project();
    type(w, {"add: timer sweepTimer interval=400", "add: label lampLabel", "add: label bellLabel",
             "add: button lightButton \"Light\"", "add: list logList",
             "connect: lightButton.clicked calls light", "connect: sweepTimer.timeout calls sweep"});
    QString code = *w.files().text("desk.cpp");
    code.truncate(code.indexOf("void Desk::light"));
    w.files().setText("desk.cpp", code + "void Desk::light()\n{\n" + light + "}\n\nvoid Desk::sweep()\n{\n" +
                                      sweep + "}\n" + more);
    QString header = *w.files().text("desk.h");
    header.replace("#pragma once\n", "#pragma once\n\n#include <QtCore/QElapsedTimer>\n");
    header.replace(header.lastIndexOf("};"), 2, "\nprivate:\n" + members + "};");
    w.files().setText("desk.h", header);
    return w;
}

void EndingTest::eachFormIsEndedByATimerOfItsOwn_data()
{
    QTest::addColumn<QString>("light");
    QTest::addColumn<QString>("sweep");
    QTest::addColumn<QString>("members");
    QTest::addColumn<int>("lasts");
    QTest::addColumn<QString>("lightNow");
    QTest::addColumn<QString>("sweepNow");
    const QString clock = "    QElapsedTimer litAt_;\n", flag = "    bool lit_ = false;\n";
    const QString lit = "    lampLabel->setText(\"lit\");\n    litAt_.restart();\n",
                  litNow = lit + "    sweepTimer->start();\n";
    QTest::newRow("elapsed") << lit << "    if (litAt_.elapsed() > 250)\n        lampLabel->clear();\n"
                             << clock << 250 << litNow << "    lampLabel->clear();\n";
    QTest::newRow("elapsed, in braces, with what is asked beside")
        << lit
        << "    if (litAt_.isValid() && litAt_.hasExpired(250)) {\n        lampLabel->clear();\n"
           "        litAt_.invalidate();\n    }\n"
        << clock << 250 << litNow
        << "    if (litAt_.isValid()) {\n        lampLabel->clear();\n        litAt_.invalidate();\n    }\n";
    QTest::newRow("elapsed, in braces")
        << lit
        << "    if (litAt_.elapsed() >= 1'500) {\n        lampLabel->clear();\n        if "
           "(lampLabel->isVisible())\n"
           "            lampLabel->hide();\n        litAt_.invalidate();\n    }\n"
        << clock << 1500 << litNow
        << "    lampLabel->clear();\n    if (lampLabel->isVisible())\n        lampLabel->hide();\n"
           "    litAt_.invalidate();\n";
    QTest::newRow("leaves before")
        << lit << "    if (litAt_.elapsed() < 300)\n        return;\n    lampLabel->setText(QString());\n"
        << clock << 300 << litNow << "    lampLabel->setText(QString());\n";
    QTest::newRow("leaves before, or where nothing began")
        << lit
        << "    if (!litAt_.isValid() || litAt_.elapsed() < 300)\n        return;\n    lampLabel->clear();\n"
           "    logList->addItem(\"out\");\n    litAt_.invalidate();\n"
        << clock << 300 << litNow
        << "    if (!litAt_.isValid())\n        return;\n    lampLabel->clear();\n"
           "    logList->addItem(\"out\");\n    litAt_.invalidate();\n";
    QTest::newRow("a flag")
        << "    lampLabel->setText(\"lit\");\n    lit_ = true;\n"
        << "    if (lit_) {\n        lampLabel->clear();\n        lit_ = false;\n    }\n"
        << flag << 400 << "    lampLabel->setText(\"lit\");\n    lit_ = true;\n    sweepTimer->start();\n"
        << "    if (lit_) {\n        lampLabel->clear();\n        lit_ = false;\n    }\n";
    QTest::newRow("a flag, set where a condition holds")
        << "    if (lampLabel->text().isEmpty())\n        lit_ = true;\n    else\n        logList->clear();\n"
        << "    if (!lit_)\n        return;\n    lit_ = false;\n    lampLabel->clear();\n"
        << flag << 400
        << "    if (lampLabel->text().isEmpty()) {\n        lit_ = true;\n        sweepTimer->start();\n    "
           "}\n"
           "    else\n        logList->clear();\n"
        << "    if (!lit_)\n        return;\n    lit_ = false;\n    lampLabel->clear();\n";
    QTest::newRow("begun in two places, and on one line")
        << "    if (logList->count() > 3) {\n        lit_ = true;\n        return;\n    }\n"
           "    if (logList->count() > 1) lit_ = true;\n    logList->clear();\n"
        << "    if (lit_) {\n        lampLabel->clear();\n        lit_ = false;\n    }\n"
        << flag << 400
        << "    if (logList->count() > 3) {\n        lit_ = true;\n        sweepTimer->start();\n        "
           "return;\n"
           "    }\n    if (logList->count() > 1) { lit_ = true; sweepTimer->start(); }\n    "
           "logList->clear();\n"
        << "    if (lit_) {\n        lampLabel->clear();\n        lit_ = false;\n    }\n";
    QTest::newRow("whatever there is")
        << "    lampLabel->setText(\"lit\");\n    lampLabel->setStyleSheet(\"color: red\");\n"
           "    logList->addItem(\"lit\");\n"
        << "    lampLabel->clear();\n    lampLabel->setStyleSheet({});\n"
        << QString() << 400
        << "    lampLabel->setText(\"lit\");\n    lampLabel->setStyleSheet(\"color: red\");\n"
           "    sweepTimer->start();\n    logList->addItem(\"lit\");\n"
        << "    lampLabel->clear();\n    lampLabel->setStyleSheet({});\n";
}

void EndingTest::eachFormIsEndedByATimerOfItsOwn()
{
    QFETCH(QString, light);
    QFETCH(QString, sweep);
    QFETCH(QString, members);
    QFETCH(int, lasts);
    QFETCH(QString, lightNow);
    QFETCH(QString, sweepNow);
    Workspace w = desk(light, sweep, members);
    const QString before = *w.files().text("desk.cpp");
    const auto move = plan(w);
    QVERIFY2(move, move ? "" : qPrintable(move.problem().text()));
    QVERIFY2(move->refused.isEmpty(),
             move->refused.isEmpty() ? "" : qPrintable(move->refused.first().reason + move->newText));
    QVERIFY(w.apply(move->edit));
    const QString code = *w.files().text("desk.cpp");
    QVERIFY2(code.contains("void Desk::light()\n{\n" + lightNow + "}\n"), qPrintable(code));
    QVERIFY2(code.contains("void Desk::sweep()\n{\n" + sweepNow + "}\n"), qPrintable(code));
    const TimerNode *t = w.project().timer("sweepTimer");
    QCOMPARE(t->interval, lasts);
    QVERIFY(!t->repeat && !t->autostart);
    QVERIFY(move->newText.contains("sweepTimer->start();"));
    QVERIFY(w.undo());
    QCOMPARE(*w.files().text("desk.cpp"), before);
    QVERIFY(w.project().timer("sweepTimer")->repeat);
}

// How long it is lit, by the program's own clock: swept, that is by when the next tick comes; then each time
// the same.
void EndingTest::itEndsOnTimeEachTime()
{
    const QString members = "    QElapsedTimer litAt_;\n    QElapsedTimer since_;\n";
    const QString light = "    lampLabel->setText(\"lit\");\n    since_.restart();\n    litAt_.restart();\n",
                  sweep =
                      "    if (litAt_.isValid() && litAt_.elapsed() > 200) {\n        lampLabel->clear();\n"
                      "        litAt_.invalidate();\n        qWarning(\"lasted %lld\", since_.elapsed());\n"
                      "    }\n";
    QByteArray said;
    const auto lastedIn = [&](Workspace &w) {
        QList<int> lasted;
        if (const auto saved = w.save(); !saved)
            return lasted;
        const QString play = w.place().folder + "/light.play";
        const QByteArray once = "lightButton: click\nwait 730ms\n";
        if (!writeFile(play, "wait 300ms\n" + once.repeated(4)))
            return lasted;
        const Ran ran = verb({"play", w.place().folder, play});
        said = ran.out + ran.err;
        for (const QByteArray &line : (ran.out + ran.err).split('\n'))
            if (const qsizetype at = line.indexOf("lasted "); at >= 0)
                lasted << line.mid(at + 7).trimmed().toInt();
        return lasted;
    };
    Workspace w = desk(light, sweep, members);
    const QList<int> swept = lastedIn(w);
    const auto move = plan(w);
    QVERIFY(move && move->refused.isEmpty());
    QVERIFY(w.apply(move->edit));
    const QList<int> onTime = lastedIn(w);
    QVERIFY2(onTime.size() == 4, said.constData());
    QVERIFY(swept.size() >= 3);
    const auto [least, most] = std::minmax_element(swept.begin(), swept.end());
    QVERIFY2(*most - *least > 60, qPrintable(QString("swept %1 to %2 ms").arg(*least).arg(*most)));
    for (const int ms : onTime)
        QVERIFY2(ms >= 185 && ms < *most, qPrintable(QString("%1 ms, swept %2").arg(ms).arg(*most)));
}

void EndingTest::whatDoesMoreIsRefused_data()
{
    QTest::addColumn<QString>("light");
    QTest::addColumn<QString>("sweep");
    QTest::addColumn<QString>("members");
    QTest::addColumn<QString>("more");
    QTest::addColumn<QString>("reason");
    const QString clock = "    QElapsedTimer litAt_;\n    QElapsedTimer rungAt_;\n    int ticks_ = 0;\n"
                          "    bool lit_ = false;\n";
    const QString lit = "    lampLabel->setText(\"lit\");\n    litAt_.restart();\n";
    QTest::newRow("counts") << lit << "    ++ticks_;\n    lampLabel->clear();\n"
                            << clock << QString() << "a tick does more than";
    QTest::newRow("two things") << lit
                                << "    if (litAt_.elapsed() > 250)\n        lampLabel->clear();\n"
                                   "    if (rungAt_.elapsed() > 100)\n        bellLabel->clear();\n"
                                << clock << QString() << "one timer ends one";
    QTest::newRow("depends on more") << lit
                                     << "    if (litAt_.elapsed() > 250 && logList->count() > 2)\n"
                                        "        lampLabel->clear();\n"
                                     << clock << QString() << "which is read at every tick";
    QTest::newRow("again and again")
        << lit << "    if (litAt_.elapsed() > 250)\n        logList->addItem(\"out\");\n"
        << clock << QString() << "it runs at every tick after that";
    QTest::newRow("of what it finds") << lit << "    lampLabel->setText(bellLabel->text());\n"
                                      << clock << QString() << "a tick does more than";
    QTest::newRow("for how long is not known")
        << lit << "    if (litAt_.elapsed() > ticks_)\n        lampLabel->clear();\n"
        << clock << QString() << "its duration is not a constant";
    QTest::newRow("set to what is not known")
        << "    lit_ = logList->count() > 3;\n"
        << "    if (lit_) {\n        lampLabel->clear();\n        lit_ = false;\n    }\n"
        << clock << QString() << "whether it begins is known only at run time";
    QTest::newRow("never begun") << "    lampLabel->setText(\"lit\");\n"
                                 << "    if (litAt_.elapsed() > 250)\n        lampLabel->clear();\n"
                                 << clock << QString() << "litAt_ is never started in this file";
}

void EndingTest::whatDoesMoreIsRefused()
{
    QFETCH(QString, light);
    QFETCH(QString, sweep);
    QFETCH(QString, members);
    QFETCH(QString, more);
    QFETCH(QString, reason);
    Workspace w = desk(light, sweep, members, more);
    const auto move = plan(w);
    QVERIFY2(move, move ? "" : qPrintable(move.problem().text()));
    QVERIFY(!move->refused.isEmpty() && move->edit.files.isEmpty());
    QVERIFY2(move->refused.first().reason.contains(reason), qPrintable(move->refused.first().reason));
    QVERIFY(move->refused.first().line > 0);
}

void EndingTest::whoStartsItMeansIt()
{
    const QString light = "    lampLabel->setText(\"lit\");\n", sweep = "    lampLabel->clear();\n";
    Workspace started = desk(light + "    sweepTimer->start();\n", sweep);
    const auto move = plan(started);
    QVERIFY(move && !move->refused.isEmpty());
    QVERIFY(move->refused.first().reason.contains("the code starts, stops or reads sweepTimer"));
    // Without code: a connection sets the label, so nothing of the code begins it.
    Workspace connected = desk(light, sweep);
    type(connected, {"add: field nameEdit", "connect: nameEdit.textChanged calls lampLabel.setText"});
    const auto other = plan(connected);
    QVERIFY(other && !other->refused.isEmpty());
    QVERIFY2(other->refused.first().reason.contains("starts it without code"),
             qPrintable(other->refused.first().reason));
    QVERIFY(!plan(connected, "nobody"));
}

void EndingTest::byTheVerb()
{
    Workspace w = desk("    lampLabel->setText(\"lit\");\n", "    lampLabel->clear();\n");
    QVERIFY(w.save());
    const Ran look = verb({"shape", w.place().folder, "sweepTimer", "on-time", "--look"});
    QVERIFY2(look.code == 0 && look.out.contains("It lasts 400 ms each time"), look.out + look.err);
    const Ran done = verb({"shape", w.place().folder, "sweepTimer", "on-time"});
    QCOMPARE(done.code, 0);
    QVERIFY(readFile(w.place().folder + "/desk.cpp")->contains("sweepTimer->start();"));
    const Ran again = verb({"shape", w.place().folder, "sweepTimer", "on-time"});
    QVERIFY2(again.code != 0 && (again.out + again.err).contains("ticks once"), again.out + again.err);
}

PIPIT_TEST(EndingTest)
#include "ending_test.moc"
