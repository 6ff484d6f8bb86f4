// The program does not depend on Pipit, nor on its recorder, whatever it does itself.
#include "core/pace/stalls.h"
#include "core/runs/recording.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QElapsedTimer>
#include <QProcess>

#include <csignal>
#include <sys/resource.h>

using namespace pipit;
using namespace pipit::tests;

class AloneTest : public QObject
{
    Q_OBJECT
private:
    static QByteArrayList lines(const QByteArray &output, const QByteArray &word)
    {
        QByteArrayList found;
        for (const QByteArray &line : output.split('\n'))
            if (line.startsWith(word))
                found << line.trimmed();
        std::sort(found.begin(), found.end());
        return found;
    }
    static int calls(Whole &w) { return int(callsOf(w.run->trace(), w.run->handlers()).size()); }

private slots:
    void aProgramWithoutWindowsGetsNone();
    void itKeepsNoDescriptorOfOurs();
    void whatItClosesIsItsOwn();
    void aForkedChildThatUnwindsWritesNothing_data();
    void aForkedChildThatUnwindsWritesNothing();
    void threadsComeAndGo();
    void birthsAndDeathsTakeNoMemory();
    void aLimitOnFilesIsNone();
    void aLimitOnAddressesIsTold();
    void execAndDaemonsAreTold();
    void everyProcessOfAScriptIsRecorded();
    void killingPipitLeavesItRunning_data();
    void killingPipitLeavesItRunning();
};

// Only what watches is loaded into it, and that needs no more of the toolkit than it has.
void AloneTest::aProgramWithoutWindowsGetsNone()
{
    Whole w = runTarget("windowless", {});
    QVERIFY(w.info);
    QCOMPARE(lines(w.output, "lib"), (QByteArrayList{"libQt6Core.so there", "libQt6Gui.so none",
                                                     "libQt6Widgets.so none", "libpipit-hands.so none"}));
    QCOMPARE(calls(w), 10);
    const auto stalls = stallsOf(w.run->trace(), w.run->handlers(), stallBudget);
    QCOMPARE(stalls.size(), 1u);
    QVERIFY2(stalls[0].duration > 115'000'000, qPrintable(QString::number(stalls[0].duration)));

    QTemporaryDir dir;
    QFile play(dir.path() + "/a.play");
    QVERIFY(play.open(QIODevice::WriteOnly));
    play.write("boardButton: click\n");
    play.close();
    const Ran played = verb({"record", "--out", dir.path() + "/rec", "--play", play.fileName(), "--",
                             targetProgram("windowless")});
    QVERIFY2(played.code != 0, played.out);
    QVERIFY2((played.out + played.err).contains("the program has no widgets"), played.out + played.err);
}

void AloneTest::itKeepsNoDescriptorOfOurs()
{
    Whole w = runTarget("alone", {"descriptors"});
    QVERIFY(w.info);
    const QByteArrayList recorded = lines(w.output, "FD ");
    QVERIFY(recorded.size() >= 3);
    const Ran bare = command(targetProgram("alone"), {"descriptors"});
    QCOMPARE(bare.code, 0);
    // Its own three are pipes here and terminals there; the rest is the same.
    const auto rest = [](QByteArrayList all) {
        all.removeIf([](const QByteArray &l) {
            return l.contains("pipe:") || l.contains("/dev/pts") || l.contains("/dev/null");
        });
        return all;
    };
    QCOMPARE(rest(recorded), rest(lines(bare.out, "FD ")));
}

void AloneTest::whatItClosesIsItsOwn()
{
    Whole w = runTarget("alone", {"reuse"});
    QVERIFY(w.info);
    QCOMPARE(w.info->exitCode, 0);
    QCOMPARE(lines(w.output, "RECEIVED "), QByteArrayList{"RECEIVED -1"});
    QCOMPARE(calls(w), 2); // those of the thread that it started afterwards
}

