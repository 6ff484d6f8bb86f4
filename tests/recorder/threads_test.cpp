// What is recorded of a program while its other threads change it, or hold locks.
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class ThreadsTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void receiversMayGoWhileTheyAreLookedAt();
    void aForkedChildWaitsForNoLock();
};

void ThreadsTest::receiversMayGoWhileTheyAreLookedAt()
{
    // What is freed is overwritten, so that it cannot be read unnoticed.
    const Whole w = runTarget("threads", {"receivers"}, {}, {"MALLOC_PERTURB_=165"});
    QVERIFY(w.info);
    QVERIFY2(w.output.contains("done"), w.output.constData());
    int seen = 0;
    for (std::uint32_t i = 0; i < w.run->trace().factCount(); ++i) {
        const FactRow &f = w.run->trace().fact(i);
        seen += f.fact == link::Fact::Wires && w.run->trace().factText(f).contains("Passing");
    }
    QVERIFY2(seen > 10, qPrintable(QString::number(seen))); // they were there when it was looked at
}

void ThreadsTest::aForkedChildWaitsForNoLock()
{
    const Whole w = runTarget("threads", {"forks"});
    QVERIFY(w.info);
    QVERIFY2(w.output.contains("ended 200 hung 0"), w.output.constData());
}

PIPIT_TEST(ThreadsTest)
#include "threads_test.moc"
