#include "core/base/files.h"
#include "core/findings/findings.h"
#include "core/sentences/sentence.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class ProjectTest : public QObject
{
    Q_OBJECT
private slots:
    void badFilesNameLineAndRemedy_data();
    void badFilesNameLineAndRemedy();
    void truncatedFilesNeverCrash();
    void loadingAndSavingIsIdentity();
    void unknownKeysAndKeyOrderAreKept();
    void aFileChangedByOthersIsNotOverwritten();
    void aDeletedFileIsNoticedAndWrittenAgain();
    void addingSettingRemoving();
    void namesAreChecked();
    void undoAndRedoBringEverythingBack();
    void findings();
    void sentencesReadAndWriteTheSame();
    void addLines();
    void manyItemsStayQuick();
};

static const char minimal[] = R"({
  "pipit": 1, "name": "x",
  "windows": [{"class": "Desk", "file": "desk", "root": {"id": "w1", "class": "QWidget", "name": "desk"}}],
  "connections": [], "handlers": []
})";

void ProjectTest::badFilesNameLineAndRemedy_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("says");
    QTest::addColumn<int>("line");
    const QByteArray ok = minimal;
    const auto with = [&](const char *from, const char *to) { return QByteArray(ok).replace(from, to); };
    QTest::newRow("empty") << QByteArray() << "JSON" << 1;
    QTest::newRow("broken") << QByteArray("{\n\"pipit\": 1,\n!") << "JSON" << 3;
    QTest::newRow("not an object") << QByteArray("[]") << "must be an object" << 1;
    QTest::newRow("no version") << with("\"pipit\": 1,", "") << "no format version" << 1;
    QTest::newRow("newer") << with("\"pipit\": 1", "\"pipit\": 9") << "format version 9" << 2;
    QTest::newRow("wrong type") << with("\"windows\": [", "\"windows\": 5, \"x\": [") << "must be a list"
                                << 3;
    QTest::newRow("no window") << with("\"connections\": []", "\"windows\": []") << "is there twice" << 4;
    QTest::newRow("bad name") << with("\"name\": \"desk\"", "\"name\": \"2 desks\"") << "not a C++ name" << 3;
    QTest::newRow("keyword") << with("\"name\": \"desk\"", "\"name\": \"class\"") << "not a C++ name" << 3;
    QTest::newRow("duplicate name")
        << with("\"connections\": []",
                "\"connections\": [],\n\"handlers\":[{\"id\":\"h1\",\"name\":\"desk\",\"kind\":\"signal\"}], "
                "\"more\": []")
               .replace(", \"handlers\": []", "")
        << "used twice" << 5;
    QTest::newRow("path in file") << with("\"file\": \"desk\"", "\"file\": \"../../etc/x\"") << "not allowed"
                                  << 3;
    QTest::newRow("bad id") << with("\"id\": \"w1\"", "\"id\": \"W-1\"") << "malformed" << 3;
    QTest::newRow("type that ends the declaration")
        << with("\"handlers\": []",
                "\"handlers\": [{\"id\":\"h1\",\"name\":\"go\",\"kind\":\"signal\",\"arguments\":[\"int); "
                "system(\"]}]")
        << "not a type" << 4;
    QTest::newRow("shape")
        << with("\"handlers\": []",
                "\"handlers\": [{\"id\":\"h1\",\"name\":\"go\",\"kind\":\"signal\",\"shape\":\"round\"}]")
        << "shape" << 4;
    QTest::newRow("pacing of an event")
        << with("\"connections\": []", "\"connections\": "
                                       "[{\"id\":\"c1\",\"from\":{\"object\":\"desk\"},\"on\":{\"event\":"
                                       "\"close\"},\"to\":{\"handler\":\"a\"},\"pacing\":\"next turn\"}]")
        << "only signals" << 4;
    QTest::newRow("connection without target")
        << with("\"connections\": []",
                "\"connections\": "
                "[{\"id\":\"c1\",\"from\":{\"object\":\"desk\"},\"on\":{\"event\":\"close\"}}]")
        << "has no \"to\"" << 4;
    QTest::newRow("deep") << QByteArray(5000, '[') << "nested too deeply" << 1;
    QTest::newRow("bad UTF-8") << with("\"x\"", "\"\xff\"") << "JSON" << 2;
}