void AloneTest::aForkedChildThatUnwindsWritesNothing_data()
{
    QTest::addColumn<QString>("how");
    QTest::newRow("fork") << "fork";
    QTest::newRow("clone") << "clone";
}

void AloneTest::aForkedChildThatUnwindsWritesNothing()
{
    QFETCH(QString, how);
    Whole w = runTarget("alone", {how});
    QVERIFY(w.info);
    QCOMPARE(w.info->exitCode, 5); // the child's, passed on
    QCOMPARE(calls(w), 1);         // the slot, which the parent left as usual
    const TraceModel &t = w.run->trace();
    QCOMPARE(t.lost(), 0u);
    for (const Span &s : spansOf(t))
        QVERIFY(!s.open() && !(s.flags & (ByException | CutShort)));
}

void AloneTest::threadsComeAndGo()
{
    constexpr int count = 1500;
    rlimit before{};
    getrlimit(RLIMIT_NOFILE, &before);
    const rlimit few{256, before.rlim_max};
    setrlimit(RLIMIT_NOFILE, &few);
    QTemporaryDir dir;
    Whole w = runTarget("alone", {"threads", QString::number(count)}, dir.filePath("r"));
    QVERIFY(w.info);
    auto read = Recording::open(dir.filePath("r"));
    setrlimit(RLIMIT_NOFILE, &before);
    QVERIFY2(w.info->notes.isEmpty(), qPrintable(w.info->notes.join('\n')));
    QCOMPARE(w.run->trace().lost(), 0u);
    QCOMPARE(calls(w), 2 * count);
    QVERIFY(read);
    QCOMPARE(int(callsOf((*read)->trace, (*read)->handlers).size()), 2 * count);
    QCOMPARE((*read)->trace.threads().size(), count + 1);
}

// What was told of objects that died, and of connections that are gone, is forgotten.
void AloneTest::birthsAndDeathsTakeNoMemory()
{
    constexpr int rounds = 600, each = 100;
    Whole w = runTarget("alone", {"births", QString::number(rounds)});
    QVERIFY(w.info && w.info->exitCode == 0);
    QCOMPARE(w.run->trace().lost(), 0u);
    QCOMPARE(calls(w), 2 * rounds * each); // the lambda, and a slot of the toolkit by its name
    const QByteArrayList grew = lines(w.output, "GREW ");
    QCOMPARE(grew.size(), 1);
    QVERIFY2(grew[0].mid(5).toLong() < 1500, grew[0].constData()); // kB, for 45,000 objects
}

void AloneTest::aLimitOnFilesIsNone()
{
    Whole w = runTarget("alone", {"small-files"});
    QVERIFY(w.info);
    QCOMPARE(w.info->exitCode, 0);
    QCOMPARE(w.info->signal, 0);
    QCOMPARE(calls(w), 100 + 4 * 2);
}

void AloneTest::aLimitOnAddressesIsTold()
{
    QTemporaryDir dir;
    const Ran ran = verb({"record", "--out", dir.path() + "/rec", "--", "sh", "-c",
                          "ulimit -v 4000000; exec " + targetProgram("windowless")});
    QCOMPARE(ran.code, 2);
    QVERIFY2(ran.err.contains("ulimit -v"), ran.err);
    QVERIFY2(!ran.out.contains("Recorded in"), ran.out);
    QVERIFY2(ran.out.contains("libQt6Core.so there"), ran.out); // the program itself was not disturbed
}

void AloneTest::execAndDaemonsAreTold()
{
    Whole replaced = runTarget("alone", {"exec"});
    QVERIFY(replaced.info);
    QVERIFY2(replaced.info->notes.join('\n').contains("sleep (exec)"),
             qPrintable(replaced.info->notes.join('\n')));
    QCOMPARE(calls(replaced), 10);
    Whole daemon = runTarget("alone", {"daemon"});
    QVERIFY(daemon.info);
    QVERIFY2(daemon.info->notes.join('\n').contains("forked process"), qPrintable(daemon.info->notes.join('\n')));
}

