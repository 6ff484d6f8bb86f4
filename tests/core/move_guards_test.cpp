// What a move refuses since it would lose data or change a result, each with its line.
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

using namespace pipit;
using namespace pipit::tests;

namespace
{

const char *const slowLoop = "    int sum = 0;\n    for (int i = 0; i < 9000; ++i)\n        sum += i % 7;\n";

// A window, its code added to.
struct Other {
    QString file, text;
};

} // namespace

class MoveGuardsTest : public QObject
{
    Q_OBJECT
private:
    // The reasons, each with its place; "moved" where it moves.
    static QString planned(const HandlerCase &one, Shape shape = Shape::Background,
                           const QSet<int> &trusted = {}, const QList<Other> &others = {},
                           const std::function<void(Workspace &)> &more = {});

private slots:
    void whatCallsItReadsWhatItLeaves_data();
    void whatCallsItReadsWhatItLeaves();
    void ofAnotherClassItIsNoCall();
    void aSignalSetOffByCodeIsReadAtOnce();
    void workThatLastsIsNotEndedHalfWay_data();
    void workThatLastsIsNotEndedHalfWay();
    void workThatLastsMayBeAnsweredFor();
    void readingAFileMoves();
    void rowsThatMayGoAreNotChangedLater_data();
    void rowsThatMayGoAreNotChangedLater();
    void whatIsNotListedIsNotKnown_data();
    void whatIsNotListedIsNotKnown();
    void whatStaysMustBeReadAndShort_data();
    void whatStaysMustBeReadAndShort();
    void oneTrustedLineIsNoOther();
    void oneGoKeepsWhatAPersonWrote();
};

QString MoveGuardsTest::planned(const HandlerCase &one, Shape shape, const QSet<int> &trusted,
                                const QList<Other> &others, const std::function<void(Workspace &)> &more)
{
    Desk desk(one);
    for (const Other &o : others)
        desk.workspace.files().setText(o.file, *desk.workspace.files().text(o.file) + o.text);
    if (!desk.workspace.files().saveAll())
        return "not saved";
    if (more)
        more(desk.workspace);
    const auto move = desk.plan(shape, trusted);
    if (!move)
        return "problem: " + move.problem().text();
    QStringList said;
    for (const MoveRefusal &r : move->refused)
        said << QStringLiteral("%1:%2: %3").arg(r.file).arg(r.line).arg(r.reason);
    return said.isEmpty() ? QString("moved") : said.join('\n');
}

void MoveGuardsTest::whatCallsItReadsWhatItLeaves_data()
{
    QTest::addColumn<QString>("caller");
    QTest::newRow("plain")
        << "void Desk::write()\n{\n    go();\n    setWindowTitle(resultLabel->text());\n}\n";
    QTest::newRow("in a condition") << "bool Desk::ready()\n{\n    return isVisible() && (go(), true);\n}\n"
                                       "void Desk::write() {}\n";
    QTest::newRow("through auto") << "void Desk::write()\n{\n    auto *desk = this;\n    desk->go();\n}\n";
    QTest::newRow("through a base's pointer") << "void Desk::write()\n{\n    Desk *const desk = "
                                                 "static_cast<Desk *>(window());\n    desk->go();\n}\n";
    QTest::newRow("on this") << "void Desk::write()\n{\n    this->go();\n}\n";
    QTest::newRow("in a lambda")
        << "void Desk::write()\n{\n    const auto save = [this] { go(); };\n    save();\n}\n";
    QTest::newRow("by name") << "void Desk::write()\n{\n    QMetaObject::invokeMethod(this, \"go\");\n}\n";
}

// write() called recalculate() and then saved total(): the file held the old total.
void MoveGuardsTest::whatCallsItReadsWhatItLeaves()
{
    QFETCH(QString, caller);
    const HandlerCase one = bodyCase(QString(slowLoop) + "    resultLabel->setText(QString::number(sum));\n",
                                     "void write(); bool ready();");
    const QString said = planned(one, Shape::Background, {}, {{"desk.cpp", caller}});
    static const QRegularExpression place("^desk\\.cpp:\\d+: go is called here");
    QVERIFY2(caller.contains("go") ? said.contains(place) : said == "moved", qPrintable(said));
}

void MoveGuardsTest::ofAnotherClassItIsNoCall()
{
    const QString caller =
        "struct Boat { void go(); };\nvoid Boat::go() {}\nstatic void row(Boat *boat) { boat->go(); "
        "}\nvoid Desk::write()\n{\n    Boat b;\n    row(&b);\n}\n";
    const HandlerCase one =
        bodyCase(QString(slowLoop) + "    resultLabel->setText(QString::number(sum));\n", "void write();");
    QCOMPARE(planned(one, Shape::Background, {}, {{"desk.cpp", caller}}), QString("moved"));
}

