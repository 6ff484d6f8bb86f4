// Handlers that share a queue, and those that run beside themselves: how they are moved, and what comes of it
// in a running program.
#include "core/base/files.h"
#include "core/findings/findings.h"
#include "core/moves/move.h"
#include "tests/support/handlers.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

namespace
{

const char gaugeHeader[] = R"(#pragma once

#include <QtCore/QString>
#include <QtCore/QThread>

class Gauge
{
public:
    Gauge() = default;
    Gauge(const Gauge &) = delete;
    double read();
    void reset();
    int readings() const { return readings_; }

private:
    void enter();
    int readings_ = 0, inside_ = 0;
    double level_ = 2;
    const Qt::HANDLE loop_ = QThread::currentThreadId(); // the thread that makes the window
    Qt::HANDLE owner_ = nullptr;                         // the thread that was the first here
};
)",
           gaugeSource[] = R"(#include "gauge.h"

#include <QtCore/QThread>

// Prints what may not be: two at once, and the main thread.
void Gauge::enter()
{
    if (QThread::currentThreadId() == loop_)
        qWarning("the event loop at the gauge");
    if (!owner_)
        owner_ = QThread::currentThreadId();
    if (owner_ != QThread::currentThreadId() || ++inside_ > 1)
        qWarning("two at the gauge");
    QThread::msleep(20);
    --inside_;
}

double Gauge::read()
{
    enter();
    ++readings_;
    return level_ += 0.5;
}

void Gauge::reset()
{
    enter();
    level_ = 2;
}
)",
           handlers[] = R"(
// Asks the gauge.
void Desk::readGauge()
{
    levelLabel->setText("reading");
    const double level = gauge_.read();
    levelLabel->setText(QString::number(level));
    logList->addItem(QString("%1: %2").arg(gauge_.readings()).arg(level));
}

void Desk::resetGauge()
{
    gauge_.reset();
    ++resets_;
    logList->addItem(QString("reset %1").arg(resets_));
}
)";

} // namespace

class QueuesTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    Workspace tower(const QString &more = {});
    static Result<Move> plan(Workspace &w, const QString &handler, const QStringList &with = {},
                             const QString &again = {});
    static Move planned(Workspace &w, const QString &handler, const QStringList &with = {},
                        const QString &again = {});
    static Ran played(Workspace &w, const QString &play);

private Q_SLOTS:
    void whatOthersUseIsRefusedAlone();
    void theyShareAQueueAndKeepTheirOrder();
    void aThirdUserOnTheLoopIsToldOf();
    void itJoinsThoseThatAreThere();
    void backAgain();
    void severalRunAtOnceAndAreShownInOrder();
    void whatItsLastRunShowsKeepsItAlone();
    void pacingIsChangedLater();
    void filesThatSayNonsenseAreRefused_data();
    void filesThatSayNonsenseAreRefused();
    void verbsSayWhatIsWrong_data();
    void verbsSayWhatIsWrong();
};

Workspace QueuesTest::tower(const QString &more)
{
    Workspace w = fresh_.project();
    type(w, {"add: button readButton \"Read\"", "add: button resetButton \"Reset\"", "add: label levelLabel",
             "add: list logList", "connect: readButton.clicked calls readGauge",
             "connect: resetButton.clicked calls resetGauge"});
    if (!writeFile(w.place().folder + "/gauge.h", gaugeHeader) ||
        !writeFile(w.place().folder + "/gauge.cpp", gaugeSource))
        qFatal("not written");
    QString header = *w.files().text("desk.h");
    header.replace("#include \"generated/desk_handlers.h\"\n",
                   "#include \"generated/desk_handlers.h\"\n#include \"gauge.h\"\n");
    header.replace(header.lastIndexOf("};"), 2, "\nprivate:\n    Gauge gauge_;\n    int resets_ = 0;\n};");
    w.files().setText("desk.h", header);
    QString source = *w.files().text("desk.cpp");
    source.truncate(source.indexOf("void Desk::readGauge"));
    w.files().setText("desk.cpp", source.trimmed() + '\n' + handlers + more);
    return w;
}

