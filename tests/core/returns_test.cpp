// Early returns of a handler, by the text of its source.
#include "core/why/returns.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;

class ReturnsTest : public QObject
{
    Q_OBJECT
private slots:
    void allButTheLastAreListed_data();
    void allButTheLastAreListed();
};

void ReturnsTest::allButTheLastAreListed_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<int>("line");
    QTest::addColumn<QList<int>>("lines");
    const auto row = [](const char *name, const char *text, int line, QList<int> lines) {
        QTest::newRow(name) << QString(text) << line << lines;
    };
    row("a guard", "void Desk::board()\n{\n    if (text.isEmpty())\n        return;\n    show();\n}\n", 1,
        {4});
    row("on one line", "connect(b, &B::clicked, [this] { if (!ok) return; show(); });\n", 1, {1});
    row("in other code", "else { connect(b, c, this, [=] { if (!ok) return; show(); }); }\n", 1, {1});
    row("several", "void f() {\n if (a) { return; }\n if (b)\n  return;\n g();\n return;\n}\n", 1, {2, 4});
    row("only the last", "int f()\n{\n    g();\n    return 3;\n}\n", 1, {});
    row("in a lambda inside", "void f() {\n  run([=] { if (x) return; y(); });\n  g();\n}\n", 1, {});
    row("after a lambda", "void f() {\n  run([=] { y(); });\n  if (x) return;\n  g();\n}\n", 1, {3});
    row("in words", "void f() {\n  // return;\n  say(\"return; }\");\n  returned = 1;\n  g();\n}\n", 1, {});
    row("further down", "void other() { return; }\n\nvoid f()\n{\n  if (x)\n    return;\n  g();\n}\n", 3,
        {6});
    row("no end", "void f() {\n  if (x) return;\n", 1, {});
    row("a value in braces", "QSize f() {\n  if (x)\n    return {1, 2};\n  return {3, 4};\n}\n", 1, {3});
    row("a separator in a number", "void f() {\n  if (n > 1'000)\n    return;\n  g();\n}\n", 1, {3});
}

void ReturnsTest::allButTheLastAreListed()
{
    QFETCH(QString, text);
    QFETCH(int, line);
    QFETCH(QList<int>, lines);
    QCOMPARE(earlyReturns(text.split('\n'), 1, line), lines);
    // The same from a piece of the file.
    QCOMPARE(earlyReturns(QString("\n\n" + text).split('\n').mid(2), 3, line + 2).size(), lines.size());
}

PIPIT_TEST(ReturnsTest)
#include "returns_test.moc"