void MoveGuardsTest::aSignalSetOffByCodeIsReadAtOnce()
{
    const HandlerCase one = bodyCase(QString(slowLoop) + "    resultLabel->setText(QString::number(sum));\n",
                                     "void write(); QString told() const;");
    const QString told = "QString Desk::told() const\n{\n    return resultLabel->text();\n}\n";
    const QString said =
        planned(one, Shape::Background, {},
                {{"desk.cpp",
                  told + "void Desk::write()\n{\n    goButton->click();\n    setWindowTitle(told());\n}\n"}});
    QVERIFY2(said.contains("write triggers go directly with goButton->click() and then uses told"),
             qPrintable(said));
    // Nothing that it sets is looked at behind it.
    QCOMPARE(
        planned(one, Shape::Background, {},
                {{"desk.cpp",
                  told + "void Desk::write()\n{\n    setWindowTitle(told());\n    goButton->click();\n}\n"}}),
        QString("moved"));
}

void MoveGuardsTest::workThatLastsIsNotEndedHalfWay_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("before");
    QTest::addColumn<QString>("says");
    QTest::newRow("file") << "    QFile f(QDir::temp().filePath(\"lines\"));\n    "
                             "f.open(QIODevice::WriteOnly);\n    for (int i = 0; i < 9000; ++i)\n"
                             "        f.write(\"line\\n\");\n    resultLabel->setText(\"done\");\n"
                          << "#include <QtCore/QFile>\n#include <QtCore/QDir>\n"
                          << "write";
    QTest::newRow("stream")
        << "    std::ofstream f(\"lines\");\n    for (int i = 0; i < 9000; ++i)\n        f << i;\n"
        << "#include <fstream>\n"
        << "writes a file";
    QTest::newRow("settings") << "    QSettings s;\n    for (int i = 0; i < 9000; ++i)\n        "
                                 "s.setValue(QString::number(i), i);\n"
                              << "#include <QtCore/QSettings>\n"
                              << "changes settings";
    QTest::newRow("folders")
        << "    for (int i = 0; i < 9000; ++i)\n        QDir().mkpath(QString::number(i));\n"
        << "#include <QtCore/QDir>\n"
        << "changes files";
    QTest::newRow("C") << "    FILE *f = fopen(\"lines\", \"w\");\n    for (int i = 0; i < 9000; ++i)\n      "
                          "  fputs(\"x\", f);\n    fclose(f);\n"
                       << "#include <cstdio>\n"
                       << "write";
    QTest::newRow("device") << "    QFile f(\"/dev/null\");\n    if (!f.open(QIODevice::ReadWrite))\n        "
                               "return;\n    for (int i = 0; i < 9000; ++i)\n"
                               "        f.putChar('x');\n"
                            << "#include <QtCore/QFile>\n"
                            << "write";
    QTest::newRow("through a function")
        << "    for (int i = 0; i < 9000; ++i)\n        note(i);\n    resultLabel->setText(\"done\");\n"
        << "#include <QtCore/QFile>\nstatic void note(int i)\n{\n    QFile f(\"lines\");\n    if "
           "(f.open(QIODevice::Append))\n"
           "        f.write(QByteArray::number(i));\n}\n"
        << "in note";
    QTest::newRow("after the work") << "    int sum = 0;\n    for (int i = 0; i < 9000; ++i)\n        sum += "
                                       "i;\n    resultLabel->setText(QString::number(sum));\n"
                                       "    QSettings().setValue(\"sum\", resultLabel->text());\n"
                                    << "#include <QtCore/QSettings>\n"
                                    << "changes settings";
}

// A file of 1,000 lines had 66 when the window was closed.
void MoveGuardsTest::workThatLastsIsNotEndedHalfWay()
{
    QFETCH(QString, body);
    QFETCH(QString, before);
    QFETCH(QString, says);
    const bool steps = QTest::currentDataTag() == QByteArray("file");
    for (const Shape shape : steps ? QList{Shape::Background, Shape::Steps} : QList{Shape::Background}) {
        const QString said = planned(bodyCase(body, {}, before), shape);
        QVERIFY2(said.contains(says) && said.contains("which closing the window would end half-way"),
                 qPrintable(said));
    }
}

// A person who answers for the line may have it so.
void MoveGuardsTest::workThatLastsMayBeAnsweredFor()
{
    const HandlerCase one =
        bodyCase("    for (int i = 0; i < 9000; ++i)\n        QDir().mkpath(QString::number(i));\n", {},
                 "#include <QtCore/QDir>\n");
    Desk desk(one);
    const QString code = desk.code();
    const int line = int(code.left(code.indexOf("QDir()")).count('\n')) + 1;
    QVERIFY(planned(one).startsWith(QStringLiteral("desk.cpp:%1: QDir::mkpath").arg(line)));
    QCOMPARE(planned(one, Shape::Background, {line}), QString("moved"));
}

