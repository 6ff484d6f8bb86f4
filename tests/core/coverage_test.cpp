// Where nothing was or could be seen, nothing is denied.
#include "core/base/files.h"
#include "core/pace/coverage.h"
#include "core/pace/stalls.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <csignal>
#include <sys/resource.h>

#include <QJsonArray>
#include <QJsonDocument>

using namespace pipit;
using namespace pipit::tests;
using link::Kind;

class CoverageTest : public QObject
{
    Q_OBJECT
private:
    static RunInfo endedAfter(std::int64_t ns);

private slots:
    void aWholeRunIsDeniedPlainly();
    void whatIsMissingIsSaid();
    void aProgramThatNeverReachedItsLoop();
    void aRecordingThatAFullDiskCut();
    void aFileMayNotGrow();
};

RunInfo CoverageTest::endedAfter(std::int64_t ns)
{
    RunInfo info;
    info.started = 1'000'000'000;
    info.ended = info.started + ns;
    return info;
}

void CoverageTest::aWholeRunIsDeniedPlainly()
{
    TraceModel t;
    Records r(t);
    r.object(1, "QEventLoop\n").put(Kind::LoopBegin, 0, 1).at(1).put(Kind::WaitBegin, link::NoTimeout);
    t.caughtUp(r.time);
    const Coverage c = coverageOf(t, endedAfter(5'000'000'000), r.time);
    QVERIFY2(c.whole(), qPrintable(c.missing.join('\n')));
    QCOMPARE(c.deniedStalls(stallBudget), QString("No stall over 50 ms."));
}

void CoverageTest::whatIsMissingIsSaid()
{
    TraceModel empty;
    Coverage c = coverageOf(empty, endedAfter(62'000'000'000), 0);
    QVERIFY(!c.loopSeen);
    QVERIFY2(c.deniedStalls(stallBudget)
                 .startsWith("Whether the loop was blocked is not known: nothing was recorded in the 62.0 s"),
             qPrintable(c.deniedStalls(stallBudget)));

    TraceModel t;
    Records r(t);
    r.object(1, "QEventLoop\n").put(Kind::LoopBegin, 0, 1).at(1).put(Kind::WaitBegin, link::NoTimeout);
    r.at(700);
    t.caughtUp(r.time);
    RunInfo info = endedAfter(5'000'000'000);
    info.cut = true;
    info.notes << "It was replaced by sh (exec), which is not recorded";
    c = coverageOf(t, info, t.now());
    QCOMPARE(c.missing.size(), 2);
    QVERIFY2(
        c.deniedStalls(stallBudget)
            .startsWith(
                "No stall over 50 ms in the recording. Not known: the disk was full, so what came after"),
        qPrintable(c.deniedStalls(stallBudget)));
    c = coverageOf(t, {}, t.now()); // it does not say how it ended
    QVERIFY(c.missing.first().contains("cut short"));
}

void CoverageTest::aProgramThatNeverReachedItsLoop()
{
    QTemporaryDir dir;
    const QString out = dir.path() + "/recording";
    QCOMPARE(verb({"record", "--out", out, "--", targetProgram("ticking"), "never"}).code, 0);
    const Ran stalls = verb({"stalls", out});
    QVERIFY2(
        stalls.out.startsWith(
            "Whether the loop was blocked is not known: its main event loop never looked for work in the "),
        stalls.out + stalls.err);
    QVERIFY(!stalls.out.contains("No stall"));
    const Ran rows = verb({"stalls", out, "--json"});
    const auto all = QJsonDocument::fromJson(rows.out).array(); // all that it did is start-up
    QVERIFY2(all.size() == 1 && all[0].toObject()["role"] == "start-up", rows.out);
    const auto hot = all[0].toObject()["hot"].toArray().first().toObject();
    QVERIFY2(hot["file"].toString().endsWith("ticking.cpp") && hot["share"].toDouble() > 0.5, rows.out);
    QVERIFY2(rows.err.contains("is not known"), rows.err);
    const auto what = QJsonDocument::fromJson(verb({"what", out, "--json"}).out).object();
    QVERIFY(what["missing"].toArray().size() >= 1);
    QVERIFY(verb({"what", out}).out.contains("\nMissing    "));
    const Ran report = verb({"export", out, "--to", "html", "--out", dir.path() + "/report.html"});
    QCOMPARE(report.code, 0);
    const auto page = readFile(dir.path() + "/report.html");
    QVERIFY(page && page->contains("Whether the loop was blocked is not known") &&
            !page->contains("No stall"));
}

// It was cut before the stall, and "No stall over 50 ms" was said of it.
void CoverageTest::aRecordingThatAFullDiskCut()
{
    QTemporaryDir dir;
    const QString out = dir.path() + "/recording";
    RunSpec spec;
    spec.program.program = targetProgram("noise");
    spec.recordTo = out;
    auto run = LiveRun::start(spec, {});
    QVERIFY2(bool(run), run ? "" : qPrintable(run.problem().text()));
    // A file that may not grow is what a full disk is, and can be had on any machine.
    struct rlimit before {
    };
    QCOMPARE(getrlimit(RLIMIT_FSIZE, &before), 0);
    struct rlimit small = before;
    small.rlim_cur = 200'000; // of a megabyte
    const auto old = std::signal(SIGXFSZ, SIG_IGN);
    QCOMPARE(setrlimit(RLIMIT_FSIZE, &small), 0);
    QVERIFY((*run)->program().waitForEnd(std::chrono::seconds(60)));
    const auto info = (*run)->finish();
    QCOMPARE(setrlimit(RLIMIT_FSIZE, &before), 0);
    std::signal(SIGXFSZ, old);
    QVERIFY2(bool(info), info ? "" : qPrintable(info.problem().text()));
    QVERIFY(info->cut);
    run->reset();
    const Ran stalls = verb({"stalls", out});
    QVERIFY2(stalls.out.contains("the disk was full"), stalls.out + stalls.err);
    QVERIFY(!stalls.out.contains("No stall over 50 ms.\n"));
    // What was open when it was cut is not said to have lasted until the end.
    for (const auto &row : QJsonDocument::fromJson(verb({"stalls", out, "--json"}).out).array())
        QVERIFY(row.toObject()["duration_ns"].toInteger() < 1'000'000'000);
}

// By the shell's limit, as a user or an administrator sets it: Pipit says so, and the program goes on.
void CoverageTest::aFileMayNotGrow()
{
    QTemporaryDir dir;
    const QString pipit = QCoreApplication::applicationDirPath() + "/pipit";
    const auto limited = [&](int blocks, const QString &to) {
        const Ran ran = command("/bin/sh",
                                {"-c", "ulimit -f \"$3\"; exec \"$0\" record --out \"$1\" -- \"$2\"", pipit,
                                 dir.filePath(to), targetProgram("noise"), QString::number(blocks)},
                                {}, 60'000);
        return ran.out + ran.err;
    };
    const QByteArray none = limited(100, "a"); // not even for the room that is kept
    QVERIFY2(none.contains("it is larger than the size limit"), none);
    const QByteArray unrecorded = limited(1500, "b");
    QVERIFY2(unrecorded.contains("(ulimit -f)") && unrecorded.contains("calls 60000"), unrecorded);
    for (const QByteArray &all : {none, unrecorded}) // as the shell says of a process that it ended
        QVERIFY2(!all.contains("File size limit exceeded"), all);
}

PIPIT_TEST(CoverageTest)
#include "coverage_test.moc"
