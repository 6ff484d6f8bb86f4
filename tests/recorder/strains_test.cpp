// Timers and strains of programs whose truth is known.
#include "core/pace/strains.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;
using namespace std::chrono_literals;

class StrainsTest : public QObject
{
    Q_OBJECT
private slots:
    void whatWearsOnTheLoopIsToldWithItsFigures();
    void whereObjectsLiveIsTold();
    void aHealthyProgramHasNone();
    void aPollIsAsLateAsIsPredicted();
    void ticksThatWokeTheLoopAloneAreCounted();
    void anotherIntervalIsTriedInTheRunningProgram();
};

void StrainsTest::whatWearsOnTheLoopIsToldWithItsFigures()
{
    const Whole w = runTarget("strained");
    QVERIFY(w.info);
    QMap<QString, QString> said; // by kind and whom
    for (const Strain &s : strainsOf(w.run->trace(), w.run->handlers(), {}, true))
        said[Strain::id(s.kind) + ' ' + s.who] = s.sentence();
    const QString all = QStringList(said.values()).join('\n');
    const auto lineOf = [](const char *code) {
        QFile file(PIPIT_SOURCE_DIR "/tests/targets/strained.cpp");
        if (!file.open(QIODevice::ReadOnly))
            return 0;
        int line = 1;
        for (const QByteArray &text : file.readAll().split('\n')) {
            if (text.contains(code))
                return line;
            ++line;
        }
        return 0;
    };
    const QString typed =
        QStringLiteral("many-calls lambda at strained.cpp:%1").arg(lineOf("QLineEdit::textChanged"));
    // 60 of them, of which a busy machine has fewer within a second.
    const QRegularExpression often("ran ([3-6]\\d) times within a second, by field emits textChanged");
    const int times = often.match(said.value(typed)).captured(1).toInt();
    QVERIFY2(times >= 30 && times <= 60, qPrintable(all));
    QVERIFY2(said.value("off-the-loop status's text was set").contains("(importer)"), qPrintable(all));
    QVERIFY2(said.contains("growing-queue queued call of bar"), qPrintable(all));
    QVERIFY2(said.contains("many-settings status's text"), qPrintable(all));
    QVERIFY2(
        said.contains("re-entry " +
                      QStringLiteral("lambda at strained.cpp:%1").arg(lineOf("go, &QPushButton::clicked"))),
        qPrintable(all));
    // The timer's own handler only passes on what the field's does.
    QVERIFY2(!all.contains("typing emits timeout"), qPrintable(all));
}

void StrainsTest::whereObjectsLiveIsTold()
{
    const Whole w = runTarget("lives");
    QVERIFY(w.info);
    QMap<QString, QString> said; // by kind and whom
    for (const Strain &s : strainsOf(w.run->trace(), w.run->handlers(), {}, true))
        said[Strain::id(s.kind) + ' ' + s.who] = s.sentence();
    const QString all = QStringList(said.values()).join('\n');
    // A slot of a QThread's own class.
    QVERIFY2(said.value("wrong-thread Reader::readAll").contains("ran on the event loop, "), qPrintable(all));
    QVERIFY2(said.value("wrong-thread Reader::readAll").contains("a slot of reader"), qPrintable(all));
    // A timer that is started on another thread.
    const QStringList about =
        QStringList(said.values()).filter("Timers cannot be started from another thread");
    QCOMPARE(about.size(), 1);
    // What was posted to the receiver before it went: the first was handled.
    QVERIFY2(said.value("dead-receiver receiver").startsWith("3 things posted to receiver by thread "),
             qPrintable(all));
    // One detached thread, of which nothing was recorded; the reader was waited for.
    const QStringList left = QStringList(said.values()).filter("was still running when the program ended");
    QVERIFY2(left.size() == 1, qPrintable(all));
    QVERIFY2(left.first().startsWith("A thread (target-lives)"), qPrintable(all));
}

void StrainsTest::aHealthyProgramHasNone()
{
    const Whole w = runTarget("polling", {"50", "2"});
    QVERIFY(w.info);
    const auto strains = strainsOf(w.run->trace(), w.run->handlers(), {}, true);
    // What it holds the loop with are stalls, each told for itself.
    QVERIFY2(strains.empty(), strains.empty() ? "" : qPrintable(strains.front().sentence()));
}