Result<Move> QueuesTest::plan(Workspace &w, const QString &handler, const QStringList &with,
                              const QString &again)
{
    MoveQuestion q = MoveQuestion::of(w, handler, Shape::Background);
    q.queue = again == "together" ? QString() : QString("gauge");
    q.with = with;
    q.again = again;
    return planMove(q, false);
}

Move QueuesTest::planned(Workspace &w, const QString &handler, const QStringList &with, const QString &again)
{
    auto move = plan(w, handler, with, again);
    if (!move)
        qFatal("%s", qPrintable(move.problem().text()));
    return *move;
}

Ran QueuesTest::played(Workspace &w, const QString &play)
{
    const QString folder = w.place().folder;
    if (!w.save() || !writeFile(folder + "/x.play", play.toUtf8()))
        qFatal("not written");
    return verb({"run", folder, "--play", folder + "/x.play", "--record", folder + "/rec"});
}

void QueuesTest::whatOthersUseIsRefusedAlone()
{
    Workspace w = tower();
    MoveQuestion q = MoveQuestion::of(w, "readGauge", Shape::Background);
    const auto move = planMove(q, false);
    QVERIFY2(move && move->refused.size() >= 1, qPrintable(move ? QString() : move.problem().text()));
    QVERIFY2(move->refused[0].reason.contains("gauge_ is changed in read (other functions use it)"),
             qPrintable(move->refused[0].reason));
    QVERIFY(move->edit.files.isEmpty());
    QCOMPARE(move->offers.size(), 1);
    QCOMPARE(move->offers[0].queue, QString("gauge"));
    QCOMPARE(move->offers[0].with, QStringList("resetGauge"));
}

void QueuesTest::theyShareAQueueAndKeepTheirOrder()
{
    Workspace w = tower();
    const Move move = planned(w, "readGauge", {"resetGauge"});
    QVERIFY2(move.refused.isEmpty(), qPrintable(move.refused.value(0).reason));
    QVERIFY(w.apply(move.edit));
    QCOMPARE(w.project().handler("readGauge")->queue, QString("gauge"));
    QCOMPARE(w.project().handler("resetGauge")->queue, QString("gauge"));
    // Of what is shown only the number comes along; the gauge itself does not.
    const QString code = *w.files().text("desk.cpp");
    QVERIFY2(code.contains("return {gauge_.readings(), level};"), qPrintable(code));
    const Ran ran = played(w, "readButton: click\nresetButton: click\nreadButton: click\nresetButton: click\n"
                              "readButton: click\nreadButton: click\nwait 600ms\nlogList: expect count 6\n"
                              "logList: expect item \"reset 2\"\nlogList: expect item \"4: 3\"\n");
    QVERIFY2(ran.code == 0 && !(ran.out + ran.err).contains("at the gauge"),
             (ran.out + ran.err).constData());
    const Ran calls = verb({"calls", w.place().folder + "/rec"});
    QStringList shown;
    for (const QString &line : QString::fromUtf8(calls.out).split('\n'))
        for (const char *name : {"readGaugeShow", "resetGaugeShow"})
            if (line.contains(QLatin1String(name)))
                shown << QString::fromLatin1(name).left(5);
    QCOMPARE(shown, QStringList({"readG", "reset", "readG", "reset", "readG", "readG"}));
    // One step of undo for both.
    QVERIFY(w.undo());
    QCOMPARE(w.project().handler("resetGauge")->shape, Shape::OneGo);
    QVERIFY((*w.files().text("desk.cpp")).contains(QLatin1String(handlers).mid(1)));
}

