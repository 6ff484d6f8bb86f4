// The recorder in real programs.
#include "core/base/files.h"
#include "core/pace/stalls.h"
#include "core/recordings/reader.h"
#include "core/runs/recording.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <csignal>

using namespace pipit;
using namespace pipit::tests;

class RecorderTest : public QObject
{
    Q_OBJECT
private:
    static QHash<QString, int> counts(Whole &w)
    {
        QHash<QString, int> n;
        for (const CallRow &c : callsOf(w.run->trace(), w.run->handlers()))
            ++n[c.handler.name];
        return n;
    }

private slots:
    void everyKindOfHandlerIsSeen();
    void placesAreTheUsersLines();
    void stallsAgreeWithTheTargetsOwnClock();
    void aDialogIsNoStall();
    void forcedPassesAreMarked();
    void dyingPrograms_data();
    void dyingPrograms();
    void whatHasNotEndedCounts_data();
    void whatHasNotEndedCounts();
    void aForkedChildWritesNothing();
    void threadsLoseNothingUnsaid();
    void whatAThreadLostAtItsEndIsSaid();
    void whatCannotBeRecordedIsSaid();
    void aShellKeepsTheRecorderForItsProgram();
    void childrenAreNotRecorded();
    void withoutPipitTheProgramRuns();
};

void RecorderTest::everyKindOfHandlerIsSeen()
{
    Whole w = runTarget("calls");
    QVERIFY2(bool(w.info), w.info ? "" : qPrintable(w.info.problem().text()));
    QCOMPARE(w.info->exitCode, 0);
    const auto n = counts(w);
    QCOMPARE(n.value("Base::plain"), 3);
    QCOMPARE(n.value("Derived::overridden"), 3); // a virtual slot by the receiver's own class
    QCOMPARE(n.value("Base::named"), 3);
    QCOMPARE(n.value("QAbstractButton::click"), 3); // the toolkit's slot, because the program connected it
    int lambdas = 0;
    for (auto it = n.begin(); it != n.end(); ++it)
        if (it.key().startsWith("lambda at calls.cpp"))
            lambdas += *it;
    // 3 of the plain lambda, 1 that ends its own connection, 1 queued, 1 invoked, 1 thrown out of, and the
    // single shot that does all this
    QCOMPARE(lambdas, 8);
    QCOMPARE(n.value("QCoreApplication::quit"), 1); // the other single shot
    // The exception closed what it left, and the warning after it stands inside the single shot.
    bool thrown = false, warned = false;
    const TraceModel &t = w.run->trace();
    for (const Span &s : spansOf(t)) {
        thrown = thrown || (s.kind == SpanKind::Call && (s.flags & ByException));
        if (s.kind == SpanKind::Message && t.message(s.what) == "caught it") {
            warned = true;
            QVERIFY(s.parent);
            QCOMPARE(int(t.span(s.parent).kind), int(SpanKind::Call));
        }
        QVERIFY(!s.open());
    }
    QVERIFY(thrown && warned);
    QCOMPARE(t.lost(), 0u);
    QVERIFY(w.output.contains("caught it")); // the program's own message handling goes on
}

void RecorderTest::placesAreTheUsersLines()
{
    QFile source(PIPIT_SOURCE_DIR "/tests/targets/calls.cpp");
    QVERIFY(source.open(QIODevice::ReadOnly));
    const QByteArray text = source.readAll();
    const auto lineOf = [&](const char *words) {
        return int(text.left(text.indexOf(words)).count('\n')) + 1;
    };
    Whole w = runTarget("calls");
    QHash<QString, int> lines;
    for (const CallRow &c : callsOf(w.run->trace(), w.run->handlers())) {
        lines[c.handler.name] = c.handler.line;
        if (c.handler.name == "Base::plain") {
            QCOMPARE(c.source, QString("source"));
            QCOMPARE(c.signal, QString("go"));
            QCOMPARE(c.causeKind, QString("signal"));
        }
    }
    QCOMPARE(lines.value("Base::plain"), lineOf("void plain()"));
    QVERIFY(lines.contains(QStringLiteral("lambda at calls.cpp:%1").arg(lineOf("// lambda here"))));
}