void StrainsTest::aPollIsAsLateAsIsPredicted()
{
    const Whole w = runTarget("polling", {"100", "8"});
    QVERIFY(w.info);
    std::vector<std::int64_t> changes, ticks;
    double late = 0;
    std::int64_t change = 0, longest = 0;
    for (const QByteArray &line : w.output.split('\n')) {
        const std::int64_t at = line.mid(line.indexOf(' ') + 1).toLongLong();
        if (line.startsWith("TICK"))
            ticks.push_back(at);
        if (line.startsWith("CHANGE"))
            changes.push_back(change = at);
        if (line.startsWith("NOTICED")) {
            late += double(at - change);
            longest = std::max(longest, at - change);
        }
    }
    QVERIFY(changes.size() > 200 && ticks.size() > 40);
    const auto timers = timersOf(w.run->trace());
    const auto poll =
        std::find_if(timers.begin(), timers.end(), [](const TimerRow &t) { return t.name == "poll"; });
    QVERIFY(poll != timers.end());
    QCOMPARE(poll->promised, 100'000'000);
    QCOMPARE(poll->ticks, int(ticks.size()));
    // Each tick as the program saw it itself.
    for (std::size_t i = 0; i < ticks.size(); ++i)
        QVERIFY2(std::abs(poll->at[i] - ticks[i]) < 2'000'000,
                 qPrintable(QString::number(poll->at[i] - ticks[i])));
    QVERIFY(poll->intervals.most() > 150'000'000); // it was held
    const PollDelay predicted = predictedDelay(poll->intervals), measured = measuredDelay(changes, poll->at);
    const double own = late / double(changes.size());
    const QByteArray told = QStringLiteral("predicted %1, measured %2, by the program %3 ms")
                                .arg(double(predicted.mean) / 1e6)
                                .arg(double(measured.mean) / 1e6)
                                .arg(own / 1e6)
                                .toUtf8();
    QVERIFY2(std::abs(double(measured.mean) - own) < 1e6, told.constData());
    QVERIFY2(std::abs(double(predicted.mean) - own) < 0.12 * own, told.constData());
    QVERIFY(longest <= predicted.longest + 2'000'000);
}

// Of every timer in every recording none of the ticks was the only reason to wake: what the dispatcher says
// of itself counted as company. And 98 single shots were one timer that "kept 302 ms".
void StrainsTest::ticksThatWokeTheLoopAloneAreCounted()
{
    const Whole w = runTarget("ticking");
    QVERIFY(w.info);
    QMap<QString, QPair<int, int>> own; // alone, ticks
    int shots = 0;
    for (const QByteArray &line : w.output.split('\n')) {
        const QList<QByteArray> words = line.split(' ');
        if (words[0] == "ALONE")
            own[words[1]] = {words[2].toInt(), words[4].toInt()};
        if (words[0] == "SHOTS")
            shots = words[1].toInt();
    }
    QCOMPARE(own.size(), 2);
    QVERIFY(own["alone"].first > 3 && own["alone"].first < own["alone"].second); // both happen
    int toolkit = 0, rowsOfShots = 0;
    for (const TimerRow &t : timersOf(w.run->trace())) {
        toolkit += t.toolkit;
        if (own.contains(t.name)) {
            QCOMPARE(t.ticks, own[t.name].second);
            const QByteArray both = QStringLiteral("%1: told %2, by the program %3")
                                        .arg(t.name)
                                        .arg(t.alone)
                                        .arg(own[t.name].first)
                                        .toUtf8();
            // The program counts timers only: a paint for another reason may come with a tick.
            QVERIFY2(t.alone <= own[t.name].first && t.alone >= own[t.name].first - 1, both.constData());
        }
        if (t.className == "QSingleShotTimer") {
            ++rowsOfShots;
            QCOMPARE(t.ticks, shots + 2); // and those that type and end the program
            QVERIFY(t.intervals.empty());
            QVERIFY2(t.sentence().startsWith(QStringLiteral("single shots: fired %1 times").arg(shots + 2)),
                     qPrintable(t.sentence()));
        }
    }
    QCOMPARE(rowsOfShots, 1);
    QVERIFY(toolkit <= 1);
}

void StrainsTest::anotherIntervalIsTriedInTheRunningProgram()
{
    RunSpec spec;
    spec.program.program = targetProgram("polling");
    spec.program.arguments = QStringList{"100", "30"};
    auto run = LiveRun::start(spec, {});
    QVERIFY(bool(run));
    const auto poll = [&]() -> std::optional<TimerRow> {
        (*run)->program().drainNow();
        for (TimerRow &t : timersOf((*run)->trace()))
            if (t.name == "poll")
                return std::move(t);
        return std::nullopt;
    };
    QTRY_VERIFY_WITH_TIMEOUT(poll() && poll()->ticks >= 5, 10'000);
    const auto done = (*run)->setInterval("poll", 40ms);
    QVERIFY2(bool(done), done ? "" : qPrintable(done.problem().text()));
    QTRY_VERIFY_WITH_TIMEOUT(poll()->promised == 40'000'000 && poll()->intervals.count() >= 20, 10'000);
    QVERIFY2(std::abs(poll()->intervals.median() - 40'000'000) < 4'000'000, qPrintable(poll()->sentence()));
    const auto none = (*run)->setInterval("pol", 40ms);
    QVERIFY(!none && none.problem().text().contains("no timer called pol"));
    (*run)->program().kill();
    (void)(*run)->program().waitForEnd(5s);
}

PIPIT_TEST(StrainsTest)
#include "strains_test.moc"
