// What is generated reads as one would write it, warns of nothing, and says of calls what happened.
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/build/compiler.h"
#include "core/plays/player.h"
#include "core/trace/queries.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

#include <QDir>

using namespace pipit;
using namespace pipit::tests;

class GeneratedTest : public QObject
{
    Q_OBJECT
private:
    Fresh fresh_;
    // Every kind of connection.
    static void fill(Workspace &w)
    {
        type(w, {"add: field fare",
                 "add: label status",
                 "add: number seats",
                 "add: button key_{0..2} \"{}\"",
                 "add: list source",
                 "add: list cars items=\"a\\nb\" dragType=application/x-car",
                 "add: tick box ready",
                 "connect: key_0.clicked calls first",
                 "connect: fare.textChanged calls setFare, as number else skip",
                 "connect: fare.textEdited calls setOther, as decimal else 0",
                 "connect: fare.returnPressed (text not empty) calls take",
                 "connect: #key_* clicked calls pressed",
                 "connect: seats.valueChanged calls status.setText, as text",
                 "connect: ready.toggled calls later, after a pause of 40 ms",
                 "connect: fare.editingFinished calls soon, next turn",
                 "connect: key_1.clicked calls often, at most every 50 ms",
                 "connect: source.key press (key Return) afterwards calls chosen",
                 "connect: source.key press (key Delete) in the window calls erase",
                 "connect: source.drop (type application/x-car) calls dropped, accepting move",
                 "connect: #key_0, #key_1 mouse press calls touched"});
    }

private slots:
    void readsAsWrittenByHand_data();
    void readsAsWrittenByHand();
    void warnsOfNothing_data();
    void warnsOfNothing();
    void textsAreLiteralsWithTheEscapesTheyNeed_data();
    void textsAreLiteralsWithTheEscapesTheyNeed();
    void onlyCallsThatHappenedAreCounted();
    void theSenderIsKnown();
    void aTranslatedProgramSpeaksTheLanguage();
    void anInstalledProgramFindsItsFiles();
};

void GeneratedTest::readsAsWrittenByHand_data()
{
    QTest::addColumn<QStringList>("typed");
    QTest::addColumn<QString>("file");
    QTest::addColumn<QString>("code");
    const auto row = [](const char *name, const QStringList &typed, const char *file, const char *code) {
        QTest::newRow(name) << typed << QString(file) << QString::fromUtf8(code);
    };
    const QString go = "add: button go \"Go\"";
    row("plain", {go, "connect: go.clicked calls first"}, "desk_wiring.cpp",
        "    // go · clicked calls first\n    connect(go, &QPushButton::clicked, this, &Desk::first);\n");
    row("condition", {go, "add: tick box ready", "connect: go.clicked (ready checked) calls first"},
        "desk_wiring.cpp",
        "    connect(go, &QPushButton::clicked, this, [this] {\n        if (ready->isChecked())\n"
        "            QMetaObject::invokeMethod(this, [&] { first(); });\n    });\n");
    row("selector", {"add: button key_{0..1}", "connect: #key_* clicked calls first"}, "desk_wiring.cpp",
        "    for (QPushButton *source : {key_0, key_1}) {\n"
        "        connect(source, &QPushButton::clicked, this, [this, source] { first(source); });\n    }\n");
    row("slot", {go, "add: field name", "connect: go.clicked calls name.clear"}, "desk_wiring.cpp",
        "    connect(go, &QPushButton::clicked, name, &QLineEdit::clear);\n");
    row("to the next turn", {go, "connect: go.clicked calls first, next turn"}, "desk_wiring.cpp",
        "    connect(go, &QPushButton::clicked, this, &Desk::first, Qt::QueuedConnection);\n");
    row("switched off", {go, "connect: go.clicked calls first, switched off"}, "desk_wiring.cpp",
        "void DeskWired::wire()\n{\n}\n");
    row("setters", {go, "set: go: minimum width 48", "set: go: checkable true"}, "desk_base.cpp",
        "    go->setMinimumWidth(48);\n    go->setCheckable(true);\n");
    row("enumerations", {"add: label one \"x\" alignment=\"AlignRight|AlignTop\""}, "desk_base.cpp",
        "    one->setAlignment(Qt::AlignRight | Qt::AlignTop);\n");
    row("texts", {go}, "desk_base.cpp", "    go->setText(tr(\"Go\"));\n");
    row("defaults are left out", {"add: row line", "add: button inner in line"}, "desk_base.cpp",
        "    lineLayout->addWidget(inner);\n");
    row("events", {"add: field name", "connect: name.key press (key Escape) calls leave"}, "desk_wiring.cpp",
        "        if (watched == name && key->key() == Qt::Key_Escape) {\n");
    row("Return on either side of the keyboard",
        {"add: field name", "connect: name.key press (key Return) calls go"}, "desk_wiring.cpp",
        "(key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)");
    row("a local that would hide a widget",
        {"add: button source", "add: button key_{0..1}", "connect: #key_* clicked calls first"},
        "desk_wiring.cpp", "    for (QPushButton *source_ : {key_0, key_1}) {\n");
}

