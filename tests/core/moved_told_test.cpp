// What the work tells widgets on its way: rows and items that it makes or changes, lambdas and helpers that
// tell, and what is said where a handler leaves before the work.
#include "core/base/files.h"
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class MovedToldTest : public QObject
{
    Q_OBJECT
private:
    // What comes of a body that moves.
    static QString moved(const QString &body, const QString &members = {}, const QString &before = {});
    static QString refusal(const QString &body, const QString &members = {});

private Q_SLOTS:
    void itemsAreMadeOfTheirValues();
    void rowsOfATableAreMade();
    void rowsAreChangedWhereTheyAreStillThere();
    void rowsThatOthersMoveAreNotChangedLater();
    void whatShowsOnlyDoesNotHideWhatIsRead();
    void aLambdaThatIsHandedOnTellsTheResult();
    void aLambdaThatIsKeptIsRefused();
    void aHelperIsHandedOtherNames();
    void whatIsEmptiedBetweenComesFirst();
    void leavingEarlyWaitsForItsTurn();
    void leavingEarlyAtOnceWhereNothingElseIsSaid();
    void whatWasCountedIsKept();
    void aFlagStopsTheWork();
};

QString MovedToldTest::moved(const QString &body, const QString &members, const QString &before)
{
    Desk desk(bodyCase(body, members, before));
    const auto move = desk.plan();
    if (!move || !move->refused.isEmpty()) {
        qWarning("%s", qPrintable(move ? move->refused.first().reason : move.problem().text()));
        return {};
    }
    return move->newText;
}

QString MovedToldTest::refusal(const QString &body, const QString &members)
{
    Desk desk(bodyCase(body, members));
    const auto move = desk.plan();
    if (!move || move->refused.isEmpty())
        return move ? "moved:\n" + move->newText : move.problem().text();
    return move->refused.first().reason;
}

void MovedToldTest::itemsAreMadeOfTheirValues()
{
    const QString code =
        moved("    for (int i = 0; i < 9; ++i) {\n        QThread::usleep(9);\n"
              "        auto *item = new QListWidgetItem(QString::number(i * 3));\n"
              "        item->setToolTip(\"berth\"); // as ever\n"
              "        item->setData(Qt::UserRole, i);\n        orderList->addItem(item);\n    }\n");
    QVERIFY2(code.contains("result.orderListRows.emplaceBack(QString::number(i * 3), i);"), qPrintable(code));
    QVERIFY2(
        code.contains("    for (const auto &[text, i] : some.orderListRows) {\n"
                      "        auto *item = new QListWidgetItem(text);\n"
                      "        item->setToolTip(\"berth\"); // as ever\n"
                      "        item->setData(Qt::UserRole, i);\n        orderList->addItem(item);\n    }\n"),
        qPrintable(code));
    // What is slow stays in the work.
    const QString slow =
        moved("    for (int i = 0; i < 9; ++i)\n        orderList->addItem(new "
              "QListWidgetItem(weigh(i)));\n",
              {}, "static QString weigh(int n) { QThread::usleep(50); return QString::number(n); }\n");
    QVERIFY2(slow.contains("result.orderListRows << weigh(i);"), qPrintable(slow));
    // An item that lives on is nobody's to make later.
    QVERIFY(
        refusal(
            "    QListWidgetItem *item = nullptr;\n    for (int i = 0; i < 9; ++i) {\n"
            "        QThread::usleep(9);\n        item = new QListWidgetItem(QString::number(i));\n    }\n"
            "    orderList->addItem(item);\n")
            .contains("QListWidgetItem"));
}

void MovedToldTest::rowsOfATableAreMade()
{
    Desk desk(bodyCase(
        "    for (int i = 0; i < 9; ++i) {\n        const QString name = QString(\"pier %1\").arg(i);\n"
        "        QThread::usleep(9);\n        const int row = pierTable->rowCount();\n"
        "        pierTable->insertRow(row);\n"
        "        pierTable->setItem(row, 0, new QTableWidgetItem(name));\n"
        "        pierTable->setItem(row, 1, new QTableWidgetItem(QString::number(i * i)));\n    }\n"));
    QVERIFY(desk.workspace.addWidget(".", "QTableWidget", "pierTable", {}));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(
        move->newText.contains("    for (const auto &[name, text] : some.pierTableRows) {\n"
                               "        const int row = pierTable->rowCount();\n"
                               "        pierTable->insertRow(row);\n"
                               "        pierTable->setItem(row, 0, new QTableWidgetItem(name));\n"
                               "        pierTable->setItem(row, 1, new QTableWidgetItem(text));\n    }\n"),
        qPrintable(move->newText));
}