void RecorderTest::stallsAgreeWithTheTargetsOwnClock()
{
    Whole w = runTarget("loops", {"60", "200", "120"});
    QVERIFY(w.info);
    QList<qint64> own;
    for (const QByteArray &line : w.output.split('\n'))
        if (line.startsWith("block "))
            own << line.mid(6).toLongLong();
    QCOMPARE(own.size(), 3);
    const auto stalls = stallsOf(w.run->trace(), w.run->handlers(), stallBudget);
    QVERIFY2(stalls.size() >= 3, "each block is a stall");
    int matched = 0;
    for (const Stall &s : stalls) {
        if (s.contributors.front().handler.name != "Blocker::block")
            continue;
        // The stall holds the handler and the rest of its turn: never less, and not much more.
        QVERIFY2(s.duration >= own[matched], "a stall is shorter than what blocked it");
        QVERIFY2(s.contributors.front().ns - own[matched] < 20'000'000, "far longer than what blocked it");
        QVERIFY(s.contributors.front().handler.file.endsWith("loops.cpp"));
        ++matched;
    }
    QCOMPARE(matched, 3);
}

void RecorderTest::aDialogIsNoStall()
{
    Whole w = runTarget("loops", {"dialog"});
    QVERIFY(w.info);
    for (const Stall &s : stallsOf(w.run->trace(), w.run->handlers(), std::chrono::milliseconds(150)))
        QFAIL(qPrintable(s.sentence()));
}

void RecorderTest::forcedPassesAreMarked()
{
    Whole w = runTarget("loops", {"process"});
    QVERIFY(w.info);
    int reentry = 0;
    for (const Stall &s : stallsOf(w.run->trace(), w.run->handlers(), stallBudget))
        reentry += s.reentry;
    QCOMPARE(reentry, 3);
}

void RecorderTest::dyingPrograms_data()
{
    QTest::addColumn<QString>("how");
    QTest::addColumn<int>("signal");
    QTest::addColumn<int>("code");
    QTest::newRow("crash") << "segv" << int(SIGSEGV) << -1;
    QTest::newRow("killed") << "kill" << int(SIGKILL) << -1;
    QTest::newRow("abort") << "abort" << int(SIGABRT) << -1;
    QTest::newRow("exit") << "normal" << 0 << 3;
    QTest::newRow("no loop") << "early" << 0 << 7;
}

void RecorderTest::dyingPrograms()
{
    QFETCH(QString, how);
    QFETCH(int, signal);
    QFETCH(int, code);
    QTemporaryDir dir;
    Whole w = runTarget("dying", {how}, dir.path() + "/rec");
    QVERIFY(w.info);
    QCOMPARE(w.info->signal, signal);
    if (!signal)
        QCOMPARE(w.info->exitCode, code);
    if (how == "early")
        return;
    // Every record up to the end is there: the twentieth tick and the message in it.
    auto r = Recording::open(dir.path() + "/rec");
    QVERIFY(r);
    QCOMPARE((*r)->info.signal, signal);
    const auto calls = callsOf((*r)->trace, (*r)->handlers);
    QVERIFY2(calls.size() >= 20, qPrintable(QString::number(calls.size())));
    bool said = false;
    const TraceModel &t = (*r)->trace;
    for (const Span &s : spansOf(t))
        said = said || (s.kind == SpanKind::Message && t.message(s.what) == "the end is near");
    QVERIFY(said);
}

void RecorderTest::whatHasNotEndedCounts_data()
{
    QTest::addColumn<QString>("how");
    QTest::addColumn<bool>("unfinished");
    QTest::newRow("it crashes") << "slow-segv" << true;
    QTest::newRow("it quits") << "slow-quit" << false; // the loop's end is its end
    QTest::newRow("it never ends") << "slow-forever" << true;
}

