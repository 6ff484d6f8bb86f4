// In the place of a timer that polls: being told. And a loop that sleeps until something is so.
#include "core/base/files.h"
#include "core/moves/notification.h"
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class ToldTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    QTemporaryDir dir_;
    // A desk whose timer looks with this body, ten times a second.
    Workspace lamp(const QString &body, const QString &members = {}, const QString &more = {});
    static Result<Move> plan(Workspace &w, const QString &timer = "gateTimer");
    QString gate() const { return dir_.path() + "/gate"; }

private Q_SLOTS:
    void aFileIsWatchedAndNothingIsMissed();
    void aFolderIsWatched();
    void pathsStandWhereTheyMeanTheSame();
    void devicesTellByTheirSignals_data();
    void devicesTellByTheirSignals();
    void whatATickDoesByItselfIsRefused_data();
    void whatATickDoesByItselfIsRefused();
    void questionsThatMakeNoSense();
    void aLoopThatWaitsBecomesATimer();
    void loopsThatDoMoreStay_data();
    void loopsThatDoMoreStay();
};

Workspace ToldTest::lamp(const QString &body, const QString &members, const QString &more)
{
    Workspace w = fresh_.project();
    type(w, {"add: timer gateTimer interval=100", "add: label gateLabel", "add: list logList",
             "add: checkbox box", "connect: gateTimer.timeout calls readGate"});
    QString code = *w.files().text("desk.cpp");
    code.truncate(code.indexOf("void Desk::readGate"));
    code.replace("#include \"desk.h\"\n",
                 "#include \"desk.h\"\n\n#include <QtCore/QDateTime>\n#include "
                 "<QtCore/QDir>\n#include <QtCore/QFile>\n#include <QtCore/QFileInfo>\n");
    w.files().setText("desk.cpp", code + "void Desk::readGate()\n{\n" + body + "}\n" + more);
    QString header = *w.files().text("desk.h");
    header.replace(header.lastIndexOf("};"), 2, "\nprivate:\n    QString last_;\n" + members + "};");
    w.files().setText("desk.h", header);
    return w;
}

Result<Move> ToldTest::plan(Workspace &w, const QString &timer)
{
    return planNotification(MoveQuestion::of(w, timer, Shape::Background), false);
}

// What a program sees of a file that is written, replaced, removed and made again, with a tenth of the looks.
void ToldTest::aFileIsWatchedAndNothingIsMissed()
{
    Workspace w =
        lamp("    const QString path = \"" + gate() +
             "\";\n    QFile file(path);\n    if (!file.open(QIODevice::ReadOnly)) {\n"
             "        gateLabel->setText(\"none\");\n        return;\n    }\n"
             "    const QString state = QString::fromUtf8(file.readAll());\n    if (state == last_)\n"
             "        return;\n    last_ = state;\n    logList->addItem(state);\n"
             "    gateLabel->setText(state);\n");
    // Another button plays the device.
    type(w, {"add: button next \"Next\"", "connect: next.clicked calls device"});
    QString code = *w.files().text("desk.cpp");
    code.replace(
        "void Desk::device()\n{\n",
        "void Desk::device()\n{\n    static int step = 0;\n    const QString path = \"" + gate() +
            "\";\n    const auto put = [](const QString &to, const char *text) {\n        QFile f(to);\n"
            "        if (f.open(QIODevice::WriteOnly))\n            f.write(text);\n    };\n"
            "    switch (step++) {\n    case 0: put(path, \"open\"); break;\n"
            "    case 1: put(path + \"2\", \"closed\"); QFile::remove(path); QFile::rename(path + \"2\", "
            "path); "
            "break;\n    case 2: put(path, \"half\"); break;\n    case 3: QFile::remove(path); break;\n"
            "    default: put(path, \"open\");\n    }\n");
    w.files().setText("desk.cpp", code);
    const auto move = plan(w);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(
        move->newText.contains("    gateWatch->addPaths({QFileInfo(path).path(), path});\n    QFile file"),
        qPrintable(move->newText));
    QVERIFY(w.apply(move->edit));
    QCOMPARE(w.project().timer("gateTimer")->repeat, false);
    QVERIFY(w.project().object("gateWatch"));
    QVERIFY(w.save());
    const QString folder = w.place().folder, play = folder + "/x.play";
    QVERIFY(writeFile(
        play, "gateLabel: expect text \"none\"\nnext: click\nwait 300ms\ngateLabel: expect text \"open\"\n"
              "next: click\nwait 300ms\ngateLabel: expect text \"closed\"\nnext: click\nwait 300ms\n"
              "gateLabel: expect text \"half\"\nnext: click\nwait 300ms\ngateLabel: expect text \"none\"\n"
              "next: click\nwait 300ms\ngateLabel: expect text \"open\"\nlogList: expect count 4\n"));
    const Ran ran = verb({"run", folder, "--play", play, "--record", folder + "/rec"});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    const Ran calls = verb({"calls", folder + "/rec"});
    const qsizetype looks = calls.out.count("readGate");
    QVERIFY2(looks >= 6 && looks <= 15, QByteArray::number(looks)); // polling it was 15 and more
    // One undo, and it polls again.
    QVERIFY(w.undo());
    QVERIFY(w.project().timer("gateTimer")->repeat && !w.project().object("gateWatch"));
    QVERIFY(!(*w.files().text("desk.cpp")).contains("gateWatch"));
}

