// Plays on the demo: input lands and waits while the loop is frozen.
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/pace/compare.h"
#include "core/plays/player.h"
#include "tests/support/display.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class PlayTest : public QObject
{
    Q_OBJECT
private:
    struct Played {
        std::unique_ptr<LiveRun> run;
        PlayReport report;
        RunInfo info;
    };
    static Played play(const QString &side, const QString &text, const QString &recordTo = {})
    {
        static QTemporaryDir dir;
        const QString folder = dir.path() + '/' + side;
        if (!QFileInfo::exists(folder))
            copyFolder(smallDesk() + "/" + side, folder);
        auto w = Workspace::open(folder);
        Builder b(w->place());
        auto built = b.build(w->project(), w->files());
        if (!built || !built->ok)
            qFatal("the demo does not build");
        RunSpec spec;
        spec.program.program = built->program;
        spec.map = folder + "/generated/map.json";
        spec.project = "ferry-desk";
        spec.flavour = buildFlavour();
        spec.recordTo = recordTo;
        auto run = LiveRun::start(spec, {});
        if (!run)
            qFatal("%s", qPrintable(run.problem().text()));
        Played p;
        p.run = std::move(*run);
        std::atomic<bool> cancel{false};
        auto parsed = parsePlay(text, "test.play");
        if (!parsed)
            qFatal("%s", qPrintable(parsed.problem().text()));
        p.report = runPlay(*parsed, p.run->program(), p.run->trace(), p.run->handlers(), cancel);
        p.run->program().askToQuit();
        (void)p.run->program().waitForEnd(std::chrono::seconds(10));
        if (auto info = p.run->finish(&p.report))
            p.info = *info;
        return p;
    }

private slots:
    void whatIsClickedWhileFrozenWaits();
    void theFinishedDeskIsBetterAndComparable();
    void failuresSayWhatWasFound();
    void waitsRunWhileTheLoopIsFrozen();
    void theWholeDeskPlays_data();
    void theWholeDeskPlays();
    void carsAreDraggedOnADisplay_data();
    void carsAreDraggedOnADisplay();
    void rowsAreClickedAndMissed();
};

void PlayTest::theWholeDeskPlays_data()
{
    QTest::addColumn<QString>("side");
    QTest::newRow("before") << "before";
    QTest::newRow("after") << "after";
}

void PlayTest::carsAreDraggedOnADisplay_data()
{
    QTest::addColumn<QString>("side");
    QTest::newRow("after") << "after";
    if (inProof())
        QTest::newRow("before") << "before";
}

// The demo as it ships: once around the desk, with a device, a dialog and every kind of widget.
void PlayTest::theWholeDeskPlays()
{
    QFETCH(QString, side);
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/" + side, dir.path() + "/desk");
    const Ran lint = verb({"lint", dir.path() + "/desk"});
    QVERIFY2(lint.code == 0, lint.out.constData());
    const Ran ran = verb({"run", dir.path() + "/desk", "--play", dir.path() + "/desk/plays/board.play"});
    QVERIFY2(ran.code == 0 && ran.out.contains("handler addCar: expect 2 calls"),
             (ran.out + ran.err).constData());
    QVERIFY2(ran.out.contains("ended with exit code 0"), ran.out.constData());
    QVERIFY2(!ran.err.contains("QObject::connect"), ran.err.constData());
}

static const char tide[] = "tideButton: click\nwait 200ms\nticketField: type \"K-1\"\nboardButton: click\n"
                           "passengerList: wait for text containing \"K-1\" within 10s\n"
                           "tideLabel: wait for text containing \"High water\" within 20s\n";

void PlayTest::whatIsClickedWhileFrozenWaits()
{
    Played p = play("before", tide);
    QVERIFY(p.report.ok);
    const auto stalls = stallsOf(p.run->trace(), p.run->handlers(), std::chrono::milliseconds(200));
    QCOMPARE(stalls.size(), 1u);
    const Stall &s = stalls.front();
    QCOMPARE(s.contributors.front().handler.name, QString("tideForecast"));
    QCOMPARE(s.contributors.front().handler.file, QString("ferry_desk.cpp"));
    QVERIFY(s.contributors.front().handler.line > 0);
    QCOMPARE(s.contributors.front().handler.connection, QString("c16"));
    int inputs = 0, repaints = 0;
    for (const WaitRow &w : s.waiting) {
        inputs += w.kind == "input";
        repaints += w.kind == "repaint";
        // What was done 200 ms into the stall waited for the rest of it.
        if (w.kind == "input")
            QVERIFY2(std::abs(s.duration - 200'000'000 - w.wait) < 60'000'000,
                     qPrintable(w.what + ' ' + durationText(w.wait) + " of " + durationText(s.duration)));
    }
    QCOMPARE(inputs, 5); // a press into the field, three keys, a press on the button
    QVERIFY(repaints >= 1);
}