// A handler that is busy when the program ends, against the program's own clock: live and from the recording.
void RecorderTest::whatHasNotEndedCounts()
{
    QFETCH(QString, how);
    QFETCH(bool, unfinished);
    QTemporaryDir dir;
    RunSpec spec = specOf(targetProgram("dying"), {how}, dir.path() + "/rec");
    QByteArray output;
    std::mutex mutex;
    Program::Callbacks callbacks;
    callbacks.output = [&](const QByteArray &b, bool) {
        std::lock_guard lock(mutex);
        output += b;
    };
    auto started = LiveRun::start(spec, callbacks);
    QVERIFY(started);
    std::unique_ptr<LiveRun> run = std::move(*started);
    if (how == "slow-forever") {
        QVERIFY(QTest::qWaitFor(
            [&] {
                return openStall(run->trace(), run->handlers(), std::chrono::milliseconds(400)).has_value();
            },
            10'000));
        run->program().kill();
    }
    QVERIFY(run->program().waitForEnd(std::chrono::seconds(20)));
    QVERIFY(run->finish(nullptr));
    std::int64_t own = 400'000'000;
    {
        std::lock_guard lock(mutex);
        if (const qsizetype at = output.indexOf("spun "); at >= 0)
            own = output.mid(at + 5).trimmed().toLongLong();
    }
    auto recording = Recording::open(dir.path() + "/rec");
    QVERIFY(recording);
    std::int64_t lengths[2] = {};
    for (const bool live : {true, false}) {
        const auto stalls =
            live ? stallsOf(run->trace(), run->handlers(), std::chrono::milliseconds(100))
                 : stallsOf((*recording)->trace, (*recording)->handlers, std::chrono::milliseconds(100));
        QCOMPARE(stalls.size(), 1u);
        QCOMPARE(stalls[0].open, unfinished);
        QVERIFY2(stalls[0].contributors.front().handler.name.startsWith("lambda at dying.cpp"),
                 qPrintable(stalls[0].contributors.front().handler.name));
        lengths[live] = stalls[0].duration;
        // Until it is noticed that the program is gone, a crash takes its time.
        QVERIFY2(stalls[0].duration >= own - 2'000'000, qPrintable(QString::number(stalls[0].duration)));
        QVERIFY2(stalls[0].duration < own + (unfinished ? 3'000'000'000 : 20'000'000),
                 qPrintable(QString::number(stalls[0].duration)));
        QCOMPARE(stalls[0].sentence().contains("it had not ended"), unfinished);
    }
    QVERIFY(std::abs(lengths[0] - lengths[1]) < 2'000'000); // the recording says what was seen
    // A crash leaves a report of what was running, and of what went before.
    QFile crash(dir.filePath("rec/pipit/crash.txt"));
    QCOMPARE(crash.open(QIODevice::ReadOnly), how == "slow-segv");
    if (how == "slow-segv") {
        const QString text = QString::fromUtf8(crash.readAll());
        static const QRegularExpression running(
            "lambda at dying.cpp:\\d+ had run for (?:\\d{3} ms|[1-3]\\.\\d\\d s) \\(dying.cpp:\\d+\\)");
        QVERIFY2(running.match(text).hasMatch(), qPrintable(text));
        QVERIFY2(text.contains("gets a timer, which had not ended"), qPrintable(text));
    }
}

void RecorderTest::aForkedChildWritesNothing()
{
    Whole w = runTarget("dying", {"fork"});
    QVERIFY(w.info);
    QCOMPARE(w.info->exitCode, 5);
    QCOMPARE(callsOf(w.run->trace(), w.run->handlers()).size(), 1u); // the parent's one
}

void RecorderTest::threadsLoseNothingUnsaid()
{
    Whole w = runTarget("noise", {"5000"});
    QVERIFY(w.info);
    QVERIFY(w.output.contains("calls 15000"));
    const auto n = callsOf(w.run->trace(), w.run->handlers()).size();
    if (w.run->trace().lost() == 0)
        QCOMPARE(n, 15004u); // and the last of each queue, and the end
    else
        QVERIFY(n < 15004u);
    QCOMPARE(w.run->trace().threads().size(), 4);
}

// While nobody drains, every ring runs full, and its thread ends without another word.
void RecorderTest::whatAThreadLostAtItsEndIsSaid()
{
    RunSpec spec;
    spec.program.program = targetProgram("noise");
    spec.program.arguments = QStringList{"60000", "aloud"};
    spec.program.environment = QStringList{"QT_QPA_PLATFORM=offscreen"};
    Program::Callbacks callbacks;
    callbacks.output = [](const QByteArray &text, bool) { // on the drain thread
        if (!text.startsWith("begin "))
            return;
        const QString status = QStringLiteral("/proc/%1/stat").arg(text.mid(6).trimmed().toInt());
        const auto over = [&] { // it has ended, or waits to be asked how
            const auto stat = readFile(status);
            return !stat || stat->mid(stat->lastIndexOf(')') + 2, 1) == "Z";
        };
        for (int i = 0; i < 300 && !over(); ++i)
            QThread::msleep(100);
    };
    auto run = LiveRun::start(spec, callbacks);
    QVERIFY(run);
    QVERIFY((*run)->program().waitForEnd(std::chrono::seconds(60)));
    QVERIFY((*run)->finish());
    const auto calls = callsOf((*run)->trace(), (*run)->handlers()).size();
    constexpr std::size_t made = 3 * 60'000;
    QVERIFY2(calls > 1000 && calls < made, qPrintable(QString::number(calls)));
    QVERIFY((*run)->trace().lost() >= made - calls);
}

void RecorderTest::whatCannotBeRecordedIsSaid()
{
    const auto says = [](const QString &program) {
        Whole w = runTarget(program);
        return w.info ? QString("started") : w.info.problem().text();
    };
    QVERIFY(says("/no/such/program").contains("does not exist"));
    QVERIFY(says("/etc/passwd").contains("not executable"));
    QVERIFY(says("/usr/bin").contains("a folder"));
    Whole ls = runTarget("/bin/ls", {"/"});
    QVERIFY(ls.info);
    QVERIFY(!ls.run->program().ending().sawToolkit);
    // A program linked with Qt 5 is refused by its bytes alone; made here so that none is needed.
    QTemporaryDir dir;
    const QString fake = dir.path() + "/five";
    const Ran made = command(
        "sh",
        {"-c",
         "echo 'void f(void){}' | gcc -shared -x c - -o libQt5Core.so.5 -Wl,-soname,libQt5Core.so.5 && "
         "echo 'void f(void); int main(void){f();return 0;}' | gcc -x c - -o five -x none ./libQt5Core.so.5"},
        dir.path());
    QCOMPARE(made.code, 0);
    QVERIFY(says(fake).contains("uses Qt 5"));
    const Ran still =
        command("sh", {"-c", "echo 'int main(void){return 0;}' | gcc -static -x c - -o still"}, dir.path());
    if (still.code == 0)
        QVERIFY(says(dir.path() + "/still").contains("statically"));
}

void RecorderTest::aShellKeepsTheRecorderForItsProgram()
{
    // The shell itself holds no Qt, so nothing takes the variables out of its environment.
    Whole w = runTarget("/bin/sh", {"-c", targetProgram("dying") + " early; echo done $LD_PRELOAD"});
    QVERIFY(w.info);
    QVERIFY(w.output.contains("done") && w.output.contains("libpipit-shim.so"));
    QVERIFY(w.run->program().ending().sawToolkit);
}

void RecorderTest::childrenAreNotRecorded()
{
    // The recorder takes its own variables out of the environment that children get.
    Whole w = runTarget("dying", {"child"});
    QVERIFY(w.info);
    QVERIFY2(w.output.contains("child has [] []"), w.output);
    QVERIFY2(w.output.contains("child ended with 3"), w.output); // it ran, and uses the toolkit too
    for (const ThreadInfo &t : w.run->trace().threads())
        QCOMPARE(int(t.pid), w.run->program().pid());
}

void RecorderTest::withoutPipitTheProgramRuns()
{
    // The library preloaded with nobody listening: the program runs and says so once.
    qputenv("LD_PRELOAD", (QCoreApplication::applicationDirPath() + "/libpipit-shim.so").toUtf8());
    qputenv("PIPIT_RECORDER", (QCoreApplication::applicationDirPath() + "/libpipit-recorder.so").toUtf8());
    qputenv("PIPIT_SOCKET", "/nowhere/at/all");
    const Ran r = command(targetProgram("dying"), {"normal"});
    qunsetenv("LD_PRELOAD");
    qunsetenv("PIPIT_RECORDER");
    qunsetenv("PIPIT_SOCKET");
    QCOMPARE(r.code, 3);
    QCOMPARE(r.err.count("nobody listens"), 1);
}

PIPIT_TEST(RecorderTest)
#include "recorder_test.moc"