static const QString written =
    QStringLiteral("    for (int row = 0; row < orderList->count(); ++row) {\n"
                   "        const QString text = orderList->item(row)->text();\n        QThread::usleep(9);\n"
                   "        orderList->item(row)->setText(text.toUpper());\n    }\n");

void MovedToldTest::rowsAreChangedWhereTheyAreStillThere()
{
    const QString code = moved(written);
    QVERIFY2(
        code.contains("        if (auto *item = orderList->item(row))\n            item->setText(text);\n"),
        qPrintable(code));
}

void MovedToldTest::rowsThatOthersMoveAreNotChangedLater()
{
    HandlerCase one =
        bodyCase(written, "void drop();", "void Desk::drop() { delete orderList->takeItem(0); }\n");
    Desk desk(one);
    const auto move = desk.plan();
    QVERIFY(move && !move->refused.isEmpty());
    QVERIFY2(move->refused.first().reason.contains("orderList is changed by setText"),
             qPrintable(move->refused.first().reason));
}

void MovedToldTest::whatShowsOnlyDoesNotHideWhatIsRead()
{
    const QString loop =
        "    QString all;\n    for (int i = 0; i < orderList->count(); ++i) {\n"
        "        %1\n        QThread::usleep(9);\n        all += orderList->item(i)->text();\n"
        "    }\n    resultLabel->setText(all);\n";
    QVERIFY(!moved(loop.arg("orderList->setCurrentRow(i);")).isEmpty());
    const QString reason = refusal(loop.arg("orderList->setItemDelegate(nullptr);"));
    QVERIFY2(reason.contains("orderList is"), qPrintable(reason));
}

void MovedToldTest::aLambdaThatIsHandedOnTellsTheResult()
{
    const QString helper =
        "static int gauged(int n, const std::function<void(int, QString)> &tell) { int s = 0; for "
        "(int i = 0; i < n; ++i) { QThread::usleep(9); s += i; tell(i, \"x\"); } return s; }\n";
    const QString code =
        moved("    const int most = 7;\n    const int s = gauged(most, [this, most](int i, const QString "
              "&t) {\n        if (t.isEmpty())\n            return;\n"
              "        statusLabel->setText(QString(\"%1 of %2 %3\").arg(i).arg(most).arg(t));\n    });\n"
              "    resultLabel->setText(QString::number(s));\n",
              {}, helper);
    QVERIFY2(code.contains("gauged(most, [&, most](int i, const QString &t) {\n        if (t.isEmpty())\n"
                           "            return;\n        result.statusLabelText = "),
             qPrintable(code));
    QVERIFY2(!code.section("// On the loop", 0, 0).contains("statusLabel->"), qPrintable(code));
}

void MovedToldTest::aLambdaThatIsKeptIsRefused()
{
    const QString body =
        "    later_ = [this] { statusLabel->setText(\"later\"); };\n    QThread::msleep(9);\n"
        "    for (int i = 0; i < 9; ++i)\n        keep([this, i] { statusLabel->setText(QString::number(i)); "
        "});\n    resultLabel->setText(\"x\");\n";
    const QString reason =
        refusal(body, "std::function<void()> later_; void keep(std::function<void()> f) { later_ = "
                      "std::move(f); } public: void now() { later_(); }");
    QVERIFY2(!reason.startsWith("moved"), qPrintable(reason));
}

void MovedToldTest::aHelperIsHandedOtherNames()
{
    const QString code =
        moved("    for (int i = 0; i < 9; ++i) {\n        QThread::usleep(9);\n"
              "        note(statusLabel, \"at \" + QString::number(i));\n    }\n",
              {}, "static void note(QLabel *where, const QString &what) { where->setText(what); }\n");
    QVERIFY2(
        code.contains(
            "const QString what = \"at \" + QString::number(i);\n            result.statusLabelText = what;"),
        qPrintable(code));
    // Whose it is must be plain.
    const QString reason = refusal("    QLabel *which = openCheck->isChecked() ? statusLabel : doneLabel;\n"
                                   "    for (int i = 0; i < 9; ++i) {\n        QThread::usleep(9);\n"
                                   "        which->setText(QString::number(i));\n    }\n");
    QVERIFY2(reason.contains("which is"), qPrintable(reason));
}

