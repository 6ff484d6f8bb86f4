// What comes out of a move, form by form: helpers, rows and items, what is set twice.
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

class MovedCodeTest : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void workNeverStaysOnTheLoop();
    void helpersAreHandedMembers();
    void helpersThatOthersCallStay();
    void itemsAreAskedBefore();
    void cellsAreGatheredInBothLoops();
    void gatheringEndsWhereTheLoopMayNot();
    void whatIsSetTwiceWaits();
    void lateReadsAreRefused();
    void nothingIsAskedAhead();
    void whatIsFilledAtOnceIsNeverSeenEmpty();
    void whatOnlyTheWorkUsesIsItsOwn();
    void stepsReadAnewWhatTheySet();
    void oneProgressForBarAndLabel();
    void listsAreFilledWhileItWorks();
    void helpersThatCallEachOtherEnd();
};

// What takes long is never read "before the work".
void MovedCodeTest::workNeverStaysOnTheLoop()
{
    Desk desk(bodyCase("    double all = 0;\n    for (int i = 0; i < 5; ++i)\n        all += cost(i);\n"
                       "    resultLabel->setText(QString::number(all));\n",
                       "double rate_ = 2; double cost(int n) const;",
                       "double Desk::cost(int n) const { double c = 0; for (int i = 0; i < 9; ++i) c += n * "
                       "rate_; return c; }\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString take = move->newText.section("// On a worker thread", 0, 0);
    QVERIFY2(!take.contains("cost("), qPrintable(take));
    QVERIFY2(move->newText.contains("all += cost(i, "), qPrintable(move->newText));
}

void MovedCodeTest::helpersAreHandedMembers()
{
    Desk desk(bodyCase("    grow(3);\n    grow(4);\n    resultLabel->setText(QString::number(sum_));\n",
                       "int sum_ = 0; int step_ = 2; void grow(int n);",
                       "void Desk::grow(int n) { for (int i = 0; i < n; ++i) this->sum_ += step_; }\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->sentences.contains("grow is told sum_ and step_, and becomes a plain function."),
             qPrintable(move->sentences.join('\n')));
    QVERIFY(desk.workspace.apply(move->edit));
    QVERIFY2(
        desk.code().contains("static void grow(int n, int &sum_, int step_)\n{ for (int i = 0; i < n; ++i) "
                             "sum_ += step_; }"),
        qPrintable(desk.code()));
    QVERIFY(desk.code().contains("    grow(3, sum_, step_);"));
    QVERIFY(!desk.workspace.files().text("desk.h")->contains("grow"));
}

void MovedCodeTest::helpersThatOthersCallStay()
{
    Desk desk(bodyCase(
        "    int n = 0;\n    for (int i = 0; i < 9; ++i)\n        n += weigh(i);\n"
        "    resultLabel->setText(QString::number(n));\n",
        "int base_ = 2; int weigh(int n) { return n * base_; } int twice() { return 2 * weigh(1); }"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY(desk.workspace.apply(move->edit));
    const QString code = desk.code();
    QVERIFY2(code.contains("static int weigh(int n, int base_)\n{ return n * base_; }"), qPrintable(code));
    QVERIFY2(code.contains("int Desk::weigh(int n)\n{\n    return ::weigh(n, base_);\n}"), qPrintable(code));
    QVERIFY2(code.contains("n += ::weigh(i, base_);"), qPrintable(code));
    QVERIFY(desk.workspace.files().text("desk.h")->contains("int weigh(int n); int twice()"));
}

void MovedCodeTest::itemsAreAskedBefore()
{
    Desk desk(bodyCase("    QString all;\n    for (int row = 0; row < 9; ++row) {\n"
                       "        if (QListWidgetItem *item = orderList->item(row))\n"
                       "            all += item->text();\n        QThread::msleep(1);\n    }\n"
                       "    resultLabel->setText(all);\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString take = move->newText.section("// On a worker thread", 0, 0),
                  work = move->newText.mid(take.size());
    QVERIFY2(take.contains("item ? item->text() : QString()"), qPrintable(take));
    QVERIFY2(!work.section("// On the loop", 0, 0).contains("orderList"), qPrintable(work));
}

void MovedCodeTest::cellsAreGatheredInBothLoops()
{
    Desk desk(bodyCase("    QString all;\n    for (int r = 0; r < orderList->count(); ++r)\n"
                       "        for (int c = 0; c < r; ++c)\n"
                       "            all += orderList->item(r)->text().mid(c, countSpin->value());\n"
                       "    QThread::msleep(1);\n    resultLabel->setText(all);\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("orderList->item(r)->text()"), qPrintable(move->newText));
}

// The bound of a loop that may end earlier is kept, the rest of its condition is not asked.
void MovedCodeTest::gatheringEndsWhereTheLoopMayNot()
{
    const auto planned = [](const char *condition) {
        Desk desk(bodyCase(QString("    QString hit;\n    for (int row = 0; %1; ++row) {\n"
                                   "        if (orderList->item(row)->text().size() > 3)\n"
                                   "            hit = \"x\";\n        QThread::msleep(1);\n    }\n"
                                   "    resultLabel->setText(hit);\n")
                               .arg(condition)));
        return desk.plan();
    };
    const auto bounded = planned("row < orderList->count() && hit.isEmpty()");
    QVERIFY2(bounded && bounded->refused.isEmpty(),
             qPrintable(bounded ? bounded->refused.value(0).reason : bounded.problem().text()));
    QVERIFY(bounded->newText.section("// On a worker", 0, 0)
                .contains("for (int row = 0; row < orderList->count(); ++row)"));
    const auto endless = planned("row >= 0 && hit.isEmpty()");
    QVERIFY(endless && !endless->refused.isEmpty());
}

void MovedCodeTest::whatIsSetTwiceWaits()
{
    const auto one = bodyCase("    orderList->clear();\n    const QString name = nameField->text();\n"
                              "    for (int i = 0; i < 9; ++i) {\n        QThread::msleep(1);\n        "
                              "orderList->addItem(name + QString::number(i));\n    }\n");
    Desk desk(one);
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QCOMPARE(move->edit.after.handler("go")->again, QString("queue"));
    const QString show = move->newText.section("// On the loop.", 1);
    QVERIFY2(show.contains("    orderList->clear(); // at its turn\n"), qPrintable(show));
    QVERIFY(!move->newText.section("// On a worker", 0, 0).contains("clear()"));
}

// It would wait, and the field may say something else by then.
void MovedCodeTest::lateReadsAreRefused()
{
    const auto one = bodyCase("    int total = resultLabel->text().toInt();\n"
                              "    const QString name = nameField->text();\n"
                              "    for (int i = 0; i < 9; ++i)\n        total += name.size() + i;\n"
                              "    resultLabel->setText(QString::number(total));\n");
    Desk desk(one);
    const auto move = desk.plan();
    QVERIFY(move && move->refused.size() == 1);
    QVERIFY2(move->refused[0].reason.startsWith("nameField is read: the run would wait for its turn"),
             qPrintable(move->refused[0].reason));
    const auto ignoring = desk.plan(Shape::Background, {}, "ignore");
    QVERIFY2(ignoring && ignoring->refused.isEmpty(), "what never waits reads nothing late");
}

// What follows may not be reached: nothing of it is asked for ahead.
void MovedCodeTest::nothingIsAskedAhead()
{
    Desk desk(bodyCase(
        "    kept_.clear();\n    for (int i = 0; i < 9; ++i)\n        if (i == nameField->text().size())\n"
        "            kept_ << i;\n    if (kept_.isEmpty()) {\n        resultLabel->setText(\"none\");\n"
        "        return;\n    }\n    resultLabel->setText(QString::number(kept_.last()));\n",
        "QList<int> kept_;"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const qsizetype leaves = move->newText.indexOf("result.stopped = true;"),
                    asks = move->newText.indexOf("kept_.last()");
    QVERIFY2(leaves > 0 && asks > leaves, qPrintable(move->newText));
}

// Another handler once divided by the count of a box that was emptied when the work began.
void MovedCodeTest::whatIsFilledAtOnceIsNeverSeenEmpty()
{
    Desk desk(bodyCase("    kindBox->clear();\n    QStringList kinds;\n    for (int i = 0; i < 9; ++i)\n"
                       "        kinds << QString::number(i);\n    kindBox->addItems(kinds);\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString take = move->newText.section("// On a worker thread", 0, 0);
    QVERIFY2(!take.contains("clear()"), qPrintable(take));
    QVERIFY2(move->newText.contains("kindBox->clear(); // at its turn\n"), qPrintable(move->newText));
}

// A total that nothing but the work uses need not be copied, so nothing waits for its turn.
void MovedCodeTest::whatOnlyTheWorkUsesIsItsOwn()
{
    Desk desk(bodyCase("    const QString name = nameField->text();\n"
                       "    for (int i = 0; i < 9; ++i)\n        total_ += name.size() + i;\n"
                       "    resultLabel->setText(QString::number(total_));\n",
                       "int total_ = 0;"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("return GoInput{name, &total_};"), qPrintable(move->newText));
    QVERIFY2(move->newText.contains("    int &total_ = *input.total;\n"), qPrintable(move->newText));
    QVERIFY2(move->newText.contains("resultLabel->setText(QString::number(total));"),
             qPrintable(move->newText));
    QCOMPARE(move->edit.after.handler("go")->again, QString("queue"));
}

void MovedCodeTest::stepsReadAnewWhatTheySet()
{
    Desk desk(bodyCase("    for (int i = 0; i < 9; ++i) {\n        QThread::msleep(1);\n"
                       "        orderList->addItem(QString::number(i));\n    }\n"
                       "    statusLabel->setText(QString::number(orderList->count()));\n"));
    const auto move = desk.plan(Shape::Steps);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const QString end = move->newText.section("::goEnd", 1);
    QVERIFY2(end.contains("QString::number(orderList->count())"), qPrintable(end));
}

void MovedCodeTest::oneProgressForBarAndLabel()
{
    Desk desk(bodyCase(
        "    for (int i = 0; i < 9; ++i) {\n        QThread::msleep(1);\n        bar->setValue(i * 10);\n"
        "        statusLabel->setText(QString::number(i));\n    }\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    // A promise takes no smaller value than the last.
    QCOMPARE(move->newText.count("promise.setProgressValue"), 1);
    QVERIFY2(move->newText.contains("promise.setProgressValueAndText(*result.barValue, "
                                    "result.statusLabelText.value_or(QString()));"),
             qPrintable(move->newText));
}

// Rows come in batches, in order, and all of them; so do those of what is triggered again.
void MovedCodeTest::listsAreFilledWhileItWorks()
{
    HandlerCase one =
        bodyCase("    statusLabel->setText(\"filling\");\n    for (int i = 0; i < 7; ++i) {\n"
                 "        QThread::msleep(25);\n        orderList->addItem(QString::number(i));\n    }\n"
                 "    statusLabel->setText(QString::number(orderList->count()));\n");
    one.alone = true;
    Desk desk(one);
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->sentences.contains("orderList is filled during the work, in order."),
             qPrintable(move->sentences.join('\n')));
    QVERIFY(desk.workspace.apply(move->edit) && desk.workspace.save());
    const auto opened = Workspace::open(desk.workspace.place().file);
    QVERIFY(opened && opened->project().handler("go")->batches);
    // A list that is cleared before cannot be filled before its turn.
    Desk cleared(
        bodyCase("    orderList->clear();\n    for (int i = 0; i < 7; ++i) {\n        QThread::msleep(5);\n"
                 "        orderList->addItem(nameField->text());\n    }\n"));
    const auto atTurn = cleared.plan();
    QVERIFY(atTurn && atTurn->refused.isEmpty());
    QVERIFY(!atTurn->edit.after.handler("go")->batches);

    const HandlerVerdict v = judgeHandler(one, Shape::Background, 3, 3);
    QVERIFY2(v.moved && v.same, qPrintable(v.wrong + '\n' + v.code));
    QVERIFY2(v.back, qPrintable(v.reasons.join("; ")));
}

void MovedCodeTest::helpersThatCallEachOtherEnd()
{
    Desk desk(bodyCase(
        "    for (int i = 0; i < 9; ++i) {\n        QThread::msleep(1);\n        ping(i);\n    }\n",
        "void ping(int n); void pong(int n);",
        "void Desk::ping(int n) { statusLabel->setText(QString::number(n)); if (n > 0) pong(n - 1); }\n"
        "void Desk::pong(int n) { bar->setValue(n); if (n > 0) ping(n - 1); }\n"));
    const auto move = desk.plan();
    QVERIFY(move && !move->refused.isEmpty());
}

PIPIT_TEST(MovedCodeTest)
#include "moved_code_test.moc"