void GeneratedTest::readsAsWrittenByHand()
{
    QFETCH(QStringList, typed);
    QFETCH(QString, file);
    QFETCH(QString, code);
    Workspace w = fresh_.project();
    type(w, typed);
    const QString text = made(w, file);
    QVERIFY2(text.contains(code), qPrintable(text));
}

void GeneratedTest::warnsOfNothing_data()
{
    QTest::addColumn<QString>("compiler");
    QTest::newRow("g++") << "g++";
    QTest::newRow("clang++") << "clang++-14";
}

void GeneratedTest::warnsOfNothing()
{
    QFETCH(QString, compiler);
    Workspace w = fresh_.project();
    fill(w);
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    auto g = generate(w.project(), w.place(), w.files());
    QVERIFY2(bool(g), g ? "" : qPrintable(g.problem().text()));
    QVERIFY(writeGenerated(*g, w.place()));
    QStringList flags = {"-std=c++17", "-fPIC",    "-fsyntax-only", "-Wall", "-Wextra",
                         "-Wpedantic", "-Wshadow", "-Werror",       "-I",    folder};
    const QStringList own = gcc().flags();
    for (qsizetype i = 0; i + 1 < own.size(); ++i)
        if (own[i] == "-isystem")
            flags << own[i] << own[i + 1];
    const QStringList all = QDir(folder + "/generated").entryList({"*.cpp"});
    QCOMPARE(all, (QStringList{"desk_base.cpp", "desk_wiring.cpp", "main.cpp"}));
    QByteArray together; // as one, the toolkit's headers are read once
    for (const QString &file : all)
        together += "#include \"generated/" + file.toUtf8() + "\"\n";
    QVERIFY(writeFile(folder + "/together.cpp", together));
    const Ran ran = command(compiler, flags + QStringList{folder + "/together.cpp"}, folder);
    QVERIFY2(ran.code == 0, (ran.err + ran.out).left(2000).constData());
}

void GeneratedTest::textsAreLiteralsWithTheEscapesTheyNeed_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QByteArray>("code");
    const auto row = [](const QString &text, const char *code) {
        QTest::newRow(code) << text << QByteArray(code);
    };
    row("Board", "tr(\"Board\")");
    row("Skerry – Fähre", "tr(\"Skerry – Fähre\")");
    row("a \"b\" \\ c", "tr(\"a \\\"b\\\" \\\\ c\")");
    row("one\ntwo\t3", "tr(\"one\\ntwo\\t3\")");
    row("*/ // %1", "tr(\"*/ // %1\")");
    row(QString("\x01") + "1", "tr(\"\\0011\")");
    row("what?\?!", "tr(\"what?\\?!\")");
    row(QString(QChar(0x202e)) + "x", "tr(\"\\u202ex\")");
    row("", "QString()"); // what is translated of nothing is the translation's own description
    row(QString("a") + QChar(0) + "b", "QString::fromUtf8(\"a\\000b\", 3)");
}

void GeneratedTest::textsAreLiteralsWithTheEscapesTheyNeed()
{
    QFETCH(QString, text);
    QFETCH(QByteArray, code);
    QCOMPARE(translatedCode(text), code);
}

// A condition that says no, a conversion that fails and a job that is running already: no calls.
void GeneratedTest::onlyCallsThatHappenedAreCounted()
{
    Workspace w = fresh_.project();
    fill(w);
    QVERIFY(w.save());
    Builder b(w.place());
    auto built = b.build(w.project(), w.files());
    QVERIFY(built && built->ok);
    auto run = LiveRun::start(specOf(w.place(), w.project(), built->program, {}), {});
    QVERIFY(run);
    std::atomic<bool> cancel{false};
    const auto play =
        parsePlay("fare: press Return\nhandler take: expect 0 calls\n"
                  "fare: type \"x\"\nhandler setFare: expect 0 calls\nhandler setOther: expect 1 call\n"
                  "fare: press Return\nhandler take: expect 1 call\n"
                  "fare: press Backspace\nfare: type \"12\"\nhandler setFare: expect 2 calls\n"
                  "key_2: click\nhandler pressed: expect 1 call\n",
                  "x.play");
    const PlayReport report = runPlay(*play, (*run)->program(), (*run)->trace(), (*run)->handlers(), cancel);
    for (const StepResult &s : report.steps)
        QVERIFY2(s.ok, qPrintable(s.step.source + ": " + s.found));
    bool pressed = false;
    for (const CallRow &c : callsOf((*run)->trace(), (*run)->handlers())) {
        QVERIFY2(!c.handler.name.contains("lambda"), qPrintable(c.handler.name));
        if (c.handler.name == "pressed") {
            QCOMPARE(c.source, QString("key_2")); // which of the three it was
            QCOMPARE(c.signal, QString("clicked"));
            pressed = true;
        }
    }
    QVERIFY(pressed);
}

