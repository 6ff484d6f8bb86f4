// What the recorder says that something came of, against a program that prints it: a slice of ./dev proof
// causes.
#include "tests/support/causes.h"
#include "tests/support/registered.h"

using namespace pipit::tests;

class CausesTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void everyEdgeIsAsTheProgramPrintsIt();
};

void CausesTest::everyEdgeIsAsTheProgramPrintsIt()
{
    CausesVerdict all;
    for (const unsigned seed : {1u, 2u, 3u})
        all.add(judgeCauses(seed, 60));
    QVERIFY2(all.acts > 300 && all.edges > 200, qPrintable(all.text()));
    QVERIFY2(all.falseOnes == 0, qPrintable(all.text() + '\n' + all.wrong.join('\n')));
    QVERIFY2(all.missing * 100 <= all.edges, qPrintable(all.text() + '\n' + all.wrong.join('\n')));
}

PIPIT_TEST(CausesTest)
#include "causes_test.moc"