void QueuesTest::aThirdUserOnTheLoopIsToldOf()
{
    Workspace w = tower("\nvoid Desk::hideEvent(QHideEvent *)\n{\n    gauge_.reset();\n}\n");
    QString header = *w.files().text("desk.h");
    header.replace("private:\n    Gauge gauge_;",
                   "protected:\n    void hideEvent(QHideEvent *) override;\n\nprivate:\n    Gauge gauge_;");
    w.files().setText("desk.h", header);
    const Move move = planned(w, "readGauge", {"resetGauge"});
    QVERIFY(!move.refused.isEmpty());
    QVERIFY2(move.refused[0].reason.contains("gauge_"), qPrintable(move.refused[0].reason));
    QVERIFY(move.edit.files.isEmpty());
    QCOMPARE(move.edit.after.handler("readGauge")->shape, Shape::OneGo);
}

void QueuesTest::itJoinsThoseThatAreThere()
{
    Workspace w =
        tower("\nvoid Desk::checkGauge()\n{\n    levelLabel->setText(QString::number(gauge_.read()));\n}\n");
    type(w, {"add: button checkButton \"Check\"", "connect: checkButton.clicked calls checkGauge"});
    const Move refused = planned(w, "readGauge", {"resetGauge"});
    QVERIFY2(!refused.refused.isEmpty(), "checkGauge uses it on the loop");
    const Move all = planned(w, "readGauge", {"resetGauge", "checkGauge"});
    QVERIFY2(all.refused.isEmpty(), qPrintable(all.refused.value(0).reason));
    QVERIFY(w.apply(all.edit));
    // A fourth one comes later.
    type(w, {"add: button clearButton \"Clear\"", "connect: clearButton.clicked calls clearGauge"});
    w.files().setText("desk.cpp", (*w.files().text("desk.cpp"))
                                      .replace("void Desk::clearGauge()\n{\n",
                                               "void Desk::clearGauge()\n{\n    gauge_.reset();\n"));
    const QList<Finding> found = findingsOf(w.project(), w.files());
    const auto both = std::count_if(found.begin(), found.end(),
                                    [](const Finding &f) { return f.id == "used-on-both-threads"; });
    QCOMPARE(both, 3);
    const Move joins = planned(w, "clearGauge");
    QVERIFY2(joins.refused.isEmpty(), qPrintable(joins.refused.value(0).reason));
    QVERIFY2(joins.newText.contains("Gauge &gauge_ = *input.gauge;"), qPrintable(joins.newText));
    QVERIFY(w.apply(joins.edit));
    for (const Finding &f : findingsOf(w.project(), w.files()))
        QVERIFY2(f.id != "used-on-both-threads", qPrintable(f.message));
    // None of them leaves alone.
    MoveQuestion q = MoveQuestion::of(w, "clearGauge", Shape::Background);
    q.ownQueue = true;
    const auto leaves = planMove(q, false);
    QVERIFY(leaves && leaves->refused.size() == 1);
    QVERIFY(leaves->refused[0].reason.contains("both must stay in one queue"));
}

void QueuesTest::backAgain()
{
    Workspace w = tower();
    QVERIFY(w.apply(planned(w, "readGauge", {"resetGauge"}).edit));
    // One alone would use it on the loop while the other one works.
    MoveQuestion q = MoveQuestion::of(w, "readGauge", Shape::OneGo);
    const auto alone = planMove(q, false);
    QVERIFY(alone && alone->refused.size() == 1 && alone->offers.size() == 1);
    QVERIFY2(alone->refused[0].reason.startsWith("resetGauge uses gauge_ as well"),
             qPrintable(alone->refused[0].reason));
    QCOMPARE(alone->offers[0].with, QStringList("resetGauge"));
    q.with = alone->offers[0].with;
    const auto both = planMove(q, false);
    QVERIFY2(both && both->refused.isEmpty(),
             qPrintable(both ? both->refused.value(0).reason : both.problem().text()));
    QVERIFY(w.apply(both->edit));
    const QString code = *w.files().text("desk.cpp");
    QVERIFY2(!code.contains("input") && code.contains("const double level = gauge_.read();"),
             qPrintable(code));
    QVERIFY(!(*w.files().text("desk.h")).contains("struct"));
    const Ran ran = played(w, "readButton: click\nresetButton: click\nreadButton: click\nwait 200ms\n"
                              "logList: expect item \"2: 2.5\"\n");
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
}