void MovedToldTest::whatIsEmptiedBetweenComesFirst()
{
    const QString code =
        moved("    QStringList all;\n    for (int i = 0; i < 9; ++i) {\n        QThread::usleep(9);\n"
              "        all << QString::number(i);\n    }\n    logText->clear();\n"
              "    for (const QString &each : all)\n        logText->appendPlainText(each + '.');\n");
    QVERIFY2(code.indexOf("logText->clear();") > 0 &&
                 code.indexOf("logText->clear();") < code.indexOf("logText->appendPlainText("),
             qPrintable(code));
}

void MovedToldTest::leavingEarlyWaitsForItsTurn()
{
    const QString code =
        moved("    const QString name = nameField->text();\n    if (name.isEmpty()) {\n"
              "        statusLabel->setText(\"no name\");\n        nameField->setFocus();\n"
              "        return;\n    }\n    QThread::msleep(9);\n    statusLabel->setText(name);\n");
    QVERIFY2(code.contains("        early.instead = [=] {\n            statusLabel->setText(\"no name\");\n"
                           "            nameField->setFocus();\n        };\n        return early;\n"),
             qPrintable(code));
    QVERIFY2(code.contains("    if (outcome.value().instead)\n        return outcome.value().instead();\n"),
             qPrintable(code));
    QVERIFY2(code.contains("GoInput Desk::goTake()"), qPrintable(code));
}

void MovedToldTest::leavingEarlyAtOnceWhereNothingElseIsSaid()
{
    const QString code =
        moved("    if (nameField->text().isEmpty()) {\n        doneLabel->setText(\"no name\");\n"
              "        return;\n    }\n    QThread::msleep(9);\n    statusLabel->setText(\"done\");\n");
    QVERIFY2(code.contains("doneLabel->setText(\"no name\");\n        return false;"), qPrintable(code));
    QVERIFY2(!code.contains("instead"), qPrintable(code));
    // With "ignore" nothing waits, so nothing has a turn.
    Desk desk(
        bodyCase("    if (nameField->text().isEmpty()) {\n        statusLabel->setText(\"no name\");\n"
                 "        return;\n    }\n    QThread::msleep(9);\n    statusLabel->setText(\"done\");\n"));
    const auto move = desk.plan(Shape::Background, {}, "ignore");
    QVERIFY(move && move->refused.isEmpty());
    QVERIFY2(!move->newText.contains("instead"), qPrintable(move->newText));
}

void MovedToldTest::whatWasCountedIsKept()
{
    const QString code = moved("    ++runs_;\n    QThread::msleep(9);\n"
                               "    resultLabel->setText(QString::number(runs_));\n",
                               "int runs_ = 0;");
    QVERIFY2(code.contains("++runs_;\n    return runs_;"), qPrintable(code));
}

// Another handler sets it, on the loop: the work sees it at once, and the window says so.
void MovedToldTest::aFlagStopsTheWork()
{
    const QString body = "    stop_ = false;\n    int n = 0;\n    for (; n < 4000 && !stop_; ++n) {\n"
                         "        QThread::msleep(1);\n        QCoreApplication::processEvents();\n    }\n"
                         "    statusLabel->setText(stop_ ? \"stopped\" : \"through\");\n";
    Desk desk(bodyCase(body, "bool stop_ = false;"));
    Workspace &w = desk.workspace;
    type(w, {"add: button stopButton \"Stop\"", "connect: stopButton.clicked calls halt"});
    w.files().setText("desk.cpp", desk.code().replace("void Desk::halt()\n{\n",
                                                      "void Desk::halt()\n{\n    stop_ = true;\n"));
    const auto move = desk.plan();
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->sentences.join(' ').contains("stop_ becomes a std::atomic<bool>"),
             qPrintable(move->sentences.join('\n')));
    QVERIFY(w.apply(move->edit));
    QVERIFY(w.files().text("desk.h")->contains("std::atomic<bool> stop_{false};"));
    QVERIFY(w.save());
    const QString play = w.place().folder + "/stop.play";
    QVERIFY(writeFile(play, "goButton: click\nwait 100ms\nstopButton: click\n"
                            "statusLabel: wait for text \"stopped\" within 1500ms\n"));
    const Ran ran = verb({"play", w.place().folder, play});
    QVERIFY2(ran.code == 0, ran.out + ran.err);
    // Declared with others it cannot become one.
    Desk two(bodyCase(body, "bool go_ = false, stop_ = false; public: void halt() { stop_ = true; }"));
    const auto refused = two.plan();
    QVERIFY(refused && !refused->refused.isEmpty());
    QVERIFY2(refused->refused.first().reason.contains("is not declared alone"),
             qPrintable(refused->refused.first().reason));
}

PIPIT_TEST(MovedToldTest)
#include "moved_told_test.moc"
