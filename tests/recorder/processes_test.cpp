// Several processes in one recording: what is told of an object names others of the same process.
#include "core/trace/queries.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QSet>

using namespace pipit;
using namespace pipit::tests;

class ProcessesTest : public QObject
{
    Q_OBJECT
private slots:
    void parentsAndReceiversAreThoseOfTheirProcess();
};

void ProcessesTest::parentsAndReceiversAreThoseOfTheirProcess()
{
    QTemporaryDir dir;
    const QString program = targetProgram("filing");
    const QString both = QStringLiteral("'%1' %2/a & '%1' %2/b; wait").arg(program, dir.path());
    const Ran ran = verb({"record", "--out", dir.filePath("r"), "--", "/bin/sh", "-c", both});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    auto recording = Recording::open(dir.filePath("r"));
    QVERIFY(bool(recording));
    const TraceModel &trace = (*recording)->trace;

    QMap<std::uint32_t, QSet<std::uint64_t>> known; // addresses, by process
    const auto processOf = [&trace](const FactRow &f) { return trace.threads().at(f.thread).pid; };
    for (std::uint32_t i = 0; i < trace.factCount(); ++i)
        if (const FactRow &f = trace.fact(i); f.object)
            known[processOf(f)] << trace.object(f.object).address;
    QCOMPARE(known.size(), 2);
    QVERIFY2(!known.first().intersects(known.last()), "an object of both");

    QMap<std::uint32_t, int> parents, receivers;
    for (std::uint32_t i = 0; i < trace.factCount(); ++i) {
        const FactRow &f = trace.fact(i);
        const QString text = trace.factText(f);
        const auto isKnown = [&](const QString &hex) {
            return known[processOf(f)].contains(hex.toULongLong(nullptr, 16));
        };
        if (f.fact == link::Fact::State && text.contains("\nin=")) {
            const QString parent = text.section("\nin=", 1).section('\n', 0, 0);
            if (parent == u"0")
                continue;
            QVERIFY2(isKnown(parent), qPrintable(text));
            ++parents[processOf(f)];
        }
        if (f.fact == link::Fact::Connected && text.section('\t', 3, 3) == u"window") {
            QVERIFY2(isKnown(text.section('\t', 1, 1)), qPrintable(text));
            ++receivers[processOf(f)];
            // And the place it was called from.
            QVERIFY2(trace.code(f.other).module.endsWith("target-filing"), qPrintable(text));
        }
    }
    for (const std::uint32_t pid : known.keys()) {
        QVERIFY2(parents[pid] >= 10, qPrintable(QString::number(parents[pid])));
        QVERIFY2(receivers[pid] >= 10, qPrintable(QString::number(receivers[pid])));
    }
}

PIPIT_TEST(ProcessesTest)
#include "processes_test.moc"
