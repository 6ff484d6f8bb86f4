// Handlers that block in a known line for a known time: a few of the generated programs of the proof of
// stalls.
#include "tests/support/blockers.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit::tests;

class BlockersTest : public QObject
{
    Q_OBJECT
private slots:
    void eachIsFoundWithItsHandlerAndLine_data();
    void eachIsFoundWithItsHandlerAndLine();
};

void BlockersTest::eachIsFoundWithItsHandlerAndLine_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::newRow("optimised") << 2u;
    if (inProof())
        QTest::newRow("unoptimised") << 1u;
}

void BlockersTest::eachIsFoundWithItsHandlerAndLine()
{
    QFETCH(unsigned, seed);
    const BlockerVerdict v = judgeBlockers(BlockerCase::of(seed));
    const QByteArray said = (v.text() + '\n' + v.wrong.join('\n')).toUtf8();
    QVERIFY2(v.stalls >= 6 && v.blockers == 12, said.constData());
    QVERIFY2(v.missed == 0 && v.falseOnes == 0 && v.wrongHandler == 0, said.constData());
    // Other tests run beside this one: of a short stall a look may come late, or find the line before.
    QVERIFY2(v.wrongLine + v.noLine <= 1 && v.wrongKind <= 1, said.constData());
}

PIPIT_TEST(BlockersTest)
#include "blockers_test.moc"