void ToldTest::aFolderIsWatched()
{
    Workspace w = lamp("    const QDir inbox(folder_);\n    "
                       "gateLabel->setText(QString::number(inbox.entryList().size()));\n",
                       "    QString folder_ = \"" + dir_.path() + "\";\n");
    const auto move = plan(w);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("gateWatch->addPath(folder_);"), qPrintable(move->newText));
    QStringList from;
    for (const Connection &c : move->edit.after.connections)
        if (c.from == "gateWatch")
            from << c.signal + ' ' + c.pacing.text();
    QCOMPARE(from, QStringList("directoryChanged at most every 50 ms"));
}

// A path that is made of what never changes is written down once more, at the top.
void ToldTest::pathsStandWhereTheyMeanTheSame()
{
    Workspace w = lamp("    if (!QFileInfo(QDir::temp().filePath(\"a\")).exists())\n        return;\n"
                       "    const QString path = QDir::temp().filePath(\"b\");\n"
                       "    gateLabel->setText(QFile::exists(path) ? \"both\" : \"one\");\n");
    const auto move = plan(w);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const qsizetype watch = move->newText.indexOf("gateWatch->addPaths(");
    QVERIFY2(watch > 0 && watch < move->newText.indexOf("if (!QFileInfo"), qPrintable(move->newText));
    QVERIFY2(!move->newText.section('\n', 3, 3).contains("path}"), "the variable is not there yet");
}

void ToldTest::devicesTellByTheirSignals_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("sender");
    QTest::newRow("a process that says something")
        << "    if (sensor->bytesAvailable() == 0)\n        return;\n"
           "    gateLabel->setText(QString::fromUtf8(sensor->readAllStandardOutput()));\n"
        << "sensor readyReadStandardOutput";
    QTest::newRow("a process that is over")
        << "    gateLabel->setText(sensor->state() == QProcess::NotRunning ? \"over\" : \"runs\");\n"
        << "sensor stateChanged";
    QTest::newRow("lines of a socket") << "    while (line->canReadLine())\n"
                                          "        gateLabel->setText(QString::fromUtf8(line->readLine()));\n"
                                       << "line readyRead";
}

void ToldTest::devicesTellByTheirSignals()
{
    QFETCH(QString, body);
    QFETCH(QString, sender);
    Workspace w = lamp(body);
    type(w, {"add: process sensor", "add: local socket line"});
    const auto move = plan(w);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    const bool told = std::any_of(
        move->edit.after.connections.begin(), move->edit.after.connections.end(),
        [&](const Connection &c) { return c.from + ' ' + c.signal == sender && c.to == "readGate"; });
    QVERIFY(told);
    QVERIFY(move->edit.files.isEmpty());
}

void ToldTest::whatATickDoesByItselfIsRefused_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("members");
    QTest::addColumn<QString>("says");
    const QString look = "    gateLabel->setText(QFile::exists(\"/tmp/gate\") ? \"open\" : \"closed\");\n";
    QTest::newRow("counts") << look + "    ++ticks_;\n"
                            << "    int ticks_ = 0;\n"
                            << "ticks_ is changed at every tick";
    QTest::newRow("adds up") << look + "    all_ = all_ + 1;\n"
                             << "    int all_ = 0;\n"
                             << "all_ is changed at every";
    QTest::newRow("a clock") << look + "    box->setText(QTime::currentTime().toString());\n"
                             << ""
                             << "currentTime changes at every tick";
    QTest::newRow("adds a row") << look + "    logList->addItem(\"looked\");\n"
                                << ""
                                << "logList is changed by addItem at every tick";
    QTest::newRow("asks a widget") << "    if (!box->isChecked())\n        return;\n" + look << ""
                                   << "box is read, and a change of the file says nothing about it";
    QTest::newRow("another path each time")
        << "    for (int i = 0; i < 3; ++i)\n        if (QFile::exists(QString(\"/tmp/%1\").arg(i)))\n"
           "            gateLabel->setText(\"there\");\n"
        << ""
        << "the file is known only at run time";
    QTest::newRow("a path that changes")
        << "    gateLabel->setText(QFile::exists(last_) ? \"a\" : \"b\");\n    last_ = "
           "gateLabel->text();\n"
        << ""
        << "the file is known only at run time";
    QTest::newRow("the kernel's")
        << "    QFile f(\"/proc/loadavg\");\n    if (f.open(QIODevice::ReadOnly))\n        "
           "gateLabel->setText(f.readAll());\n"
        << ""
        << "files in /proc send no";
    QTest::newRow("stops itself") << look + "    if (last_ == \"x\")\n        gateTimer->stop();\n"
                                  << ""
                                  << "the code starts, stops or reads gateTimer";
    QTest::newRow("a line of several")
        << "    if (line->canReadLine())\n        gateLabel->setText(line->readLine());\n"
        << ""
        << "readLine reads a part only";
    QTest::newRow("nothing is looked at") << "    gateLabel->setText(\"a\");\n"
                                          << ""
                                          << "it reads no file";
    QTest::newRow("writes")
        << "    QFile f(\"/tmp/gate\");\n    if (f.open(QIODevice::Append))\n        f.write(\"x\");\n"
        << ""
        << "write runs at every tick";
}

