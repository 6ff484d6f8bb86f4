// The verbs as a person or a script uses them.
#include "core/base/files.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <unistd.h>

#include <QJsonArray>
#include <QJsonDocument>

using namespace pipit::tests;

class CliTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;
    QString p(const QString &name) const { return dir_.path() + '/' + name; }

private slots:
    void aProjectFromNothing();
    void badInputIsSaidAndChangesNothing_data();
    void badInputIsSaidAndChangesNothing();
    void runRecordAndAsk();
    void recordsAProgram();
    void saysWhy();
    void aRunningProgramIsNotJoined();
    void helpIsEverywhere();
    void aWholeSentenceIsTaken();
    void removingSaysWhatGoesToo();
    void undoGoesOnPastWhatDoesNotFit();
    void aPlayIsFoundInItsProject();
};

void CliTest::aProjectFromNothing()
{
    QCOMPARE(verb({"new", p("desk")}).code, 0);
    QCOMPARE(verb({"add", p("desk"), ".", "button", "go", "text=Go"}).code, 0);
    QCOMPARE(verb({"add", p("desk"), ".", "timer", "tick", "interval=40"}).code, 0);
    const Ran lint = verb({"lint", p("desk"), "--json"});
    QCOMPARE(lint.code, 1);
    const auto rows = QJsonDocument::fromJson(lint.out).array();
    QCOMPARE(rows.size(), 2);
    QCOMPARE(rows[0].toObject()["id"].toString(), QString("nothing-connected"));
    QCOMPARE(rows[0].toObject()["message"].toString(), QString("Nothing is connected to go · clicked."));
    const Ran made = verb({"connect", p("desk"), "go", "clicked", "start"});
    QVERIFY(made.out.contains("go · clicked calls start"));
    QCOMPARE(verb({"connect", p("desk"), "tick", "timeout", "beat", "--pacing", "next turn"}).code, 0);
    QCOMPARE(verb({"lint", p("desk")}).code, 0);
    const auto shown = QJsonDocument::fromJson(verb({"show", p("desk"), "--json"}).out).object();
    QCOMPARE(shown["connections"].toArray().size(), 2);
    QCOMPARE(shown["connections"].toArray()[1].toObject()["pacing"].toString(), QString("next turn"));
    const QString id = shown["connections"].toArray()[1].toObject()["id"].toString();
    QCOMPARE(verb({"disconnect", p("desk"), id}).code, 0);
    QCOMPARE(verb({"shape", p("desk"), "start", "background"}).code, 0);
    QVERIFY(::pipit::readFile(p("desk/desk.cpp"))->contains("startWork(QPromise<QString> &promise"));
    QCOMPARE(verb({"shape", p("desk"), "start", "steps"}).code, 2);
    const Ran catalog = verb({"catalog", "button", "--json"});
    QVERIFY(catalog.out.contains("clicked(bool)") && catalog.out.contains("key press"));
}

void CliTest::aWholeSentenceIsTaken()
{
    QCOMPARE(verb({"new", p("said")}).code, 0);
    const Ran added = verb({"add", p("said"), "button a \"A\""});
    QVERIFY2(added.code == 0 && added.out.contains("Added a."), added.err);
    QCOMPARE(verb({"add", p("said"), "button b_{1..2} \"{}\" minimumWidth=90"}).code, 0);
    QCOMPARE(verb({"add", p("said"), "group box"}).code, 0);
    QCOMPARE(verb({"add", p("said"), "field name in box"}).code, 0);
    const auto shown = QJsonDocument::fromJson(verb({"show", p("said"), "--json"}).out).object();
    QMap<QString, QString> parents;
    for (const auto &o : shown["objects"].toArray())
        parents[o.toObject()["name"].toString()] = o.toObject()["parent"].toString();
    QCOMPARE(parents["name"], QString("box"));
    QVERIFY(parents.contains("b_1") && parents.contains("b_2"));
    QVERIFY(verb({"add", p("said"), ".", "button"}).err.contains("name is missing"));
    QVERIFY(verb({"add", p("said"), "buton c"}).err.contains("Nearest: button"));
    QVERIFY(verb({"add", p("said"), ".", "buton", "c"}).err.contains("Nearest: button"));
    // A name without # in a list.
    const Ran both = verb({"connect", p("said"), "a, b_1", "clicked", "both"});
    QVERIFY2(both.code == 0 && both.out.contains("2 sources: a, b_1"), both.out + both.err);
    QVERIFY(verb({"connect", p("said"), "a, b_11", "clicked", "both"}).err.contains("Nearest: b_1"));
    QCOMPARE(verb({"set", p("said"), "a, b_1", "minimumWidth=70"}).code, 0);
}

