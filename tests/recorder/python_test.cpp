// What keeps a program in Python busy: its functions and lines, by what the program says of itself.
#include "core/base/files.h"
#include "core/pace/stalls.h"
#include "core/runner/python_frames.h"
#include "core/runs/python_stack.h"
#include "core/runs/recording.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QProcess>

using namespace pipit;
using namespace pipit::tests;

class PythonTest : public QObject
{
    Q_OBJECT
private slots:
    void linesAreReadFromTheTable_data();
    void linesAreReadFromTheTable();
    void functionsStandWhereTheInterpreterRanThem();
    void anUnknownLayoutIsSaid();
    void stallsAreToldByFunctionAndLine();
};

namespace
{

const QString program = QStringLiteral(PIPIT_SOURCE_DIR "/tests/targets/slow_desk.py");

struct Way {
    int line = 0;
    QString function;
};

// "#: sleeping Desk.sleeping" at the end of a line.
QMap<QString, Way> waysOf(const QString &file)
{
    QMap<QString, Way> ways;
    const QList<QByteArray> lines = readFile(file)->split('\n');
    for (qsizetype i = 0; i < lines.size(); ++i)
        if (const qsizetype at = lines[i].indexOf("#: "); at >= 0) {
            const QList<QByteArray> words = lines[i].mid(at + 3).trimmed().split(' ');
            ways.insert(QString::fromUtf8(words[0]), {int(i) + 1, QString::fromUtf8(words[1])});
        }
    return ways;
}

StackFrame native(const QString &module, const QString &function = {})
{
    StackFrame f;
    f.module = module;
    f.function = function;
    return f;
}

bool isLoop(const StackFrame &f)
{
    return f.function == "loop";
}

QStringList namesOf(const std::vector<StackFrame> &frames)
{
    QStringList names;
    for (const StackFrame &f : frames)
        names << f.function + (f.own ? "!" : "");
    return names;
}

} // namespace

// The table of the installed interpreter for a function of known lines, instruction by instruction.
void PythonTest::linesAreReadFromTheTable_data()
{
    QTest::addColumn<QByteArray>("source");
    QTest::newRow("one line") << QByteArray("x = 1");
    QTest::newRow("calls over several lines") << QByteArray("f(1,\n  g(2,\n    3),\n  h)\ny = 2");
    QTest::newRow("far apart") << QByteArray("x = 1\n" + QByteArray(600, '\n') + "y = 2\n" +
                                             "while x:\n  x = f(x)\n  try:\n    g()\n  finally:\n    h()");
    QTest::newRow("long line") << QByteArray("x = [" + QByteArray("f(1), ").repeated(80) + "]\nz = x");
}

void PythonTest::linesAreReadFromTheTable()
{
    QFETCH(QByteArray, source);
    QTemporaryDir dir;
    QVERIFY(writeFile(dir.filePath("a.py"), source));
    QProcess python;
    python.start("/usr/bin/python3", {"-c",
                                      "import sys\n"
                                      "c = compile(open(sys.argv[1]).read(), 'a', 'exec')\n"
                                      "print(c.co_firstlineno, c.co_linetable.hex())\n"
                                      "for begin, end, line in c.co_lines(): print(begin, end, line or 0)",
                                      dir.filePath("a.py")});
    QVERIFY(python.waitForFinished());
    QList<QByteArray> said = python.readAllStandardOutput().trimmed().split('\n');
    const QList<QByteArray> head = said.takeFirst().split(' ');
    const QByteArray table = QByteArray::fromHex(head.value(1));
    QVERIFY2(said.size() >= 2 && !table.isEmpty(), python.readAllStandardError().constData());
    for (const QByteArray &each : said) {
        const QList<QByteArray> words = each.split(' ');
        for (int at = words[0].toInt(); at < words[1].toInt(); at += 2)
            QCOMPARE(pythonLineAt(table, head[0].toInt(), at), words[2].toInt());
    }
    QCOMPARE(pythonLineAt(table, 1, 1 << 20), 0);
    QCOMPARE(pythonLineAt({}, 1, 0), 0);
}