void PlayTest::theFinishedDeskIsBetterAndComparable()
{
    QTemporaryDir dir;
    Played before = play("before", tide, dir.path() + "/b"), after = play("after", tide, dir.path() + "/a");
    QVERIFY(before.report.ok && after.report.ok);
    const auto budget = stallBudget;
    const RunFigures b = figuresOf(before.run->trace(), before.run->handlers(), before.info, budget);
    const RunFigures a = figuresOf(after.run->trace(), after.run->handlers(), after.info, budget);
    const Comparison c = compareRuns({{before.info, b}}, {{after.info, a}});
    QVERIFY2(c.comparable, qPrintable(c.reason));
    QVERIFY2(c.change == Change::Better && c.verdict.startsWith("It got better: "), qPrintable(c.verdict));
    QVERIFY(b.processor > 300'000'000 && a.processor > 0);
    QVERIFY(b.stalls >= 1 && b.longestStall > 200'000'000);
    QVERIFY2(a.longestStall < b.longestStall / 4, qPrintable(durationText(a.longestStall)));
    QVERIFY(a.longestWait < b.longestWait / 4);
    QVERIFY(a.timeToResult > 0 && b.timeToResult > 0);
    // The same figures from the recordings on disk.
    auto rb = Recording::open(dir.path() + "/b"), ra = Recording::open(dir.path() + "/a");
    QVERIFY(rb && ra);
    const RunFigures again = figuresOf((*rb)->trace, (*rb)->handlers, (*rb)->info, budget);
    QCOMPARE(again.longestStall, b.longestStall);
    QCOMPARE(again.longestWait, b.longestWait);
    QCOMPARE(again.longestTurn, b.longestTurn);
    QCOMPARE(stallsOf((*rb)->trace, (*rb)->handlers, budget).front().contributors.front().handler.name,
             QString("tideForecast"));
    // The work ran on another thread, its three parts are told apart.
    QStringList parts;
    for (const CallRow &call : callsOf((*ra)->trace, (*ra)->handlers))
        if (call.handler.name.startsWith("tideForecast"))
            parts << call.handler.name;
    QCOMPARE(parts, (QStringList{"tideForecastTake", "tideForecastWork", "tideForecastShow"}));
}

// Real drags: taken up by the drag source, looked at by the lane, refused or dropped.
void PlayTest::carsAreDraggedOnADisplay()
{
    QFETCH(QString, side);
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/" + side, dir.path() + "/desk");
    const QStringList arguments{"run", dir.path() + "/desk", "--play", dir.path() + "/desk/plays/cars.play"};
    {
        RealDisplay display;
        QVERIFY2(display.works(), "Xvfb did not start");
        const Ran ran = verb(arguments);
        QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
        QVERIFY2(ran.out.contains("ok   line 14: handler loadCar: expect 2 calls"), ran.out.constData());
    }
    if (side == "before")
        return;
    const Ran without = verb(arguments); // the offscreen platform ends every drag at once, and that is said
    QCOMPARE(without.code, 1);
    QVERIFY2(without.out.contains("play this on a display"), without.out.constData());
}

void PlayTest::rowsAreClickedAndMissed()
{
    QTemporaryDir dir;
    copyFolder(demoFolder() + "/ferry-desk/after", dir.path() + "/desk");
    const QString file = dir.path() + "/desk/plays/rows.play";
    QVERIFY(writeFile(file, "carList row 2: click\ncarList row 9: click\nboardButton row 1: click\n"));
    const Ran ran = verb({"run", dir.path() + "/desk", "--play", file});
    QCOMPARE(ran.code, 1);
    QVERIFY2(ran.out.contains("ok   line 1"), ran.out.constData());
    QVERIFY2(ran.out.contains("carList has 4 rows, so there is no row 9"), ran.out.constData());
    QVERIFY2(ran.out.contains("boardButton has no rows"), ran.out.constData());
}

void PlayTest::failuresSayWhatWasFound()
{
    Played p =
        play("before",
             "statusLabel: expect text \"Gone\"\nstatusLable: click\nticketField: press Hyper+Q\n"
             "handler boardPassenger: expect 3 calls\ntideButton: click\nloop: expect no stall over 50ms\n");
    QVERIFY(!p.report.ok);
    QCOMPARE(p.report.steps[0].found, QString("text \"Ready\""));
    QCOMPARE(p.report.steps[0].expected, QString("text \"Gone\""));
    QVERIFY2(p.report.steps[1].found.contains("statusLabel"), qPrintable(p.report.steps[1].found));
    QVERIFY(p.report.steps[2].found.contains("no key"));
    QCOMPARE(p.report.steps[3].found, QString("0 calls"));
    QVERIFY(p.report.steps[4].ok);
    QVERIFY(p.report.steps[5].found.contains("tideForecast blocked the event loop"));
    QVERIFY(!p.info.playOk);
}

void PlayTest::waitsRunWhileTheLoopIsFrozen()
{
    Played p = play("before", "tideButton: click\nwait 100ms\nboardButton: click\nwait 50ms\n");
    QVERIFY(p.report.ok);
    // Four steps of which none waits for the loop: they take their own time, however long it freezes.
    QVERIFY(p.report.end - p.report.start < 400'000'000);
}

PIPIT_TEST(PlayTest)
#include "play_test.moc"