void CliTest::removingSaysWhatGoesToo()
{
    QCOMPARE(verb({"new", p("gone")}).code, 0);
    for (const char *line : {"button a \"A\"", "button b \"B\""})
        QCOMPARE(verb({"add", p("gone"), line}).code, 0);
    for (const char *line :
         {"a.clicked calls one", "QPushButton pressed calls two", "* mouse enter calls three"})
        QCOMPARE(verb({"connect", p("gone"), line}).code, 0);
    const Ran removed = verb({"remove", p("gone"), "one"});
    QCOMPARE(removed.code, 0);
    QVERIFY2(removed.out.contains("a · clicked calls one") && removed.out.contains("Code removed: gone.cpp:"),
             removed.out);
    const auto left =
        QJsonDocument::fromJson(verb({"show", p("gone"), "--json"}).out).object()["connections"].toArray();
    QCOMPARE(left.size(), 2);
    const QString id = left[0].toObject()["id"].toString();
    QVERIFY(verb({"disconnect", p("gone"), id}).out.contains("QPushButton · pressed calls two"));
}

void CliTest::undoGoesOnPastWhatDoesNotFit()
{
    QCOMPARE(verb({"new", p("back")}).code, 0);
    QCOMPARE(verb({"add", p("back"), "button a \"A\""}).code, 0);
    QCOMPARE(verb({"connect", p("back"), "a.clicked calls one"}).code, 0);
    const QByteArray with = *::pipit::readFile(p("back/back.cpp"));
    QCOMPARE(verb({"remove", p("back"), "one"}).code, 0);
    QVERIFY(::pipit::writeFile(p("back/back.cpp"), "// all is new\n"));
    const Ran first = verb({"undo", p("back")});
    QCOMPARE(first.code, 0);
    QVERIFY2(first.out.contains("was not restored") && first.out.contains("void Back::one()"), first.out);
    QVERIFY(verb({"undo", p("back")}).out.contains("Undone: connect a · clicked"));
    QVERIFY(verb({"undo", p("back")}).out.contains("Undone: add"));
    QVERIFY(verb({"undo", p("back")}).err.contains("nothing to undo"));
}

// The example of `pipit run --help`, as it is typed.
void CliTest::aPlayIsFoundInItsProject()
{
    copyFolder(smallDesk() + "/before", p("harbour-tickets"));
    const QString here = QDir::currentPath();
    QVERIFY(QDir::setCurrent(dir_.path()));
    const Ran ran = verb({"run", "harbour-tickets", "--play", "plays/tide.play"});
    const Ran named = verb({"play", "harbour-tickets", "tide.play"});
    QVERIFY(QDir::setCurrent(here));
    QVERIFY2(ran.code == 0, ran.out + ran.err);
    QVERIFY2(named.code == 0, named.out + named.err);
}

