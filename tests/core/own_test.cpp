// Classes of the user's own: what their header says is offered, checked and connected; objects that are no
// widgets live on the loop or on a thread of their own.
#include "core/base/files.h"
#include "core/edits/own_headers.h"
#include "core/edits/rename.h"
#include "core/findings/findings.h"
#include "core/sentences/sentence.h"
#include "core/store/store.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

using namespace pipit;
using namespace pipit::tests;

namespace
{

const char gaugeHeader[] = R"(#pragma once
#include <QtWidgets/QFrame>

// class Gauge : public QLabel was what it once was
class Meter : public QFrame
{
    Q_OBJECT
public:
    using QFrame::QFrame;
signals:
    void woken();
};

/* Shows how high the water stands. */
class Gauge final : public Meter
{
    Q_OBJECT
    // How high it may get.
    Q_PROPERTY(Level level READ level WRITE putLevel)
    Q_PROPERTY(int lanes MEMBER lanes_)
    Q_PROPERTY(int depth READ depth)
public:
    enum class Level { Low, Middle, High };
    Q_ENUM(Level)
    enum Part { Left = 1, Right = 2 };
    Q_ENUM(Part)
    using Meter::Meter;
    Level level() const { return level_; }
    void putLevel(Level l) { if (l != level_) { level_ = l; Q_EMIT levelChanged(l, Left); } }
    int depth() const { return 3; }
public slots:
    /**
     * Begins anew,
     * from the bottom.
     */
    void startOver(int from = 0) { putLevel(from > 1 ? Level::High : Level::Low); }
signals:
    void levelChanged(Level now, Part where); // when the water moves
private:
    Level level_ = Level::Low;
    int lanes_ = 0;
};
)";

const char tidesHeader[] = R"(#pragma once
#include <QtCore/QCoreApplication>
#include <QtCore/QThread>

// Looks up tides.
class Tides : public QObject
{
    Q_OBJECT
    Q_PROPERTY(int pause READ pause WRITE setPause)
public:
    explicit Tides(QObject *parent = nullptr) : QObject(parent) {}
    ~Tides() override { qInfo("tides end %s", here()); }
    int pause() const { return pause_; }
    void setPause(int ms) { pause_ = ms; }
public slots:
    // Asks for a port; takes its time.
    void ask(const QString &port)
    {
        QThread::msleep(pause_);
        Q_EMIT answered(port + ' ' + here());
    }
    void again() { ask("again"); }
signals:
    void answered(const QString &text); // when the sea has spoken
private:
    static const char *here() { return QThread::currentThread() == qApp->thread() ? "on the loop" : "elsewhere"; }
    int pause_ = 0;
};
)";

} // namespace

class OwnTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    Workspace with(const char *file, const char *header)
    {
        Workspace w = fresh_.project();
        if (!writeFile(w.place().folder + '/' + file, header))
            qFatal("%s cannot be written", file);
        return w;
    }
    static void read(Workspace &w) { w.takeOwnClasses(readOwnClasses(w.place(), w.project())); }

private slots:
    void theHeaderIsRead();
    void circlesAndRubbishEnd();
    void enumerationsAreSetAndChecked();
    void theyRunAsConnected();
    void whatItDerivesFromIsFound();
    void objectsAreNoWidgets();
    void slotsRunWhereTheObjectLives_data();
    void slotsRunWhereTheObjectLives();
    void aBusyThreadIsWaitedFor();
    void wrongOnesAreRefused_data();
    void wrongOnesAreRefused();
    void theyAreJudgedByWhatTheyDeclare();
    void theCommandLineAddsThem();
    void filesAreRefused_data();
    void filesAreRefused();
};

void OwnTest::theHeaderIsRead()
{
    Workspace w = with("gauge.h", gaugeHeader);
    type(w, {"add: Gauge gauge from gauge.h like frame"});
    read(w);
    const OwnClass *own = w.project().ownClassOf("gauge");
    QVERIFY(own);
    QCOMPARE(own->base, QString("Meter"));
    QStringList signatures;
    for (const SignalEntry &s : own->signalList)
        signatures << s.signature;
    QCOMPARE(signatures, (QStringList{"levelChanged(Gauge::Level,Gauge::Part)", "woken()"})); // inherited too
    QCOMPARE(own->signalList[0].types(), (QStringList{"Gauge::Level", "Gauge::Part"}));
    QCOMPARE(own->signalList[0].sentence, QString("when the water moves"));
    QCOMPARE(own->slotList[0].sentence, QString("Begins anew, from the bottom."));
    QStringList properties; // what only reads is none
    for (const PropertyEntry &p : own->properties)
        properties << p.name;
    QCOMPARE(properties, (QStringList{"level", "lanes"}));
    QCOMPARE(own->properties[0].sentence, QString("How high it may get."));
    QCOMPARE(own->properties[0].keys, (QStringList{"Low", "Middle", "High"}));
    QVERIFY(sentenceCompletions(w.project(), w.files(), "gauge.").contains("gauge.levelChanged calls "));
    QVERIFY(sentenceCompletions(w.project(), w.files(), "gauge.woken calls g")
                .contains("gauge.woken calls gauge.startOver"));
}