// The first takes longest, and is shown first.
void QueuesTest::severalRunAtOnceAndAreShownInOrder()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "add: spin number maximum=999", "add: list logList", "add: bar bar",
             "connect: go.clicked calls count"});
    QString code = *w.files().text("desk.cpp");
    code.truncate(code.indexOf("void Desk::count"));
    code.replace("#include \"desk.h\"", "#include \"desk.h\"\n\n#include <QtCore/QThread>");
    w.files().setText("desk.cpp", code + "void Desk::count()\n{\n    const int rounds = number->value();\n"
                                         "    int all = 0;\n    for (int i = 0; i < rounds; ++i) {\n"
                                         "        QThread::msleep(1);\n        all += i;\n    }\n"
                                         "    logList->addItem(QString::number(all));\n}\n");
    MoveQuestion q = MoveQuestion::of(w, "count", Shape::Background);
    q.again = "together";
    q.workers = 3;
    const auto move = planMove(q, false);
    QVERIFY2(move && move->refused.isEmpty(),
             qPrintable(move ? move->refused.value(0).reason : move.problem().text()));
    QVERIFY(w.apply(move->edit));
    type(w, {"connect: countJob.progressValueChanged calls bar.setValue",
             "connect: countJob.progressRangeChanged calls bar.setRange"});
    QString play;
    for (const int n : {300, 200, 100, 10})
        play += QStringLiteral("number: press Ctrl+A\nnumber: type \"%1\"\ngo: click\n").arg(n);
    const Ran ran = played(w, play + "wait 900ms\nlogList: expect count 4\nbar: expect value 4\n");
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    const Ran calls = verb({"calls", w.place().folder + "/rec", "--json"});
    const QStringList works = QString::fromUtf8(calls.out).split("countWork");
    QCOMPARE(works.size(), 5);
}

void QueuesTest::whatItsLastRunShowsKeepsItAlone()
{
    Desk counts(bodyCase("    int n = resultLabel->text().toInt();\n    for (int i = 0; i < 9; ++i)\n"
                         "        n += i;\n    resultLabel->setText(QString::number(n));\n"));
    const auto move = counts.plan(Shape::Background, {}, "together");
    QVERIFY(move && move->refused.size() == 1);
    QVERIFY2(move->refused[0].reason.contains("several runs at once are not possible"),
             qPrintable(move->refused[0].reason));
    Desk tells(bodyCase("    bar->setRange(0, 9);\n    for (int i = 0; i < 9; ++i) {\n"
                        "        QThread::msleep(1);\n        bar->setValue(i + 1);\n    }\n"));
    const auto bar = tells.plan(Shape::Background, {}, "together");
    QVERIFY2(bar && !bar->refused.isEmpty(), "one bar for several");
    Desk keeps(bodyCase("    static int rounds = 0;\n    for (int i = 0; i < 9; ++i)\n        ++rounds;\n"
                        "    resultLabel->setText(nameField->text());\n"));
    const auto state = keeps.plan(Shape::Background, {}, "together");
    QVERIFY2(state && !state->refused.isEmpty(), "a state that all share");
}

void QueuesTest::pacingIsChangedLater()
{
    Desk desk(bodyCase("    int n = nameField->text().toInt();\n    for (int i = 0; i < 9; ++i)\n"
                       "        n += i;\n    resultLabel->setText(QString::number(n));\n"));
    QVERIFY(desk.workspace.apply(desk.plan()->edit));
    const auto paced = [&](const QString &again, const QString &queue, int workers) {
        MoveQuestion q = MoveQuestion::of(desk.workspace, "go", Shape::Background);
        q.again = again;
        q.queue = queue;
        q.workers = workers;
        return planMove(q, false);
    };
    const auto together = paced("together", {}, 5);
    QVERIFY2(together && together->refused.isEmpty(),
             qPrintable(together ? together->refused.value(0).reason : together.problem().text()));
    QVERIFY(desk.workspace.apply(together->edit));
    QCOMPARE(desk.workspace.project().handler("go")->workers, 5);
    const auto queued = paced({}, "own", 0);
    QVERIFY(queued && queued->refused.isEmpty());
    QVERIFY(desk.workspace.apply(queued->edit));
    QCOMPARE(desk.workspace.project().handler("go")->again, QString("queue"));
    QVERIFY(desk.workspace.undo() && desk.workspace.undo());
    QCOMPARE(desk.workspace.project().handler("go")->again, QString("queue"));
    QVERIFY(desk.workspace.project().handler("go")->queue.isEmpty());
    // Nothing is asked: nothing is changed.
    const auto nothing = paced({}, {}, 0);
    QVERIFY(!nothing && nothing.problem().what.contains("already runs in the background"));
}