void CliTest::badInputIsSaidAndChangesNothing_data()
{
    QTest::addColumn<QStringList>("words");
    QTest::addColumn<QByteArray>("says");
    QTest::newRow("no project") << QStringList{"show", "/nowhere"} << QByteArray("no such project");
    QTest::newRow("empty folder") << QStringList{"lint", "EMPTY"} << QByteArray("no project file");
    QTest::newRow("no verb") << QStringList{"frobnicate"} << QByteArray("");
    QTest::newRow("new over") << QStringList{"new", "DESK"} << QByteArray("needs a new or empty folder");
    QTest::newRow("parent") << QStringList{"add", "DESK", "nowhere", "button", "x"} << QByteArray("nowhere");
    QTest::newRow("class") << QStringList{"add", "DESK", ".", "frobnicator", "x"}
                           << QByteArray("frobnicator");
    QTest::newRow("name") << QStringList{"add", "DESK", ".", "button", "if"} << QByteArray("not a C++ name");
    QTest::newRow("property") << QStringList{"add", "DESK", ".", "button", "x", "txt=1"}
                              << QByteArray("text");
    QTest::newRow("signal") << QStringList{"connect", "DESK", "go", "clickd", "h"}
                            << QByteArray("Nearest: clicked");
    QTest::newRow("source") << QStringList{"connect", "DESK", "og", "clicked", "h"}
                            << QByteArray("Nearest: go");
    QTest::newRow("pacing") << QStringList{"connect", "DESK", "go", "clicked", "h", "--pacing", "soon"}
                            << QByteArray("pacing");
    QTest::newRow("id") << QStringList{"disconnect", "DESK", "c99"} << QByteArray("c99");
    QTest::newRow("recording") << QStringList{"stalls", "EMPTY"} << QByteArray("not a recording");
    QTest::newRow("play") << QStringList{"run", "DESK", "--play", "/nowhere.play"}
                          << QByteArray("/nowhere.play");
    QTest::newRow("program") << QStringList{"record", "--out", "OUT", "--", "/no/program"}
                             << QByteArray("does not exist");
    QTest::newRow("not Qt") << QStringList{"record", "--out", "OUT2", "--", "/bin/true"}
                            << QByteArray("without using Qt 6");
}

void CliTest::badInputIsSaidAndChangesNothing()
{
    QFETCH(QStringList, words);
    QFETCH(QByteArray, says);
    if (!QFileInfo::exists(p("bad"))) {
        QDir().mkpath(p("empty"));
        QCOMPARE(verb({"new", p("bad")}).code, 0);
        QCOMPARE(verb({"add", p("bad"), ".", "button", "go"}).code, 0);
    }
    for (QString &w : words)
        w = w == "DESK" ? p("bad") : w == "EMPTY" ? p("empty") : w == "OUT" || w == "OUT2" ? p(w) : w;
    const QByteArray before = *::pipit::readFile(p("bad/bad.pipit"));
    const Ran r = verb(words);
    QCOMPARE(r.code, 2);
    QVERIFY2(r.err.contains(says), r.err);
    QCOMPARE(*::pipit::readFile(p("bad/bad.pipit")), before);
}