void OwnTest::circlesAndRubbishEnd()
{
    QCOMPARE(ownClassesFrom("{", "").size(), 0);
    QCOMPARE(ownClassesFrom(R"({"classes": [{"className": 3}, 7]})", "").size(), 1);
    OwnClasses circle = ownClassesFrom(
        R"({"classes": [{"className": "A", "superClasses": [{"access": "public", "name": "B"}],
            "signals": [{"name": "a", "access": "public"}]},
            {"className": "B", "superClasses": [{"access": "public", "name": "A"}],
            "signals": [{"name": "b", "access": "public"}, {"name": "p", "access": "private"}]}]})",
        "class A : public B {};");
    inheritAmong(circle);
    QCOMPARE(circle["A"].signalList.size(), 2);
    QCOMPARE(circle["B"].signalList.size(), 2);
    QCOMPARE(baseInHeader("class A : public B {}; class B : public A {};", "A"), QString("A").remove("A"));
    QCOMPARE(baseInHeader("// class A : public QLabel\nclass PORT_EXPORT A final : public QFrame\n{", "A"),
             QString("QFrame"));
    QCOMPARE(baseInHeader("class Another : public QLabel {};", "A"), QString());
}

void OwnTest::enumerationsAreSetAndChecked()
{
    Workspace w = with("gauge.h", gaugeHeader);
    type(w, {"add: Gauge gauge from gauge.h like frame"});
    read(w);
    QVERIFY(w.setProperty("gauge", "level", "high"));
    QCOMPARE(w.project().widget("gauge")->textOf("level"), QString("High"));
    const auto refused = w.setProperty("gauge", "level", "Hihg");
    QVERIFY(!refused);
    QVERIFY2(refused.problem().text().contains("Nearest: High"), qPrintable(refused.problem().text()));
    QVERIFY(w.setProperty("gauge", "lanes", "4"));
    const QString base = made(w, "desk_base.cpp");
    QVERIFY2(base.contains("    gauge->putLevel(Gauge::Level::High);\n"),
             qPrintable(base)); // as the header names it
    QVERIFY2(base.contains("    gauge->setProperty(\"lanes\", 4);\n"), qPrintable(base)); // it has no setter
    QVERIFY(w.setProperty("gauge", "level", QString()));                                  // and back
    QVERIFY(!made(w, "desk_base.cpp").contains("putLevel"));
}

void OwnTest::theyRunAsConnected()
{
    Workspace w = with("gauge.h", gaugeHeader);
    type(w, {"add: Gauge gauge from gauge.h like frame", "add: button go \"Go\"", "add: number seats"});
    read(w);
    type(w, {"connect: gauge.levelChanged calls moved", "connect: go.clicked calls gauge.startOver",
             "connect: seats.valueChanged calls gauge.startOver",
             "body: moved: qInfo(\"level %d at %d\", int(now), int(where));"});
    QCOMPARE(w.project().handler("moved")->arguments, (QStringList{"Gauge::Level", "Gauge::Part"}));
    QVERIFY(w.save());
    const QString play = w.place().folder + "/x.play";
    QVERIFY(writeFile(play, "seats: press Up\nseats: press Up\ngo: click\nhandler moved: expect 2 calls\n"));
    const Ran r = verb({"run", w.place().folder, "--play", play});
    QVERIFY2(r.code == 0, (r.out + r.err).constData());
    QVERIFY2((r.out + r.err).contains("level 2 at 1") && (r.out + r.err).contains("level 0 at 1"),
             (r.out + r.err).constData());
}

void OwnTest::whatItDerivesFromIsFound()
{
    Workspace w = with("gauge.h", gaugeHeader);
    QVERIFY(writeFile(w.place().folder + "/tides.h", tidesHeader));
    type(w, {"add: Gauge gauge from gauge.h", "add: Tides tides from tides.h"});
    QCOMPARE(w.project().widget("gauge")->base, QString("QFrame")); // by way of Meter
    QCOMPARE(w.project().object("tides")->base, QString("QObject"));
    QCOMPARE(w.project().ownHeaders(), (QStringList{"gauge.h", "tides.h"}));
}