void ProjectTest::badFilesNameLineAndRemedy()
{
    QFETCH(QByteArray, bytes);
    QFETCH(QString, says);
    QFETCH(int, line);
    auto p = parseProject(bytes, "/some/desk.pipit");
    QVERIFY(!p);
    QVERIFY2(p.problem().text().contains(says), qPrintable(p.problem().text()));
    QCOMPARE(p.problem().where, QString("/some/desk.pipit"));
    QVERIFY(!p.problem().remedy.isEmpty());
    QCOMPARE(p.problem().line, line);
}

void ProjectTest::truncatedFilesNeverCrash()
{
    auto whole = readFile(demoFolder() + "/ferry-desk/before/ferry-desk.pipit");
    QVERIFY(whole);
    for (qsizetype n = 0; n + 2 < whole->size(); ++n) {
        auto p = parseProject(whole->left(n), "x");
        QVERIFY(!p);
    }
    for (qsizetype n = 0; n < whole->size();
         n += 7) { // a byte gone wrong: a problem or a project, never a crash
        QByteArray bent = *whole;
        bent[n] = char(bent[n] ^ 0x15);
        (void)bool(parseProject(bent, "x"));
    }
}

void ProjectTest::loadingAndSavingIsIdentity()
{
    for (const char *side : {"before", "after"}) {
        auto bytes = readFile(demoFolder() + "/ferry-desk/" + side + "/ferry-desk.pipit");
        QVERIFY(bytes);
        auto p = parseProject(*bytes, "x");
        QVERIFY2(bool(p), p ? "" : qPrintable(p.problem().text()));
        QCOMPARE(projectBytes(*p), *bytes);
    }
}

void ProjectTest::unknownKeysAndKeyOrderAreKept()
{
    const QByteArray bytes = QByteArray(minimal)
                                 .replace("\"pipit\": 1, \"name\": \"x\"",
                                          "\"name\": \"x\", \"theirs\": [1, {\"a\": null}], \"pipit\": 1")
                                 .replace("\"id\": \"w1\"", "\"colour\": \"blue\", \"id\": \"w1\"");
    auto p = parseProject(bytes, "x");
    QVERIFY2(bool(p), p ? "" : qPrintable(p.problem().text()));
    const QByteArray out = projectBytes(*p);
    QVERIFY(out.contains("\"theirs\": [1, {\"a\": null}]"));
    QVERIFY(out.contains("{\"colour\": \"blue\", \"id\": \"w1\""));
    QVERIFY(out.indexOf("\"name\"") < out.indexOf("\"theirs\"") &&
            out.indexOf("\"theirs\"") < out.indexOf("\"pipit\""));
    auto again = parseProject(out, "x");
    QVERIFY(again);
    QCOMPARE(projectBytes(*again), out);
}

void ProjectTest::aFileChangedByOthersIsNotOverwritten()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    QVERIFY(w->addWidget(".", "label", "first", {}) && w->save());
    replaceIn(w->place().file, "\"windowTitle\": \"Desk\"", "\"windowTitle\": \"Theirs\"");
    QVERIFY(w->addWidget(".", "button", "go", {}));
    auto saved = w->save();
    QVERIFY(!saved);
    QVERIFY(saved.problem().text().contains("changed on disk"));
    QVERIFY(readFile(w->place().file)->contains("Theirs"));
    QCOMPARE(w->refresh().changed, QStringList{"desk.pipit"});
    // Both changes are taken, and saved; undo takes theirs out.
    auto merged = w->reloadProject();
    QVERIFY2(merged && *merged, merged ? "replaced" : qPrintable(merged.problem().text()));
    QVERIFY(w->project().widget("go"));
    QCOMPARE(w->project().windows.first().root.textOf("windowTitle"), QString("Theirs"));
    QVERIFY(w->save());
    // The same place: what is on disk is shown, what was here is one undo away and can be kept.
    QVERIFY(w->setProperty("desk", "windowTitle", "Mine"));
    replaceIn(w->place().file, "\"windowTitle\": \"Theirs\"", "\"windowTitle\": \"Others\"");
    merged = w->reloadProject();
    QVERIFY(merged && !*merged);
    QCOMPARE(w->project().windows.first().root.textOf("windowTitle"), QString("Others"));
    QVERIFY(w->undo() && w->keepOwnProject() && w->save());
    QVERIFY(readFile(w->place().file)->contains("Mine"));
}