void CliTest::runRecordAndAsk()
{
    copyFolder(smallDesk() + "/before", p("before"));
    copyFolder(smallDesk() + "/after", p("after"));
    for (const char *side : {"before", "after"}) {
        const Ran r = verb(
            {"run", p(side), "--play", p("before/plays/tide.play"), "--record", p(QString("rec-") + side)});
        QVERIFY2(r.code == 0, r.out + r.err);
    }
    const auto stalls = QJsonDocument::fromJson(verb({"stalls", p("rec-before"), "--json"}).out).array();
    QVERIFY(stalls.size() >= 1);
    const QJsonObject s = stalls[0].toObject();
    QCOMPARE(s["handler"].toObject()["name"].toString(), QString("tideForecast"));
    QVERIFY(s["hot"].isArray() && s["machine_busy"].isBool() && s["ran_ns"].isDouble() && s["lock"].isNull());
    QVERIFY(s["waiting"].toArray().size() >= 5);
    const Ran none = verb({"stalls", p("rec-after"), "--over", "300"});
    QVERIFY2(none.code == 0, none.out);
    const auto calls = QJsonDocument::fromJson(verb({"calls", p("rec-before"), "--json"}).out).array();
    QHash<QString, int> by;
    for (const auto &c : calls)
        ++by[c.toObject()["connection"].toString() + ' ' +
             c.toObject()["handler"].toObject()["name"].toString()];
    QCOMPARE(by.value("c13 boardPassenger"), 1);
    QCOMPARE(by.value("c15 boardPassenger"), 1);
    QCOMPARE(by.value("c16 tideForecast"), 1);
    const auto turns = QJsonDocument::fromJson(verb({"turns", p("rec-before"), "--json"}).out).array();
    QVERIFY(turns.size() > 5);
    for (const auto &t : turns)
        QVERIFY(t.toObject()["duration_ns"].toInteger() >= 0);
    const Ran compared = verb({"compare", p("rec-before"), p("rec-after"), "--json"});
    QCOMPARE(compared.code, 0);
    const auto figures = QJsonDocument::fromJson(compared.out).object()["figures"].toObject();
    QVERIFY(figures["longest_stall_ns"].toObject()["ratio"].toDouble() < 0.5);
    QCOMPARE(verb({"compare", p("rec-before"), p("rec-before-gone")}).code, 2);
    // Several runs each, and as a page.
    const Ran twice = verb(
        {"run", p("after"), "--play", p("before/plays/tide.play"), "--times", "2", "--record", p("rec-two")});
    QVERIFY2(twice.code == 0 && QFileInfo::exists(p("rec-two/2/pipit/info.json")), twice.out + twice.err);
    const Ran several = verb({"compare", p("rec-before"), p("rec-two"), "--json", "--page", p("proof.html")});
    const QJsonObject all = QJsonDocument::fromJson(several.out).object();
    QCOMPARE(all["runs_after"].toInt(), 2);
    QCOMPARE(all["change"].toString(), QString("better"));
    QCOMPARE(all["figures"].toObject()["longest_turn_ns"].toObject()["all_after"].toArray().size(), 2);
    QVERIFY(::pipit::readFile(p("proof.html"))->contains("It got better"));
    QVERIFY(verb({"run", p("after"), "--times", "2"}).err.contains("--times needs a play"));
    const auto timers = QJsonDocument::fromJson(verb({"timers", p("rec-two/1"), "--json"}).out).array();
    QCOMPARE(timers[0].toObject()["name"].toString(), QString("gateTimer"));
    QCOMPARE(timers[0].toObject()["promised_ns"].toInteger(), 250'000'000);
    const Ran strains = verb({"strains", p("rec-two/1"), "--json"});
    QVERIFY2(strains.code == 0 && strains.out.trimmed() == "[]", strains.out);
    // An existing recording is not overwritten.
    const Ran again = verb({"run", p("before"), "--record", p("rec-before"), "--for", "1"});
    QCOMPARE(again.code, 2);
    QVERIFY(again.err.contains("not an empty folder"));
    // A failed expectation is findings, not an error of Pipit's.
    QVERIFY(::pipit::writeFile(p("wrong.play"), "statusLabel: expect text \"Gone\"\n"));
    const Ran held = verb({"play", p("after"), p("before/plays/tide.play")});
    QVERIFY2(held.code == 0 && held.out.contains("1 play, every expectation was met."), held.out + held.err);
    const Ran wrong = verb({"run", p("after"), "--play", p("wrong.play")});
    QCOMPARE(wrong.code, 1);
    QVERIFY(wrong.out.contains("expected text \"Gone\", found text \"Ready\""));
}

void CliTest::recordsAProgram()
{
    const Ran r = verb({"record", "--out", p("loops"), "--", targetProgram("loops"), "80"});
    QVERIFY2(r.code == 0, r.err);
    QVERIFY2(r.out.contains("Blocker::block blocked the event loop"), r.out);
    QCOMPARE(
        verb({"record", "--pass-exit", "--out", p("dying"), "--", targetProgram("dying"), "normal"}).code, 3);
    const Ran crashed = verb({"record", "--out", p("crashed"), "--", targetProgram("dying"), "segv"});
    QVERIFY(crashed.out.contains("was ended by signal 11"));
    QVERIFY(verb({"calls", p("crashed")}).out.count('\n') >= 20);
}