void OwnTest::objectsAreNoWidgets()
{
    Workspace w = with("tides.h", tidesHeader);
    type(w, {"add: field port", "add: label said", "add: Tides tides from tides.h on a thread"});
    read(w);
    QCOMPARE(objectSentence(*w.project().object("tides")).section(',', 1).trimmed(),
             QString("a Tides on a thread of its own"));
    QVERIFY(w.setProperty("tides", "thread", "false"));
    QVERIFY(!w.project().object("tides")->thread);
    QVERIFY(w.undo());
    QVERIFY(w.project().object("tides")->thread);
    QVERIFY(w.setProperty("tides", "pause", "40"));
    QVERIFY(!w.setProperty("tides", "pause", "long"));
    type(w, {"connect: port.textChanged calls tides.ask", "connect: tides.answered calls said.setText"});
    const QString refused = refusal(w, "connect: tides.answred calls x");
    QVERIFY2(refused.contains("a Tides") && refused.contains("Nearest: answered"), qPrintable(refused));
    QVERIFY2(refusal(w, "connect: tides.key press calls x").contains("no signal or event"),
             qPrintable(refusal(w, "connect: tides.key press calls x")));
    // What is written is read again as it was.
    const QByteArray bytes = projectBytes(w.project());
    auto again = parseProject(bytes, "x.pipit");
    QVERIFY2(again, qPrintable(again ? QString() : again.problem().text()));
    QCOMPARE(projectBytes(*again), bytes);
    QVERIFY(again->object("tides")->thread);
    auto plan = planRename(w, {"tides", "sea"});
    QVERIFY(plan);
    QVERIFY(w.apply(plan->edit));
    QCOMPARE(w.project().connections.first().to, QString("sea"));
    QVERIFY(w.save());
    const Ran shown = verb({"show", w.place().folder, "sea"});
    QVERIFY2(shown.out.contains("answered"), (shown.out + shown.err).constData());
    QVERIFY(w.remove("sea"));
    QVERIFY(w.project().connections.isEmpty());
    QVERIFY(w.undo());
}

void OwnTest::slotsRunWhereTheObjectLives_data()
{
    QTest::addColumn<bool>("thread");
    QTest::newRow("on the loop") << false;
    QTest::newRow("on a thread of its own") << true;
}

// Connected as it is, with a condition, with a conversion, after a pause: never on the wrong thread.
void OwnTest::slotsRunWhereTheObjectLives()
{
    QFETCH(bool, thread);
    Workspace w = with("tides.h", tidesHeader);
    type(w, {"add: field port", "add: number seats", "add: button go \"Go\"", "add: button late \"Late\"",
             QString("add: Tides tides from tides.h") + (thread ? " on a thread" : "")});
    read(w);
    type(
        w,
        {"connect: port.textChanged calls tides.ask", "connect: seats.valueChanged calls tides.ask, as text",
         "connect: port.returnPressed (text not empty) calls tides.again",
         "connect: late.clicked calls tides.again, after a pause of 30 ms",
         "connect: tides.answered calls heard",
         "body: heard: qInfo(\"heard %s %s\", qPrintable(text), QThread::currentThread() == this->thread() ? "
         "\"here\" : \"there\");"});
    w.files().setText("desk.cpp", "#include <QtCore/QThread>\n" + *w.files().text("desk.cpp"));
    QVERIFY(w.save());
    const QString play = w.place().folder + "/x.play";
    QVERIFY(writeFile(
        play, "port: type \"A\"\nwait 100ms\nseats: press Up\nwait 100ms\nport: press Return\nwait 100ms\n"
              "late: click\nwait 300ms\nhandler heard: expect 4 calls\n"));
    const Ran r = verb({"run", w.place().folder, "--play", play});
    const QByteArray said = r.out + r.err;
    QVERIFY2(r.code == 0, said.constData());
    const QByteArray where = thread ? "elsewhere" : "on the loop";
    for (const QByteArray text : {"A", "1", "again"})
        QVERIFY2(said.contains("heard " + text + ' ' + where + " here"), said.constData());
    QCOMPARE(said.count("heard again " + where + " here"), 2);
    QCOMPARE(said.count("tides end"), 1); // nothing is left behind
}