void MoveGuardsTest::readingAFileMoves()
{
    QCOMPARE(planned(bodyCase(
                 "    QFile f(nameField->text());\n    if (!f.open(QIODevice::ReadOnly)) {\n"
                 "        resultLabel->setText(\"no file\");\n        return;\n    }\n    int lines = 0;\n"
                 "    while (!f.atEnd()) {\n        f.readLine();\n        ++lines;\n    }\n"
                 "    resultLabel->setText(QString::number(lines));\n",
                 {}, "#include <QtCore/QFile>\n")),
             QString("moved"));
}

void MoveGuardsTest::rowsThatMayGoAreNotChangedLater_data()
{
    QTest::addColumn<QString>("other");
    QTest::addColumn<QString>("slot");
    QTest::newRow("deletes one") << "    delete orderList->item(0);"
                                 << "";
    QTest::newRow("deletes it by a name") << "    auto *first = orderList->item(0);\n    delete first;"
                                          << "";
    QTest::newRow("deletes the selected") << "    qDeleteAll(orderList->selectedItems());"
                                          << "";
    QTest::newRow("by another pointer") << "    QListWidget *all = orderList;\n    all->clear();"
                                        << "";
    QTest::newRow("found") << "    findChild<QListWidget *>(\"orderList\")->clear();"
                           << "";
    QTest::newRow("by its model") << "    orderList->model()->removeRows(0, 1);"
                                  << "";
    QTest::newRow("handed over") << "    tidy(orderList);"
                                 << "";
    QTest::newRow("by a connection in code")
        << "    connect(moreButton, &QPushButton::clicked, orderList, &QListWidget::clear);"
        << "";
    QTest::newRow("leaves them") << "    orderList->setFocus();"
                                 << "";
    QTest::newRow("by a connection of the project") << ""
                                                    << "clear";
}

void MoveGuardsTest::rowsThatMayGoAreNotChangedLater()
{
    QFETCH(QString, other);
    QFETCH(QString, slot);
    const HandlerCase one =
        bodyCase("    for (int row = 0; row < orderList->count(); ++row) {\n"
                 "        const QString text = orderList->item(row)->text();\n        QThread::usleep(9);\n"
                 "        orderList->item(row)->setText(text.toUpper());\n    }\n",
                 "void other();", "static void tidy(QListWidget *) {}\n");
    const auto wired = [&](Workspace &w) {
        if (!slot.isEmpty())
            QVERIFY(w.connect({"moreButton", "pressed", {}, "orderList." + slot, {}}));
    };
    const QString said = planned(one, Shape::Background, {},
                                 {{"desk.cpp", "void Desk::other()\n{\n" + other + "\n}\n"}}, wired);
    static const QRegularExpression place("^desk\\.cpp:\\d+: orderList is changed by setText");
    QVERIFY2(other.contains("setFocus") ? said == "moved" : said.contains(place), qPrintable(said));
}

void MoveGuardsTest::whatIsNotListedIsNotKnown_data()
{
    QTest::addColumn<QString>("call");
    QTest::newRow("drand48") << "drand48()";
    QTest::newRow("inet_ntoa") << "inet_ntoa(in_addr{1})[0]";
    QTest::newRow("getenv") << "*getenv(\"HOME\")";
    QTest::newRow("lgamma") << "lgamma(3)";
    QTest::newRow("listed") << "sqrt(i) + qBound(0, i, 9) + std::fabs(i)";
}

// They went to the worker.
void MoveGuardsTest::whatIsNotListedIsNotKnown()
{
    QFETCH(QString, call);
    const QString said =
        planned(bodyCase("    double sum = 0;\n    for (int i = 0; i < 9000; ++i)\n        sum += " + call +
                             ";\n    resultLabel->setText(QString::number(sum));\n",
                         {}, "#include <arpa/inet.h>\n#include <cmath>\n#include <cstdlib>\n"));
    QVERIFY2(call.contains("qBound") ? said == "moved" : said.contains("is not known"), qPrintable(said));
}

