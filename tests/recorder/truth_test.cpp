// A slice of the proof of truth: seeded runs of a program that tells the truth about itself.
#include "tests/support/registered.h"
#include "tests/support/truth.h"

#include <QTest>

using namespace pipit::tests;

class TruthTest : public QObject
{
    Q_OBJECT
private slots:
    void whatIsSaidIsSo_data();
    void whatIsSaidIsSo();
};

void TruthTest::whatIsSaidIsSo_data()
{
    QTest::addColumn<unsigned>("seed");
    for (const unsigned seed : {1u, 2u, 6u, 16u, 22u}) // of two builds; the proof has more
        QTest::addRow("%s", qPrintable(TruthCase::of(seed).text())) << seed;
}

void TruthTest::whatIsSaidIsSo()
{
    QFETCH(unsigned, seed);
    const Verdict v = judge(TruthCase::of(seed));
    QVERIFY2(v.wrong.isEmpty(), qPrintable(v.wrong.join('\n')));
    QVERIFY(v.stalls == v.found + v.notKnown);
}

PIPIT_TEST(TruthTest)
#include "truth_test.moc"
