// Random projects: what is written is read again, the code compiles, and the running program is
// wired as the project says.
#include "core/base/files.h"
#include "tests/support/random_project.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class RandomTest : public QObject
{
    Q_OBJECT
private slots:
    void projectsAreWiredAsTheySay_data();
    void projectsAreWiredAsTheySay();
};

void RandomTest::projectsAreWiredAsTheySay_data()
{
    QTest::addColumn<quint32>("seed");
    for (const quint32 seed : {11u, 12u, 13u, 18u})
        QTest::newRow(qPrintable(QString::number(seed))) << seed;
}

void RandomTest::projectsAreWiredAsTheySay()
{
    QFETCH(quint32, seed);
    QTemporaryDir dir;
    RandomProject p = makeRandomProject(dir.path() + "/desk", seed);
    QVERIFY(p.expected.size() > 30);
    auto bytes = readFile(p.workspace.place().file);
    auto again = parseProject(*bytes, "again");
    QVERIFY2(bool(again), again ? "" : qPrintable(again.problem().text()));
    QCOMPARE(projectBytes(*again), *bytes);
    const QString wrong = trial(p);
    QVERIFY2(wrong.isEmpty(), qPrintable(wrong));
}

PIPIT_TEST(RandomTest)
#include "random_test.moc"
