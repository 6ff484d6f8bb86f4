// A program that never stops talking.
#include "app/board/output_pane.h"
#include "app/session/output_box.h"
#include "tests/support/registered.h"

#include <QTest>

using namespace pipit::app;

class OutputTest : public QObject
{
    Q_OBJECT
    static QString numbered(int from, int to)
    {
        QString text;
        for (int i = from; i < to; ++i)
            text += QStringLiteral("line %1\n").arg(i);
        return text;
    }

private slots:
    void theBoxIsToldOnceAndKeepsOrder();
    void theBoxCutsAtTheFront();
    void thePaneTakesALittleAtATime();
};

void OutputTest::theBoxIsToldOnceAndKeepsOrder()
{
    OutputBox box;
    QVERIFY(box.put("one ", false));
    QVERIFY(!box.put("two", false)); // whoever was told takes this too
    QVERIFY(!box.put("wrong", true));
    const QList<std::pair<QString, bool>> all{{"one two", false}, {"wrong", true}};
    QCOMPARE(box.take(), all);
    QVERIFY(box.take().isEmpty());
    QVERIFY(box.put("again", false));
}

void OutputTest::theBoxCutsAtTheFront()
{
    OutputBox box;
    qsizetype put = 0;
    for (int i = 0; put < 3 * OutputBox::room; ++i) {
        const QString text = numbered(i * 100, i * 100 + 100);
        put += text.size();
        (void)box.put(text, i % 7 == 0);
    }
    (void)box.put("the end", false);
    const auto all = box.take();
    qsizetype size = 0;
    for (const auto &[text, error] : all)
        size += text.size();
    QVERIFY(size > OutputBox::room / 4 && size <= OutputBox::room + 100);
    QVERIFY(all.first().first.contains("left out"));
    QVERIFY(all.last().first.endsWith("the end"));
}

void OutputTest::thePaneTakesALittleAtATime()
{
    OutputPane pane;
    pane.take("begin ");
    pane.take(numbered(0, 60'000));
    QVERIFY(pane.blockCount() < 500); // not all in one go
    QVERIFY(QTest::qWaitFor([&] { return pane.toPlainText().contains("line 59999"); }, 20'000));
    QVERIFY(pane.blockCount() <= OutputPane::lines);
    const QStringList lines = pane.toPlainText().split('\n');
    QCOMPARE(lines.last(), QString());
    for (qsizetype i = 1; i < 4000; ++i) // the last ones, all of them
        QCOMPARE(lines[lines.size() - 1 - i], QStringLiteral("line %1").arg(60'000 - i));
    pane.empty();
    QCOMPARE(pane.toPlainText(), QString());
}

PIPIT_TEST(OutputTest)
#include "output_test.moc"