void PythonTest::functionsStandWhereTheInterpreterRanThem()
{
    const std::vector<StackFrame> stack{native("libc", "nanosleep"),  native("python3.11", "sleep"),
                                        native("python3.11", "loop"), native("libQt6Core", "emit"),
                                        native("python3.11", "loop"), native("libQt6Core", "notify")};
    const std::vector<PythonFrame> python{{"inner", "desk.py", 3, false},
                                          {"slot", "desk.py", 9, true},
                                          {"helper", "/usr/lib/python3.11/x.py", 7, false},
                                          {"outer", "desk.py", 20, true},
                                          {"module", "desk.py", 30, true}};
    // What is left over goes to the outside.
    QCOMPARE(namesOf(withPython(stack, python, isLoop, "/tmp")),
             QStringList(
                 {"nanosleep", "sleep", "inner!", "slot!", "emit", "helper", "outer!", "notify", "module!"}));
    // More of the interpreter's than functions: it is entering one.
    QCOMPARE(namesOf(withPython(stack, {{"slot", "desk.py", 9, true}}, isLoop, "/tmp")),
             QStringList({"nanosleep", "sleep", "slot!", "emit", "notify"}));
}

void PythonTest::anUnknownLayoutIsSaid()
{
    const auto frames = withoutPython({native("python3.12", "loop"), native("libQt6Core", "notify")}, isLoop,
                                      "the layout of Python 3.12 is not known");
    QCOMPARE(namesOf(frames),
             QStringList(
                 {"Python code, function unknown: the layout of Python 3.12 is not known", "notify"}));
    const PythonFrames none(getpid());
    QVERIFY(!none.there());
    QVERIFY(none.unknown().isEmpty());
    QVERIFY(!none.isInterpretersLock(4096));
}

void PythonTest::stallsAreToldByFunctionAndLine()
{
    QTemporaryDir dir;
    const Ran ran = verb({"record", "--out", dir.filePath("r"), "--", "/usr/bin/python3", "-B", program});
    auto r = Recording::open(dir.filePath("r"));
    QVERIFY2(r, ran.out + ran.err);
    const std::vector<Stall> stalls = stallsOf((*r)->trace, (*r)->handlers, stallBudget);
    const QMap<QString, Way> ways = waysOf(program);
    const QStringList order{"computing", "sleeping", "sorting", "generating",
                            "asking",    "process",  "thread",  "interpreter"};
    const QString said = QString::fromUtf8(ran.out + ran.err);
    QVERIFY2(stalls.size() == std::size_t(order.size()), qPrintable(said));
    const QMap<QString, Blocking> kinds{{"computing", Blocking::Computing},
                                        {"process", Blocking::Process},
                                        {"thread", Blocking::Thread},
                                        {"interpreter", Blocking::Lock}};
    for (qsizetype i = 0; i < order.size(); ++i) {
        const Stall &stall = stalls[std::size_t(i)];
        const Way way = ways[order[i]];
        const QString what = order[i] + ": " + stall.sentence() + ' ' + stall.hot.text();
        QVERIFY2(way.line > 0 && stall.hot.known(), qPrintable(what));
        QVERIFY2(stall.hot.line == way.line && stall.hot.function == way.function &&
                     stall.hot.file == program,
                 qPrintable(what));
        QVERIFY2(stall.blocking.front().blocking == kinds.value(order[i], Blocking::Sleeping),
                 qPrintable(what));
        // Who was called, which the binding does not tell.
        const QString handler = order[i] == "asking" ? way.function : "Desk.next";
        QVERIFY2(stall.contributors.front().handler.name == handler, qPrintable(what));
    }
    // Its lock was held by a thread of Python's own, in a function that is told as well.
    const auto &lock = stalls.back().lock;
    QVERIFY2(lock && lock->interpreters && lock->holder.startsWith("thread ") && !lock->circle,
             qPrintable(said));
    QVERIFY2(lock->doing.contains("Desk.interpreter.<locals>.hold"), qPrintable(lock->text(false)));
}

PIPIT_TEST(PythonTest)
#include "python_test.moc"