// The window is closed while a slot works on the other thread: that ends first, and nothing is called after.
void OwnTest::aBusyThreadIsWaitedFor()
{
    Workspace w = with("tides.h", tidesHeader);
    type(w, {"add: button go \"Go\"", "add: button close \"Close\"",
             "add: Tides tides from tides.h on a thread"});
    read(w);
    QVERIFY(w.setProperty("tides", "pause", "700"));
    type(w, {"connect: go.clicked calls tides.again", "connect: close.clicked calls desk.close",
             "connect: tides.answered calls heard", "body: heard: qInfo(\"heard\");"});
    QVERIFY(w.save());
    const QString play = w.place().folder + "/x.play";
    // Busy for 700 ms, it stalls nothing: the window's own loop goes on.
    QVERIFY(writeFile(
        play, "go: click\nwait 900ms\nloop: expect no stall over 400ms\nhandler heard: expect 1 call\n"));
    const Ran busy = verb({"run", w.place().folder, "--play", play, "--record", w.place().folder + "/rec"});
    QVERIFY2(busy.code == 0, (busy.out + busy.err).constData());
    const Ran stalls = verb({"stalls", w.place().folder + "/rec", "--over", "400", "--json"});
    QVERIFY2(!stalls.out.contains("\"main\""), (stalls.out + stalls.err).constData());
    QVERIFY(writeFile(play, "go: click\nwait 50ms\nclose: click\n"));
    const Ran r = verb({"run", w.place().folder, "--play", play});
    const QByteArray said = r.out + r.err;
    QVERIFY2(r.code == 0, said.constData());
    QVERIFY2(!said.contains("heard") && said.contains("tides end elsewhere"), said.constData());
}

void OwnTest::wrongOnesAreRefused_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("says");
    QTest::newRow("no header") << "add: Tides t from nowhere.h"
                               << "There is no nowhere.h";
    QTest::newRow("not declared") << "add: Tide t from tides.h"
                                  << "tides.h declares no class Tide";
    QTest::newRow("a widget on a thread") << "add: Gauge g from gauge.h on a thread"
                                          << "cannot live on its own thread";
    QTest::newRow("unknown base") << "add: Tides t from tides.h like rubbish"
                                  << "rubbish";
    QTest::newRow("a way out") << "add: Tides t from ../tides.h"
                               << "not allowed";
    QTest::newRow("no class") << "add: two words t from tides.h"
                              << "not a class of your own";
    QTest::newRow("no thread for others") << "add: button b on a thread"
                                          << "There is no class or word";
    QTest::newRow("no value") << "set: tides: thread=perhaps"
                              << "true or false";
}

void OwnTest::wrongOnesAreRefused()
{
    QFETCH(QString, line);
    QFETCH(QString, says);
    Workspace w = with("gauge.h", gaugeHeader);
    QVERIFY(writeFile(w.place().folder + "/tides.h", tidesHeader));
    type(w, {"add: Tides tides from tides.h"});
    const QByteArray before = projectBytes(w.project());
    const QString refused = refusal(w, line);
    QVERIFY2(refused.contains(says), qPrintable(refused));
    QCOMPARE(projectBytes(w.project()), before);
}

// A slot or signal that the header declares is none that is missing; while the header is not read, nothing is
// said to be missing.
void OwnTest::theyAreJudgedByWhatTheyDeclare()
{
    Workspace w = with("gauge.h", gaugeHeader);
    QVERIFY(writeFile(w.place().folder + "/tides.h", tidesHeader));
    type(w,
         {"add: field port", "add: Gauge gauge from gauge.h", "add: Tides tides from tides.h on a thread"});
    read(w);
    type(w, {"connect: port.textChanged calls tides.ask", "connect: gauge.woken calls gauge.startOver",
             "connect: port.returnPressed calls gauge.woken", "connect: tides.answered calls heard"});
    const auto broken = [&] {
        QStringList all;
        for (const Finding &f : findingsOf(w.project(), w.files()))
            if (f.severity == Finding::Severity::Error)
                all << f.message;
        return all;
    };
    QCOMPARE(broken(), QStringList());
    Project p = w.project();
    Edit e{"break", {}, p, {}};
    e.after.connections[0].toMember = "aks";
    e.after.connections[1].signal = "wokne";
    QVERIFY(w.apply(e));
    read(w);
    QCOMPARE(broken().size(), 2);
    QVERIFY2(broken()[0].contains("a Tides has no slot 'aks'"), qPrintable(broken()[0]));
    QVERIFY2(broken()[1].contains("a Gauge has no signal 'wokne'"), qPrintable(broken()[1]));
    w.takeOwnClasses({}); // as if no header could be read
    QCOMPARE(broken(), QStringList());
    // Derived from a class whose header is not there, or said to be like another: what it has is not known.
    OwnClasses half = readOwnClasses(w.place(), w.project());
    half["Gauge"].base = "Elsewhere";
    w.takeOwnClasses(half);
    QCOMPARE(broken().size(), 1);
    half["Gauge"].base = "QLabel"; // it stands in the window as a frame
    w.takeOwnClasses(half);
    QCOMPARE(broken().size(), 1);
    read(w);
    const QString refused = refusal(w, "connect: tides.xyz calls x");
    QVERIFY2(refused.contains("It sends answered"), qPrintable(refused));
}