// A deleted project file once read as unchanged, so that closing lost everything.
void ProjectTest::aDeletedFileIsNoticedAndWrittenAgain()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w && w->save() && !w->dirty());
    const QByteArray before = *readFile(w->place().file);
    QVERIFY(QFile::remove(w->place().file));
    QVERIFY(w->projectChangedOnDisk());
    QCOMPARE(w->refresh().changed, QStringList{"desk.pipit"});
    QVERIFY(w->refresh().changed.isEmpty()); // told once
    QVERIFY(w->dirty());
    QVERIFY(w->save() && !w->dirty());
    QCOMPARE(*readFile(w->place().file), before);
}

void ProjectTest::addingSettingRemoving()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    QVERIFY(w->addWidget(".", "area", "row", {}));
    QVERIFY(w->addWidget("row", "button", "go", {{"text", Json::string("Go")}}));
    QVERIFY(w->addWidget(".", "timer", "tick", {}));
    QCOMPARE(w->project().classOf("go"), QString("QPushButton"));
    QCOMPARE(w->project().classOf("tick"), QString("QTimer"));
    QVERIFY(w->setProperty("tick", "interval", "250"));
    QVERIFY(!w->setProperty("tick", "interval", "soon"));
    QVERIFY(w->setProperty("go", "enabled", "false"));
    QVERIFY(!w->setProperty("go", "enabled", "perhaps"));
    const auto unknown = w->setProperty("go", "txet", "x");
    QVERIFY(!unknown && unknown.problem().remedy.contains("text"));
    const auto nobody = w->setProperty("og", "text", "x");
    QVERIFY(!nobody && nobody.problem().remedy.contains("go"));
    QVERIFY(w->connect({"go", "clicked", {}, "start", {}}));
    QVERIFY(w->remove("row"));
    QVERIFY(!w->project().widget("go"));
    QVERIFY(w->project().connections.isEmpty());
    QVERIFY(!w->addWidget("tick", "button", "inTimer", {}));
    QVERIFY(!w->remove(w->project().windows.first().root.name));
}

void ProjectTest::namesAreChecked()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    for (const QString &bad :
         {QString("2go"), QString("go on"), QString("class"), QString("a__b"), QString("é"), QString(),
          QString(10'000, 'x'), QString("go;system(1)"), QString("Desk")})
        QVERIFY2(!w->addWidget(".", "button", bad, {}), qPrintable(bad.left(20)));
    QVERIFY(w->addWidget(".", "button", "go", {}));
    QVERIFY(!w->addWidget(".", "label", "go", {}));
    QVERIFY(!w->connect({"go", "clicked", {}, "go", {}}));
    const auto misspelt = w->connect({"go", "clickd", {}, "start", {}});
    QVERIFY(!misspelt && misspelt.problem().remedy.contains("clicked"));
    QVERIFY(!Workspace::create(dir.path() + "/desk")); // the folder is not empty
    QVERIFY(!Workspace::create(dir.path() + "/42"));
}

void ProjectTest::undoAndRedoBringEverythingBack()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    const QByteArray start = projectBytes(w->project());
    const QString code = *w->files().text("desk.cpp");
    QVERIFY(w->addWidget(".", "button", "go", {}));
    auto made = w->connect({"go", "clicked", {}, "start", {}});
    QVERIFY(made && made->stubAdded);
    const QString withStub = *w->files().text("desk.cpp");
    QVERIFY(withStub.startsWith(code)); // nothing else in the file has changed
    QVERIFY(withStub.contains("void Desk::start()"));
    QVERIFY(w->undo() && w->undo());
    QVERIFY(!w->canUndo());
    QCOMPARE(projectBytes(w->project()), start);
    QCOMPARE(*w->files().text("desk.cpp"), code);
    QVERIFY(w->redo() && w->redo());
    QCOMPARE(*w->files().text("desk.cpp"), withStub);

    // A stub that was edited since stays, and Pipit says so; redo does not double it.
    const QString edited = QString(withStub).replace("start()\n{\n", "start()\n{\n    close();\n");
    w->files().setText("desk.cpp", edited);
    const auto undone = w->undo();
    QVERIFY(undone && undone->left.size() == 1 && undone->left.first().sentence().contains("edited in the meantime"));
    QCOMPARE(*w->files().text("desk.cpp"), edited);
    QVERIFY(!w->project().handler("start"));
    (void)bool(w->redo());
    QVERIFY(w->project().handler("start"));
}

void ProjectTest::findings()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    QVERIFY(findingsOf(w->project(), w->files()).isEmpty());
    QVERIFY(w->addWidget(".", "button", "go", {}));
    auto ids = [&] {
        QStringList list;
        for (const Finding &f : findingsOf(w->project(), w->files()))
            list << f.id + ' ' + f.where;
        return list;
    };
    QCOMPARE(ids(), QStringList{"nothing-connected go"});
    auto made = w->connect({"go", "clicked", {}, "start", {}});
    QVERIFY(made);
    QVERIFY(ids().isEmpty());
    QString text = *w->files().text("desk.cpp");
    w->files().setText("desk.cpp", QString(text).replace("Desk::start()", "Desk::satrt()"));
    const auto found = findingsOf(w->project(), w->files());
    QCOMPARE(found.size(), 1);
    QCOMPARE(found[0].id, QString("missing-handler"));
    QVERIFY2(found[0].fix.contains("satrt"), qPrintable(found[0].fix));
    w->files().setText("desk.cpp", text);
    QVERIFY(w->disconnect(made->connection));
    QCOMPARE(ids(), (QStringList{"dead-handler start", "nothing-connected go"}));

    Project p = w->project();
    Connection c;
    c.id = "c90";
    c.from = "gone";
    c.signal = "clicked";
    c.to = "start";
    p.connections << c;
    QVERIFY(findingsOf(p, w->files()).first().message.contains("no widget or timer 'gone'"));
    p.connections.last().from = "go";
    p.connections.last().signal = "clicket";
    QVERIFY(findingsOf(p, w->files()).first().fix.contains("clicked"));
}

