// The toolkit's headers, compiled once for all tests that build or read a project's code: CTest runs this
// first.
#include "core/build/compiler.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit;

class HeadersTest : public QObject
{
    Q_OBJECT
private slots:
    void theyAreCompiled();
};

void HeadersTest::theyAreCompiled()
{
    const QStringList headers{"QtWidgets/QWidget"};
    const std::atomic<bool> go{false};
    const auto made = precompiled(chosenCompiler(), headers, go);
    QVERIFY2(made, made ? "" : qPrintable(made.problem().text()));
    QVERIFY(isPrecompiled(chosenCompiler(), headers));
}

PIPIT_TEST(HeadersTest)
#include "headers_test.moc"