void MoveGuardsTest::whatStaysMustBeReadAndShort_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("elsewhere");
    QTest::addColumn<QString>("says"); // or, where it moves, what the work does
    const QString sum = "    int sum = 0;\n    for (int i = 0; i < 9; ++i)\n        sum += i;\n"
                        "    resultLabel->setText(QString::number(sum));\n";
    QTest::newRow("slow in another file")
        << "    const int found = scan(3);\n" + sum + "    statusLabel->setText(QString::number(found));\n"
        << "#include <QThread>\nint scan(int n)\n{\n    for (int i = 0; i < 9; ++i)\n        "
           "QThread::msleep(300);\n    return n;\n}\n"
        << "works: scan(3)";
    QTest::newRow("of a library that is not read")
        << "    const int found = scan(3);\n" + sum + "    statusLabel->setText(QString::number(found));\n"
        << ""
        << "what scan does is unknown: its code was not read, so it may take long, and it would stay on the "
           "event loop";
    QTest::newRow("measured")
        << "    int widest = 0;\n    for (int i = 0; i < orderList->count(); ++i)\n"
           "        widest = std::max(widest, fontMetrics().horizontalAdvance(orderList->item(i)->text()));\n"
           "    QThread::msleep(9);\n    resultLabel->setText(QString::number(widest));\n"
        << ""
        << "the window is read, in the middle of the work";
    QTest::newRow("asked of the view") << "    int most = 0;\n    for (int i = 0; i < orderList->count(); "
                                          "++i) {\n        QThread::usleep(9);\n"
                                          "        most = std::max(most, orderList->sizeHintForRow(i));\n    "
                                          "}\n    resultLabel->setText(QString::number(most));\n"
                                       << ""
                                       << "orderList is read, in the middle of the work";
}

// A trivial sum moved, and what takes long stayed, with success.
void MoveGuardsTest::whatStaysMustBeReadAndShort()
{
    QFETCH(QString, body);
    QFETCH(QString, elsewhere);
    QFETCH(QString, says);
    Desk desk(bodyCase(body, {}, "int scan(int n);\n"));
    if (!elsewhere.isEmpty()) {
        desk.workspace.files().setText("scan.cpp", elsewhere);
        QVERIFY(desk.workspace.files().saveAll());
    }
    const auto move = desk.plan();
    QVERIFY2(bool(move), qPrintable(move ? QString() : move.problem().text()));
    if (says.startsWith("works: ")) {
        QVERIFY2(move->refused.isEmpty(), qPrintable(move->refused.value(0).reason));
        const QString work = move->newText.section("Work(", 1).section("\n}", 0, 0);
        QVERIFY2(work.contains(says.mid(7)), qPrintable(move->newText));
    } else {
        QVERIFY(!move->refused.isEmpty());
        QVERIFY2(move->refused.first().line > 0 && move->refused.first().reason.contains(says),
                 qPrintable(move->refused.first().reason));
    }
}

// Any trusted line switched off what is looked at in the end, for all lines.
void MoveGuardsTest::oneTrustedLineIsNoOther()
{
    const HandlerCase one = bodyCase("    double sum = 0;\n    for (int i = 0; i < 9000; ++i) {\n        sum "
                                     "+= drand48();\n        sum += lrand48();\n    }\n"
                                     "    resultLabel->setText(QString::number(sum));\n",
                                     {}, "#include <cstdlib>\n");
    Desk desk(one);
    const QString code = desk.code();
    const int first = int(code.left(code.indexOf("drand48")).count('\n')) + 1;
    QString said = planned(one, Shape::Background, {first});
    QVERIFY2(!said.contains("drand48") && said.contains("lrand48"), qPrintable(said));
    QCOMPARE(planned(one, Shape::Background, {first, first + 1}), QString("moved"));
}

// setText("cancelled") was dropped without a word.
void MoveGuardsTest::oneGoKeepsWhatAPersonWrote()
{
    const HandlerCase one = bodyCase(QString(slowLoop) + "    resultLabel->setText(QString::number(sum));\n");
    const auto backFrom = [&](const QString &whenCancelled) {
        Desk desk(one);
        const auto move = desk.plan();
        if (!move || !move->refused.isEmpty() || !desk.workspace.apply(move->edit))
            return QString("not moved");
        QString code = desk.code();
        const QString plain = "    if (outcome.cancelled)\n        return;\n";
        if (!code.contains(plain))
            return QString("no such line:\n") + code;
        desk.workspace.files().setText(
            "desk.cpp",
            code.replace(plain, whenCancelled.isEmpty() ? plain
                                                        : "    if (outcome.cancelled) {\n" + whenCancelled +
                                                              "        return;\n    }\n"));
        const auto back = desk.plan(Shape::OneGo);
        if (!back)
            return back.problem().text();
        return back->refused.isEmpty() ? QString("back")
                                       : QStringLiteral("%1: %2")
                                             .arg(back->refused.first().line)
                                             .arg(back->refused.first().reason);
    };
    QCOMPARE(backFrom({}), QString("back"));
    for (const char *line : {"        statusLabel->setText(\"cancelled\");\n",
                             "        statusLabel->clear();\n", "        added_ = 0;\n"}) {
        const QString said = backFrom(line);
        QVERIFY2(said.contains("would be lost") && said.section(':', 0, 0).toInt() > 0, qPrintable(said));
    }
}

PIPIT_TEST(MoveGuardsTest)
#include "move_guards_test.moc"