void QueuesTest::filesThatSayNonsenseAreRefused_data()
{
    QTest::addColumn<QString>("keys");
    QTest::addColumn<QString>("says");
    QTest::newRow("too many") << R"("again": "together", "workers": 900)"
                              << "workers";
    QTest::newRow("none") << R"("again": "together", "workers": 0)"
                          << "workers";
    QTest::newRow("no name") << R"("queue": "two words")"
                             << "The queue name \"two words\" is not";
    QTest::newRow("both") << R"("again": "together", "queue": "a")"
                          << "has a queue, but several runs";
    QTest::newRow("unknown") << R"("again": "sometimes")"
                             << "\"again\" is \"sometimes\"";
}

void QueuesTest::filesThatSayNonsenseAreRefused()
{
    QFETCH(QString, keys);
    QFETCH(QString, says);
    Desk desk(bodyCase("    int n = 0;\n    for (int i = 0; i < 9; ++i)\n        n += i;\n"
                       "    resultLabel->setText(QString::number(n));\n"));
    QVERIFY(desk.workspace.apply(desk.plan()->edit));
    QVERIFY(desk.workspace.save());
    const QString file = desk.workspace.place().file;
    QString text = QString::fromUtf8(*readFile(file));
    QVERIFY(text.contains(R"("again": "queue")"));
    if (keys.contains("again"))
        text.replace(R"("again": "queue")", keys);
    else
        text.replace(R"("again": "queue")", R"("again": "queue", )" + keys);
    QVERIFY(writeFile(file, text.toUtf8()));
    const auto again = Workspace::open(file);
    QVERIFY(!again);
    QVERIFY2(again.problem().text().contains(says), qPrintable(again.problem().text()));
    QVERIFY(again.problem().line > 0);
}

void QueuesTest::verbsSayWhatIsWrong_data()
{
    QTest::addColumn<QStringList>("words");
    QTest::addColumn<QString>("says");
    const QStringList background{"background"};
    QTest::newRow("workers alone") << background + QStringList{"--workers", "3"}
                                   << "--workers needs --again together";
    QTest::newRow("too many") << background + QStringList{"--again", "together", "--workers", "65"}
                              << "1 to 64";
    QTest::newRow("together in a queue")
        << background + QStringList{"--again", "together", "--queue", "a"} << "one after the other";
    QTest::newRow("with nobody") << background + QStringList{"--with", "other"} << "--with needs a queue";
    QTest::newRow("no such handler") << background + QStringList{"--queue", "a", "--with", "resetGuage"}
                                     << "Nearest: resetGauge";
    QTest::newRow("steps") << QStringList{"steps", "--queue", "a"} << "Steps run on the event loop";
    QTest::newRow("no name") << background + QStringList{"--queue", "1 a"} << "not a valid queue name";
}

void QueuesTest::verbsSayWhatIsWrong()
{
    QFETCH(QStringList, words);
    QFETCH(QString, says);
    Workspace w = tower();
    QVERIFY(w.save());
    const QByteArray before = *readFile(w.place().file);
    const Ran ran = verb(QStringList{"shape", w.place().folder, "readGauge"} + words);
    QCOMPARE(ran.code, 2);
    QVERIFY2(ran.err.contains(says.toUtf8()), ran.err.constData());
    QCOMPARE(*readFile(w.place().file), before);
}

PIPIT_TEST(QueuesTest)
#include "queues_test.moc"