void GeneratedTest::theSenderIsKnown()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Go\"", "add: field name", "connect: go.clicked calls first",
             "connect: name.textEdited (text not empty) calls second",
             "body: first: qInfo(\"first from %s\", qPrintable(sender()->objectName()));",
             "body: second: qInfo(\"second from %s\", qPrintable(sender()->objectName()));"});
    QVERIFY(w.save());
    const QString play = w.place().folder + "/x.play";
    QVERIFY(writeFile(play, "go: click\nname: type \"a\"\nwait 200ms\n"));
    const Ran ran = verb({"run", w.place().folder, "--play", play});
    const QByteArray all = ran.out + ran.err;
    QVERIFY2(all.contains("first from go"), all.constData());
    QVERIFY2(all.contains("second from name"), all.constData());
}

// The toolkit's own translation tools find the texts, and the program shows what they gave.
void GeneratedTest::aTranslatedProgramSpeaksTheLanguage()
{
    Workspace w = fresh_.project();
    type(w, {"add: button go \"Depart\"", "add: label one \"First line\\nand another\""});
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    Builder b(w.place());
    auto built = b.build(w.project(), w.files());
    QVERIFY(built && built->ok);
    const QString tools = "/usr/lib/qt6/bin/", ts = folder + "/desk_de.ts";
    Ran ran = command(tools + "lupdate", {folder + "/generated", folder, "-source-language", "en",
                                          "-target-language", "de", "-no-obsolete", "-ts", ts});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    auto text = readFile(ts);
    QVERIFY(text && text->contains("<name>Desk</name>"));
    for (const auto &[from, to] :
         {std::pair{"Depart", "Ablegen"}, {"First line\nand another", "Erste Zeile"}}) {
        const QByteArray source = "<source>" + QByteArray(from) +
                                  "</source>\n        <translation type=\"unfinished\"></translation>";
        QVERIFY2(text->contains(source), text->constData());
        text->replace(source, "<source>" + QByteArray(from) + "</source>\n        <translation>" + to +
                                  "</translation>");
    }
    QVERIFY(writeFile(ts, *text));
    ran = command(tools + "lrelease", {ts, "-qm", QFileInfo(built->program).path() + "/desk_de.qm"});
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    const QString play = folder + "/x.play";
    QVERIFY(writeFile(play, "go: expect text \"Ablegen\"\none: expect text \"Erste Zeile\"\n"));
    qputenv("LANGUAGE", "de");
    qputenv("LC_ALL", "de_DE.UTF-8");
    ran = verb({"run", folder, "--play", play});
    qunsetenv("LANGUAGE");
    qunsetenv("LC_ALL");
    QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
}

void GeneratedTest::anInstalledProgramFindsItsFiles()
{
    Workspace w = fresh_.project();
    type(w, {"add: process sensor program=file:devices/sensor autostart=true",
             "connect: sensor.readyReadStandardOutput calls spoke",
             "body: spoke: qInfo(\"heard %s\", sensor->readAllStandardOutput().trimmed().constData());"});
    QVERIFY(w.save());
    const QString folder = w.place().folder;
    QVERIFY(QDir(folder).mkpath("devices"));
    QVERIFY(writeFile(folder + "/devices/sensor", "#!/bin/sh\necho open\nsleep 5\n"));
    QVERIFY(QFile::setPermissions(folder + "/devices/sensor",
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner));
    auto g = generate(w.project(), w.place(), w.files());
    QVERIFY(g && writeGenerated(*g, w.place()));
    const QString build = fresh_.path() + "/elsewhere", prefix = fresh_.path() + "/given";
    for (const QStringList &arguments :
         {QStringList{"-S", folder, "-B", build, "-DCMAKE_BUILD_TYPE=Debug", "-DCMAKE_UNITY_BUILD=ON"},
          {"--build", build},
          {"--install", build, "--prefix", prefix}}) {
        const Ran ran = command("cmake", arguments);
        QVERIFY2(ran.code == 0, (ran.out + ran.err).constData());
    }
    QVERIFY(QDir(folder).rename(folder, folder + "-gone")); // what it was made from is elsewhere now
    QVERIFY(QDir(build).removeRecursively());
    QVERIFY(QDir().rename(prefix, prefix + " moved"));
    const auto heard = [&] {
        const Ran ran = command("timeout", {"2", prefix + " moved/desk"}, fresh_.path());
        return QString::fromUtf8(ran.out + ran.err);
    };
    QVERIFY2(heard().contains("heard open"), qPrintable(heard()));
    // One that is not there is told in the program's own log.
    QVERIFY(QFile::remove(prefix + " moved/devices/sensor"));
    QVERIFY2(heard().contains("sensor: ") && heard().contains("does not start"), qPrintable(heard()));
}

PIPIT_TEST(GeneratedTest)
#include "generated_test.moc"