void ToldTest::whatATickDoesByItselfIsRefused()
{
    QFETCH(QString, body);
    QFETCH(QString, members);
    QFETCH(QString, says);
    Workspace w = lamp(body, members);
    type(w, {"add: local socket line"});
    const auto move = plan(w);
    QVERIFY2(move, qPrintable(move ? QString() : move.problem().text()));
    QStringList reasons;
    for (const MoveRefusal &r : move->refused)
        reasons << r.reason;
    QVERIFY2(reasons.join('|').contains(says), qPrintable(reasons.join('|')));
    QVERIFY(move->edit.files.isEmpty());
    QVERIFY(move->edit.after.timer("gateTimer")->repeat);
}

void ToldTest::questionsThatMakeNoSense()
{
    Workspace w = lamp("    gateLabel->setText(QFile::exists(\"/tmp/gate\") ? \"open\" : \"closed\");\n");
    QVERIFY(plan(w, "gateTime").problem().text().contains("Nearest: gateTimer"));
    type(w, {"add: timer idleTimer"});
    QVERIFY(plan(w, "idleTimer").problem().what.contains("calls no handler"));
    type(w, {"connect: box.toggled calls gateTimer.stop"});
    const auto stopped = plan(w);
    QVERIFY(stopped && stopped->refused.size() == 1);
    QVERIFY2(stopped->refused[0].reason.contains("box"), qPrintable(stopped->refused[0].reason));
    QVERIFY(w.save());
    const Ran told = verb({"shape", w.place().folder, "gateTimer", "told"});
    QCOMPARE(told.code, 1);
    const Ran none = verb({"shape", w.place().folder, "nobody", "told"});
    QCOMPARE(none.code, 2);
}

void ToldTest::aLoopThatWaitsBecomesATimer()
{
    Desk desk(bodyCase("    statusLabel->setText(\"waiting\");\n    while (nameField->text().isEmpty()) {\n"
                       "        // Once more.\n        ++tries_;\n        QThread::msleep(40);\n"
                       "        QCoreApplication::processEvents();\n    }\n"
                       "    statusLabel->setText(\"there\");\n",
                       "int tries_ = 0;"));
    const auto move = desk.plan(Shape::Steps);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY2(move->newText.contains("    goPoll->start();\n    goGoesOn();\n}"), qPrintable(move->newText));
    QVERIFY2(move->newText.contains(
                 "    if (nameField->text().isEmpty()) {\n        // Once more.\n        ++tries_;\n"
                 "        return;\n    }\n    goPoll->stop();\n"
                 "    statusLabel->setText(\"there\");\n}"),
             qPrintable(move->newText));
    const TimerNode *t = move->edit.after.timer("goPoll");
    QVERIFY(t && t->repeat && !t->autostart && t->interval == 40);
    QVERIFY(desk.workspace.apply(move->edit));
    QVERIFY(desk.workspace.save());
    const QString folder = desk.workspace.place().folder;
    QVERIFY(writeFile(folder + "/x.play",
                      "goButton: click\nwait 600ms\nstatusLabel: expect text \"waiting\"\nnameField: type "
                      "\"x\"\nwait 120ms\n"
                      "statusLabel: expect text \"there\"\nwait 1200ms\nloop: expect no stall over 400ms\n"));
    const Ran ran = verb({"run", folder, "--play", folder + "/x.play", "--record", folder + "/rec"});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    const Ran calls = verb({"calls", folder + "/rec"});
    QVERIFY2(calls.out.count("goGoesOn") <= 28, "it stopped");
}

void ToldTest::loopsThatDoMoreStay_data()
{
    QTest::addColumn<QString>("body");
    const QString rest = "    statusLabel->setText(\"there\");\n";
    QTest::newRow("leaves in the middle")
        << "    while (nameField->text().isEmpty()) {\n        QThread::msleep(40);\n"
           "        if (box->isChecked())\n            break;\n    }\n" +
               rest;
    QTest::newRow("a count of its own")
        << "    int tries = 0;\n    while (nameField->text().isEmpty() && tries < 5) {\n"
           "        QThread::msleep(40);\n        ++tries;\n    }\n" +
               rest;
    QTest::newRow("works as well")
        << "    int n = 0;\n    while (nameField->text().isEmpty()) {\n        "
           "QThread::msleep(40);\n        for (int i = 0; i < 9; ++i)\n            n += i;\n"
           "    }\n    statusLabel->setText(QString::number(n));\n";
}

void ToldTest::loopsThatDoMoreStay()
{
    QFETCH(QString, body);
    Desk desk(bodyCase(body));
    const auto move = desk.plan(Shape::Steps);
    QVERIFY(!move || !move->newText.contains("goPoll"));
}

PIPIT_TEST(ToldTest)
#include "told_test.moc"