// One after the other and side by side; each with its own addresses and serials.
void AloneTest::everyProcessOfAScriptIsRecorded()
{
    QTemporaryDir dir;
    QFile script(dir.filePath("several.sh"));
    QVERIFY(script.open(QIODevice::WriteOnly));
    script.write("#!/bin/sh\n" + targetProgram("waits").toUtf8() + " sleep &\n" +
                 targetProgram("loops").toUtf8() + " 300 &\n" + targetProgram("alone").toUtf8() +
                 " print 20\nwait\n");
    script.setPermissions(QFile::ReadOwner | QFile::ExeOwner);
    script.close();
    for (const bool live : {true, false}) {
        Whole w;
        std::shared_ptr<Recording> recording;
        if (live) {
            w = runTarget(script.fileName(), {}, dir.filePath("r"));
            QVERIFY2(bool(w.info), w.info ? "" : qPrintable(w.info.problem().text()));
        } else {
            auto r = Recording::open(dir.filePath("r"));
            QVERIFY(r);
            recording = std::move(*r);
        }
        const TraceModel &t = live ? w.run->trace() : recording->trace;
        Handlers &h = live ? w.run->handlers() : recording->handlers;
        QSet<std::uint32_t> processes;
        int mains = 0;
        for (const ThreadInfo &thread : t.threads()) {
            processes.insert(thread.pid);
            mains += thread.main;
        }
        QCOMPARE(processes.size(), 3);
        QCOMPARE(mains, 3);
        QStringList blamed;
        for (const Stall &s : stallsOf(t, h, std::chrono::milliseconds(200)))
            blamed << s.contributors.front().handler.name.section(':', 0, 2);
        blamed.sort();
        QCOMPARE(blamed.size(), 2);
        QVERIFY2(blamed[0].startsWith("Blocker::block") && blamed[1].startsWith("lambda at waits.cpp"),
                 qPrintable(blamed.join(' ')));
        int lines = 0;
        for (const CallRow &c : callsOf(t, h))
            lines += c.handler.file.endsWith("alone.cpp") && c.signal == "timeout";
        QCOMPARE(lines, 20);
    }
}

void AloneTest::killingPipitLeavesItRunning_data()
{
    QTest::addColumn<bool>("kept");
    QTest::newRow("from the command line") << false;
    QTest::newRow("by a keeper") << true;
}

// A program that prints all the time, as it did when it died of a broken pipe.
void AloneTest::killingPipitLeavesItRunning()
{
    QFETCH(bool, kept);
    QTemporaryDir dir;
    const QString done = dir.filePath("done");
    const QStringList program{targetProgram("alone"), "print", "500", done};
    QProcess pipit;
    pipit.setStandardOutputFile(dir.filePath("out"));
    if (kept) // a Pipit that holds a run as its window does
        pipit.start(QCoreApplication::applicationDirPath() + "/test-holder", program);
    else
        pipit.start(QCoreApplication::applicationDirPath() + "/pipit",
                    QStringList{"record", "--out", dir.filePath("r"), "--"} + program);
    QVERIFY(pipit.waitForStarted());
    QTest::qWait(1300);
    QVERIFY(!QFile::exists(done));
    pipit.kill();
    QVERIFY(pipit.waitForFinished());
    QElapsedTimer t;
    t.start();
    while (!QFile::exists(done) && t.elapsed() < 10'000)
        QTest::qWait(20);
    QFile file(done);
    QVERIFY(file.open(QIODevice::ReadOnly));
    QTRY_COMPARE((file.seek(0), file.readAll()), QByteArray("500"));
    if (kept)
        return;
    auto r = Recording::open(dir.filePath("r")); // and what was recorded by then is there
    QVERIFY(r);
    QVERIFY(callsOf((*r)->trace, (*r)->handlers).size() > 5);
}

PIPIT_TEST(AloneTest)
#include "alone_test.moc"