// What the window can, the command line can: with properties of their own at once, and undone again.
void OwnTest::theCommandLineAddsThem()
{
    Workspace w = with("gauge.h", gaugeHeader);
    QVERIFY(writeFile(w.place().folder + "/tides.h", tidesHeader));
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    const auto done = [&](const QStringList &words, const char *says) {
        const Ran r = verb(words);
        return r.code == 0 && r.out.contains(says);
    };
    QVERIFY(done({"add", folder, ".", "Gauge", "gauge", "--from", "gauge.h", "level=high", "lanes=2"},
                 "Added gauge"));
    QVERIFY(done({"add", folder, ".", "Tides", "tides", "--from", "tides.h", "--thread", "pause=3"},
                 "Added tides"));
    QVERIFY(done({"connect", folder, "gauge", "levelChanged", "moved"},
                 "levelChanged(Gauge::Level,Gauge::Part) calls moved"));
    const auto shown = QJsonDocument::fromJson(verb({"show", folder, "--json"}).out).object();
    QCOMPARE(shown["objects"].toArray().size(), 3); // with the window itself
    auto again = Workspace::open(folder);
    QVERIFY(again);
    QCOMPARE(again->project().widget("gauge")->textOf("level"), QString("High"));
    QVERIFY(again->project().object("tides")->thread);
    QCOMPARE(again->project().handler("moved")->arguments.first(), QString("Gauge::Level"));
    const Ran wrong = verb({"add", folder, ".", "Gauge", "other", "--from", "gauge.h", "level=middling"});
    QCOMPARE(wrong.code, 2);
    QVERIFY2(wrong.err.contains("Use one of Low, Middle, High"), wrong.err.constData());
    const Ran alone = verb({"add", folder, ".", "button", "b", "--thread"});
    QCOMPARE(alone.code, 2);
    QVERIFY2(alone.err.contains("--from"), alone.err.constData());
    QVERIFY(verb({"undo", folder}).code == 0);
    QVERIFY(!Workspace::open(folder)->project().handler("moved"));
    QVERIFY(done({"set", folder, "tides", "thread=false"}, "Set thread of tides"));
    QVERIFY(!Workspace::open(folder)->project().object("tides")->thread);
    const Ran built = verb({"build", folder});
    QVERIFY2(built.code == 0, (built.out + built.err).constData());
}

void OwnTest::filesAreRefused_data()
{
    QTest::addColumn<QByteArray>("object");
    QTest::addColumn<QString>("says");
    QTest::newRow("a path") << QByteArray(R"("class": "T", "base": "QObject", "header": "../t.h")")
                            << "not allowed";
    QTest::newRow("half") << QByteArray(R"("class": "T", "header": "t.h")") << "both";
    QTest::newRow("code as base") << QByteArray(R"("class": "T", "base": "QObject{}", "header": "t.h")")
                                  << "not a C++ name";
    QTest::newRow("thread of none") << QByteArray(R"("class": "QAction", "thread": true)")
                                    << "thread of its own";
    QTest::newRow("thread of what") << QByteArray(
                                           R"("class": "T", "base": "QObject", "header": "t.h", "thread": 3)")
                                    << "thread";
}

void OwnTest::filesAreRefused()
{
    QFETCH(QByteArray, object);
    QFETCH(QString, says);
    const QByteArray file = R"({"pipit": 1, "name": "desk", "windows": [{"class": "Desk", "file": "desk",
        "root": {"id": "w1", "class": "QWidget", "name": "desk"}, "objects": [{"id": "o1", "name": "tides", )" +
                            object + "}]}]}";
    auto p = parseProject(file, "desk.pipit");
    QVERIFY(!p);
    QVERIFY2(p.problem().text().contains(says), qPrintable(p.problem().text()));
}

PIPIT_TEST(OwnTest)
#include "own_test.moc"