void ProjectTest::sentencesReadAndWriteTheSame()
{
    for (const char *text :
         {"boardButton · clicked calls boardPassenger",
          "ticketField · key press (key Escape) calls ticketKey", "spin · valueChanged(int) calls show",
          "list.viewport · mouse press calls pressed", "a · clicked calls b · close",
          "field · textChanged calls search, after a pause of 300 ms"}) {
        auto r = parseSentence(text);
        QVERIFY2(bool(r), text);
        Connection c;
        c.from = r->source.section('.', 0, 0);
        c.part = r->source.section('.', 1);
        c.signal = r->what;
        c.when = r->when;
        c.pacing = r->pacing;
        c.to = r->target.section('.', 0, 0);
        c.toMember = r->target.section('.', 1);
        c.targetKind = r->target.contains('.') ? Connection::Target::Slot : Connection::Target::Handler;
        QCOMPARE(sentenceFor(c), QString::fromUtf8(text));
    }
    QCOMPARE(parseSentence("go.clicked calls start")->what, QString("clicked"));
    QVERIFY(!parseSentence("go clicked"));
    QVERIFY(!parseSentence("go · clicked calls start, whenever"));
    QVERIFY(!parseSentence(QString(20'000, 'x')));
}

void ProjectTest::addLines()
{
    auto r = parseAddLine("push button boardButton \"Board now\"");
    QVERIFY(r);
    QCOMPARE(r->name, QString("boardButton"));
    QCOMPARE(r->text, QString("Board now"));
    QVERIFY(!parseAddLine("boardButton"));
    QVERIFY(!parseAddLine("frobnicator x"));
}

void ProjectTest::manyItemsStayQuick()
{
    QTemporaryDir dir;
    auto w = Workspace::create(dir.path() + "/desk");
    QVERIFY(w);
    Edit e{"fill", {}, w->project(), {}};
    fillWithButtons(e.after, 5000, {});
    QVERIFY(w->apply(e));
    // An edit copies little: its cost must not be that of writing the whole project out.
    QElapsedTimer t;
    t.start();
    for (int i = 0; i < 20; ++i)
        (void)projectBytes(w->project());
    const qint64 writing = t.nsecsElapsed();
    t.restart();
    for (int i = 0; i < 20; ++i)
        QVERIFY(w->setProperty("key4000", "text", QString::number(i)));
    QVERIFY2(t.nsecsElapsed() < writing * 2, "an edit costs more than saving everything twice");
}

PIPIT_TEST(ProjectTest)
#include "project_test.moc"