void CliTest::saysWhy()
{
    QCOMPARE(verb({"record", "--out", p("fault"), "--", targetProgram("faults"), "no_such_signal"}).code, 0);
    const Ran r = verb({"why", p("fault"), "--widget", "boardButton", "--json"});
    QCOMPARE(r.code, 1);
    const QJsonObject why = QJsonDocument::fromJson(r.out).object();
    QCOMPARE(why["verdict"].toString(), QString("connect failed"));
    QCOMPARE(why["station"].toString(), QString("connection"));
    QVERIFY(why["file"].toString().endsWith("no_such_signal.cpp") && why["line"].toInt() > 0);
    const QJsonArray stations = why["stations"].toArray();
    QVERIFY(stations.size() > 6 && stations.first().toObject()["ok"].toBool());
    QVERIFY(!stations.last().toObject()["ok"].toBool(true));
    // Before the click there is nothing to tell but how it is.
    const Ran before = verb({"why", p("fault"), "--widget", "boardButton", "--at", "0.1"});
    QVERIFY2(before.out.contains("no input for boardButton"), before.out);
    QCOMPARE(verb({"why", p("fault"), "--widget", "boardButton", "--at", "noon"}).code, 2);
    const Ran none = verb({"why", p("fault"), "--widget", "bordButton"});
    QCOMPARE(none.code, 2);
    QVERIFY(none.err.contains("The nearest name is boardButton"));
    const Ran wiring = verb({"wiring", p("fault"), "--json"});
    QCOMPARE(wiring.code, 1);
    const QJsonObject row = QJsonDocument::fromJson(wiring.out).array().first().toObject();
    QVERIFY(row["failed"].toBool() && row["source"].toString() == "boardButton");
    QCOMPARE(verb({"pack", p("fault"), p("fault.pack")}).code, 0);
    QCOMPARE(verb({"pack", p("fault"), p("fault.pack")}).code, 2); // nothing is overwritten
    QCOMPARE(verb({"why", p("fault.pack"), "--json"}).out, verb({"why", p("fault"), "--json"}).out);
    const auto what = QJsonDocument::fromJson(verb({"what", p("fault"), "--json"}).out).object();
    QVERIFY(what["names"].toArray().contains("boardButton") &&
            what["spans"].toObject()["dispatches"].toInt() > 10);
    QCOMPARE(verb({"export", p("fault"), "--to", "html", "--out", p("fault.html")}).code, 0);
    QCOMPARE(verb({"export", p("fault"), "--to", "html", "--out", p("none/fault.html")}).code, 2);
}

void CliTest::aRunningProgramIsNotJoined()
{
    QTemporaryDir dir;
    const Ran ran = verb({"record", "--out", dir.filePath("r"), "--", QString::number(getpid())});
    QCOMPARE(ran.code, 2);
    QVERIFY2(ran.err.contains("cannot attach to a running program") &&
                 ran.err.contains("pipit record --out FOLDER -- /"),
             ran.err);
}

void CliTest::helpIsEverywhere()
{
    const Ran all = verb({"--help"});
    QCOMPARE(all.code, 0);
    for (const char *name : {"new", "show", "lint", "add", "set", "connect", "disconnect", "shape", "build",
                             "run", "record", "turns", "calls", "stalls", "waits", "compare", "catalog"}) {
        QVERIFY2(all.out.contains(name), name);
        const Ran one = verb({name, "--help"});
        QVERIFY2(one.code == 0 && one.out.contains("Usage"), name);
    }
    QFile page(PIPIT_SOURCE_DIR "/docs/command-line.md");
    QVERIFY(page.open(QIODevice::ReadOnly));
    const QByteArray text = page.readAll();
    for (const QByteArray &line : all.out.split('\n')) { // the documented list equals the program's
        const QByteArray word = line.trimmed().split(' ').value(0);
        if (line.startsWith("  ") && !word.startsWith('-') && !word.isEmpty() && word.at(0) >= 'a' &&
            line.size() > 4 && line.at(2) != ' ')
            QVERIFY2(text.contains("`" + word), word);
    }
}

PIPIT_TEST(CliTest)
#include "cli_test.moc"
