// What is generated compiles, shows what the project says, and wires nothing into a half-made
// window.
#include "core/base/files.h"
#include "core/build/builder.h"
#include "core/catalog/catalog.h"
#include "core/findings/findings.h"
#include "core/moves/move.h"
#include "core/pace/stalls.h"
#include "core/plays/player.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"

#include <QRandomGenerator>

using namespace pipit;
using namespace pipit::tests;

class BuildTest : public QObject
{
    Q_OBJECT
private:
    static BuildReport built(Workspace &w)
    {
        Builder b(w.place());
        auto r = b.build(w.project(), w.files());
        if (!r)
            qFatal("%s", qPrintable(r.problem().text()));
        return *r;
    }
    static QString errors(const BuildReport &r)
    {
        QStringList all;
        for (const BuildMessage &m : r.messages)
            all << QStringLiteral("%1:%2 %3").arg(m.file).arg(m.line).arg(m.text);
        return all.join('\n');
    }
    static std::unique_ptr<LiveRun> started(Workspace &w, const QString &program)
    {
        RunSpec spec;
        spec.program.program = program;
        spec.program.workingFolder = w.place().folder;
        spec.map = w.place().folder + "/generated/map.json";
        auto run = LiveRun::start(spec, {});
        if (!run)
            qFatal("%s", qPrintable(run.problem().text()));
        return std::move(*run);
    }

private slots:
    void anyTextIsShownAsItStands();
    void everyClassCompiles();
    void aFailedBuildKeepsTheLastProgram();
    void metaObjectsAndMoreFilesAreBuilt();
    void plainCMakeBuildsIt();
    void noSignalReachesAHalfMadeWindow();
    void pacingsDoWhatTheySay();
    void backgroundJobsEndWithTheWindow();
    void movesThereAndBack();
    void wiringThatCannotBeBuiltIsExplained();
};

void BuildTest::anyTextIsShownAsItStands()
{
    QStringList texts = {"plain",
                         "\"quoted\"",
                         "back\\slash \\n \\",
                         "two\nlines\r\ttab",
                         "*/ // /* ?"
                         "?/ ?"
                         "?< %1 %%",
                         "Skerry – Fähre – 渡し船 – ⛴ – \U0001F6A2",
                         "R\"(raw)\" )\" ",
                         "\x01\x7f",
                         "${VAR} $(x) `y`",
                         "'",
                         "ends with \\",
                         "#include <x>",
                         "\u2028\u202e\ufeff",
                         "&&Board &It",
                         "0\x31"};
    QRandomGenerator random(20);
    for (int i = 0; i < 60; ++i) {
        QString s;
        for (int n = random.bounded(1, 40); n > 0; --n)
            s += QString::fromUcs4(
                std::array<char32_t, 1>{
                    char32_t(random.bounded(4) ? random.bounded(1, 128) : random.bounded(0xa0, 0xd7ff))}
                    .data(),
                1);
        texts << s;
    }
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [&](Workspace &ws) {
        Edit e{"texts", {}, ws.project(), {}};
        for (int i = 0; i < texts.size(); ++i) {
            WidgetNode n;
            n.id = e.after.newId("w");
            n.className = "QLineEdit"; // holds line breaks as other characters, so a label beside it
            if (texts[i].contains('\n') || texts[i].contains('\r'))
                n.className = "QLabel";
            n.name = QStringLiteral("t%1").arg(i);
            n.setProperty("toolTip", Json::string(texts[i]));
            n.setProperty("accessibleName", Json::string(texts[i]));
            e.after.windows.first().root.children.append(n);
        }
        QVERIFY(ws.apply(e));
    });
    // The program itself says what its widgets hold.
    auto again = Workspace::open(w.place().file);
    QVERIFY2(bool(again), again ? "" : qPrintable(again.problem().text()));
    replaceIn(
        w.place().folder + "/desk.cpp", "{\n}",
        "{\n    for (auto *c : findChildren<QWidget *>())\n        if (!c->accessibleName().isEmpty())\n"
        "            qInfo(\"%s %s\", qPrintable(c->objectName()), (c->accessibleName() == c->toolTip() ? "
        "c->accessibleName().toUtf8().toHex() : QByteArray(\"different\")).constData());\n}");
    const BuildReport r = built(*again);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    RunSpec spec;
    spec.program.program = r.program;
    QByteArray output;
    std::mutex guard;
    Program::Callbacks c;
    c.output = [&](const QByteArray &b, bool) {
        std::lock_guard lock(guard);
        output += b;
    };
    auto run = LiveRun::start(spec, c);
    QVERIFY(run);
    QVERIFY((*run)->program().request("window", {}, std::chrono::seconds(20)));
    (*run)->program().askToQuit();
    QVERIFY((*run)->program().waitForEnd(std::chrono::seconds(10)));
    QHash<QString, QByteArray> shown;
    for (const QByteArray &line : output.split('\n'))
        shown.insert(QString::fromUtf8(line.split(' ').value(0)),
                     QByteArray::fromHex(line.split(' ').value(1)));
    for (int i = 0; i < texts.size(); ++i)
        QCOMPARE(QString::fromUtf8(shown.value(QStringLiteral("t%1").arg(i))), texts[i]);
}

void BuildTest::everyClassCompiles()
{
    if (!inProof())
        QSKIP("Compiles for long: ./dev proof tests");
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [&](Workspace &ws) {
        int n = 0;
        for (const QString &cls : Catalog::get().classes()) {
            const QString name = QStringLiteral("x%1").arg(n++);
            QVERIFY(ws.addWidget(".", cls, name, {}));
            // Every signal of every class, to a handler of its own with all the signal gives.
            for (const SignalEntry &s : Catalog::get().signalsOf(cls)) {
                if (s.owner == "QObject")
                    continue;
                auto made =
                    ws.connect({name, s.signature, {}, QStringLiteral("h%1").arg(ws.project().nextId), {}});
                QVERIFY2(bool(made), made ? "" : qPrintable(made.problem().text()));
            }
            for (const EventEntry &e : Catalog::get().eventsOf(cls))
                if (n % 4 == 0)
                    QVERIFY(
                        ws.connect({name, e.words, {}, QStringLiteral("e%1").arg(ws.project().nextId), {}}));
        }
    });
    for (const Finding &f : findingsOf(w.project(), w.files())) // that stubs handle nothing is no error
        QVERIFY2(f.severity != Finding::Severity::Error, qPrintable(f.message));
    const BuildReport r = built(w);
    QVERIFY2(r.ok, qPrintable(errors(r).left(3000)));
}

void BuildTest::aFailedBuildKeepsTheLastProgram()
{
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "button", "go", {}));
        QVERIFY(ws.connect({"go", "clicked", {}, "start", {}}));
    });
    const BuildReport first = built(w);
    QVERIFY2(first.ok, qPrintable(errors(first)));
    const QByteArray program = *readFile(first.program);
    replaceIn(w.place().folder + "/desk.cpp", "Desk::start()\n{\n",
              "Desk::start()\n{\n    int x = \"no\";\n");
    auto opened = Workspace::open(w.place().file);
    const BuildReport second = built(*opened);
    QVERIFY(!second.ok);
    QCOMPARE(second.messages.first().file, QString("desk.cpp"));
    QCOMPARE(second.messages.first().line, 9);
    QCOMPARE(second.program, first.program);
    QCOMPARE(*readFile(second.program), program);
    // A misspelt definition is an error at the user's line.
    replaceIn(w.place().folder + "/desk.cpp", "    int x = \"no\";\n", "");
    replaceIn(w.place().folder + "/desk.cpp", "Desk::start()", "Desk::strat()");
    opened = Workspace::open(w.place().file);
    const BuildReport third = built(*opened);
    QVERIFY(!third.ok);
    QCOMPARE(third.messages.first().file, QString("desk.cpp"));
    QCOMPARE(third.messages.first().line, 7);
}

void BuildTest::metaObjectsAndMoreFilesAreBuilt()
{
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "button", "go", {}));
        QVERIFY(ws.connect({"go", "clicked", {}, "start", {}}));
    });
    const QString folder = w.place().folder;
    replaceIn(folder + "/desk.h", "public:\n", "    Q_OBJECT\npublic:\n    Q_SLOT void own() {}\n");
    QVERIFY(writeFile(folder + "/more.cpp", "int more() { return 42; }\n"));
    replaceIn(folder + "/desk.cpp", "Desk::start()\n{\n",
              "Desk::start()\n{\n    int more();\n    setWindowTitle(QString(metaObject()->className()) + "
              "QString::number(more()));\n");
    auto opened = Workspace::open(w.place().file);
    const BuildReport r = built(*opened);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    QVERIFY(readFile(folder + "/generated/sources.cmake")->contains("desk.cpp more.cpp"));
    auto run = started(*opened, r.program);
    QVERIFY(run->program().request("window", {}, std::chrono::seconds(20)));
    QVERIFY(run->program().request("click", {{"target", "go"}}, std::chrono::seconds(5)));
    auto title = run->program().request("state", {{"target", "desk"}, {"kind", "text"}, {"text", "Desk42"}},
                                        std::chrono::seconds(5));
    QVERIFY2(bool(title), title ? "" : qPrintable(title.problem().text()));
    QVERIFY2((*title)["met"].toBool(), qPrintable((*title)["found"].toString()));
}

void BuildTest::plainCMakeBuildsIt()
{
    QTemporaryDir dir;
    if (!inProof())
        QSKIP("Compiles for long: ./dev proof tests; a smaller one is built and installed by GeneratedTest");
    for (const QString side : {"after", "before"}) {
        const QString folder = dir.path() + '/' + side;
        copyFolder(demoFolder() + "/ferry-desk/" + side, folder);
        const Ran configured = command("cmake", {"-S", folder, "-B", folder + "/build"});
        QVERIFY2(configured.code == 0, configured.err);
        const Ran made = command("cmake", {"--build", folder + "/build", "-j2"});
        QVERIFY2(made.code == 0, made.out + made.err);
        QVERIFY(QFileInfo(folder + "/build/ferry_desk").isExecutable());
    }
}

void BuildTest::noSignalReachesAHalfMadeWindow()
{
#ifdef __SANITIZE_ADDRESS__
    QSKIP("A drain that is so much slower loses most of what a loop tells that never idles");
#endif
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "button", "go", {}));
        QVERIFY(ws.addWidget(".", "field", "field", {}));
        QVERIFY(ws.addTimer("tick", 0));
        QVERIFY(ws.connect({"go", "clicked", {}, "onSignal", {}}));
        QVERIFY(ws.connect({"field", "focus in", {}, "onEvent", {}}));
        QVERIFY(ws.connect({"tick", "timeout", {}, "onTimer", {}}));
        QVERIFY(ws.connect({"field", "textChanged", {}, "onText", {}}));
        auto move = planMove(MoveQuestion::of(ws, "onTimer", Shape::Background), false);
        QVERIFY(move);
        QVERIFY(ws.apply(move->edit));
    });
    // The user's class fires every kind of source while it is built and while it dies; each handler
    // says when it was called outside of that.
    const QString cpp = w.place().folder + "/desk.cpp", h = w.place().folder + "/desk.h";
    replaceIn(h, "(QWidget *parent = nullptr);\n",
              "(QWidget *parent = nullptr);\n    ~Desk() override;\n    bool ready_ = false;\n");
    const QByteArray fire =
        "    go->click();\n    field->setText(field->text() + \"x\");\n"
        "    QFocusEvent in(QEvent::FocusIn);\n    QCoreApplication::sendEvent(field, &in);\n"
        "    tick->start();\n    QElapsedTimer t;\n    t.start();\n"
        "    while (t.elapsed() < 60)\n        QCoreApplication::processEvents(QEventLoop::AllEvents, 10);\n";
    replaceIn(cpp, "DeskBase(parent)\n{\n}",
              "DeskBase(parent)\n{\n" + fire +
                  "    ready_ = true;\n}\n\nDesk::~Desk()\n{\n    ready_ = false;\n" + fire + "}");
    replaceIn(cpp, "#include \"desk.h\"\n",
              "#include \"desk.h\"\n\n#include <QtCore/QCoreApplication>\n#include <QtCore/QElapsedTimer>\n"
              "#include <QtGui/QFocusEvent>\n#define CALLED qInfo(ready_ ? \"called ready\" : \"called half "
              "made\");\n");
    for (const char *body : {"Desk::onSignal()\n{\n", "Desk::onTimerTake()\n{\n"})
        replaceIn(cpp, body, QByteArray(body) + "    CALLED\n");
    replaceIn(cpp, "    Q_UNUSED(outcome)\n", "    Q_UNUSED(outcome)\n    CALLED\n");
    replaceIn(cpp, "    Q_UNUSED(event)\n", "    Q_UNUSED(event)\n    CALLED\n");
    replaceIn(cpp, "    Q_UNUSED(text)\n", "    Q_UNUSED(text)\n    CALLED\n");
    auto opened = Workspace::open(w.place().file);
    const BuildReport r = built(*opened);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    // A loop that never idles may write faster than a busy machine reads, which is counted: only a run
    // without loss can say that something never came.
    QSet<QString> called;
    int halfMade = 0, ready = 0;
    std::uint64_t lost = 1;
    for (int attempt = 0; attempt < 5 && lost; ++attempt) {
        called.clear();
        auto run = started(*opened, r.program);
        QVERIFY(run->program().request("window", {}, std::chrono::seconds(20)));
        QVERIFY(run->program().request("click", {{"target", "go"}}, std::chrono::seconds(5)));
        QVERIFY(
            run->program().request("type", {{"target", "field"}, {"text", "a"}}, std::chrono::seconds(5)));
        // The timer's interval is 0 and its handler always busy: the loop never idles, and still answers.
        QVERIFY(run->program().request("idle", {}, std::chrono::seconds(10)));
        const auto shown = [&] {
            for (const CallRow &c : callsOf(run->trace(), run->handlers()))
                if (c.handler.name == "onTimerShow")
                    return true;
            return false;
        };
        (void)QTest::qWaitFor(shown, 5'000); // its thread may be slow to start
        run->program().askToQuit();
        QVERIFY(run->program().waitForEnd(std::chrono::seconds(20)));
        const Ending end = run->program().ending();
        QVERIFY2(end.exitCode == 0, qPrintable(end.text("desk") + end.refused + end.notes.join("; ")));
        const TraceModel &t = run->trace();
        lost = t.lost();
        for (const Span &s : spansOf(t))
            if (s.kind == SpanKind::Message) {
                halfMade += t.message(s.what) == "called half made";
                ready += t.message(s.what) == "called ready";
            }
        for (const CallRow &c : callsOf(t, run->handlers()))
            called.insert(c.handler.name);
    }
    QCOMPARE(lost, std::uint64_t(0));
    QCOMPARE(halfMade, 0);
    QVERIFY(ready > 3);
    for (const char *name : {"onSignal", "onEvent", "onText", "onTimerTake", "onTimerWork", "onTimerShow"})
        QVERIFY2(called.contains(name), // each kind does arrive once the window is made
                 qPrintable(name + (" is not among " + called.values().join(", "))));
}

void BuildTest::pacingsDoWhatTheySay()
{
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "field", "field", {}));
        QVERIFY(ws.connect({"field", "textChanged", {}, "atOnce", {}}));
        QVERIFY(ws.connect({"field", "textChanged", {}, "nextTurn", {PacingKind::NextTurn, 0}}));
        QVERIFY(ws.connect({"field", "textChanged", {}, "afterPause", {PacingKind::AfterPause, 200}}));
        QVERIFY(ws.connect({"field", "textChanged", {}, "seldom", {PacingKind::AtMostEvery, 200}}));
        QVERIFY(ws.connect({"field", "returnPressed", {}, "field.clear", {}}));
    });
    for (const char *name : {"afterPause", "seldom"})
        replaceIn(w.place().folder + "/desk.cpp",
                  QByteArray("Desk::") + name + "(const QString &text)\n{\n    Q_UNUSED(text)\n",
                  QByteArray("Desk::") + name + "(const QString &text)\n{\n    qInfo(\"" + name +
                      " %s\", qPrintable(text));\n");
    auto opened = Workspace::open(w.place().file);
    const BuildReport r = built(*opened);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    auto run = started(*opened, r.program);
    std::atomic<bool> cancel{false};
    const auto play = parsePlay(
        "field: type \"abcde\"\nwait 600ms\nhandler atOnce: expect 5 calls\nhandler nextTurn: expect 5 "
        "calls\n"
        "handler afterPause: expect 1 call\nhandler seldom: expect 1 call\nfield: expect text \"abcde\"\n"
        "field: press Return\nfield: expect text \"\"\n",
        "x.play");
    QVERIFY(play);
    const PlayReport report = runPlay(*play, run->program(), run->trace(), run->handlers(), cancel);
    for (const StepResult &s : report.steps)
        QVERIFY2(s.ok, qPrintable(s.step.source + ": " + s.found));
    QStringList said;
    for (const Span &s : spansOf(run->trace()))
        if (s.kind == SpanKind::Message)
            said << run->trace().message(s.what);
    QVERIFY(said.contains("afterPause abcde")); // the last of what was said
    QVERIFY(said.contains("seldom abcde"));
}

void BuildTest::backgroundJobsEndWithTheWindow()
{
    QTemporaryDir dir;
    Workspace w = makeProject(dir.path() + "/desk", [](Workspace &ws) {
        QVERIFY(ws.addWidget(".", "button", "go", {}));
        QVERIFY(ws.addWidget(".", "label", "status", {{"text", Json::string("idle")}}));
        QVERIFY(ws.connect({"go", "clicked", {}, "load", {}}));
        MoveQuestion q = MoveQuestion::of(ws, "load", Shape::Background);
        q.again = "ignore";
        auto move = planMove(q, false);
        QVERIFY(move && ws.apply(move->edit));
    });
    const QString cpp = w.place().folder + "/desk.cpp";
    replaceIn(cpp, "    Q_UNUSED(promise)\n    Q_UNUSED(input)\n    return {};",
              "    Q_UNUSED(input)\n    for (int i = 0; i < 100 && !promise.isCanceled(); ++i)\n        "
              "QThread::msleep(5);\n"
              "    throw std::runtime_error(\"no tide today\");");
    replaceIn(cpp, "    Q_UNUSED(outcome)\n",
              "    status->setText(outcome.result.value_or(outcome.error));\n");
    replaceIn(cpp, "#include \"desk.h\"\n",
              "#include \"desk.h\"\n\n#include <QtCore/QThread>\n#include <stdexcept>\n");
    auto opened = Workspace::open(w.place().file);
    const BuildReport r = built(*opened);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    {
        auto run = started(*opened, r.program);
        std::atomic<bool> cancel{false};
        const auto play =
            parsePlay("go: click\nwait 100ms\ngo: click\nstatus: wait for text \"no tide today\" within 5s\n"
                      "loop: expect no stall over 400ms\nhandler load: expect 1 call\n",
                      "x.play");
        const PlayReport report = runPlay(*play, run->program(), run->trace(), run->handlers(), cancel);
        for (const StepResult &s : report.steps)
            QVERIFY2(s.ok, qPrintable(s.step.source + ": " + s.found));
        int work = 0;
        for (const CallRow &c : callsOf(run->trace(), run->handlers())) {
            work += c.handler.name == "loadWork";
            if (c.handler.name == "loadWork")
                QVERIFY(!run->trace().threads().value(c.thread).main);
        }
        QCOMPARE(work, 1); // triggered again while it ran: ignored
    }
    // Closed while the job runs: cancelled and joined, no crash.
    auto run = started(*opened, r.program);
    QVERIFY(run->program().request("window", {}, std::chrono::seconds(20)));
    QVERIFY(run->program().request("click", {{"target", "go"}}, std::chrono::seconds(5)));
    QVERIFY(run->program().request("idle", {}, std::chrono::seconds(5)));
    run->program().askToQuit();
    QVERIFY(run->program().waitForEnd(std::chrono::seconds(10)));
    QCOMPARE(run->program().ending().signal, 0);
    QCOMPARE(run->program().ending().exitCode, 0);
}

void BuildTest::movesThereAndBack()
{
    QTemporaryDir dir;
    copyFolder(smallDesk() + "/before", dir.path() + "/desk");
    auto w = Workspace::open(dir.path() + "/desk");
    QVERIFY(w);
    const QString before = *w->files().text("ferry_desk.cpp");
    const auto plan = [&](const char *handler, Shape shape) {
        return planMove(MoveQuestion::of(*w, handler, shape), false);
    };
    auto move = plan("tideForecast", Shape::Background);
    QVERIFY(move && move->refused.isEmpty());
    QHash<QString, QString> goes;
    for (const MovedLine &l : move->lines)
        goes.insert(l.text.left(20), l.goesTo);
    QCOMPARE(goes.value("statusLabel->setText"), QString("tideForecastTake"));
    QCOMPARE(goes.value("tideLabel->setText(Q"), QString("tideForecastShow"));
    QCOMPARE(goes.value("const double amplitu"), QString("tideForecastWork"));
    QVERIFY(w->apply(move->edit));
    const QString after = *w->files().text("ferry_desk.cpp");
    QVERIFY(after.contains("void FerryDesk::tideForecastTake()"));
    QVERIFY(!after.contains("#if 0"));
    // All around it is as it was.
    QVERIFY(after.startsWith(before.left(before.indexOf("// The tide at"))));
    const qsizetype end = before.indexOf("\n}\n", before.indexOf("void FerryDesk::tideForecast()"));
    QVERIFY(after.endsWith(before.mid(end)));
    QVERIFY(findingsOf(w->project(), w->files()).isEmpty());
    QVERIFY(w->save());
    const BuildReport r = built(*w);
    QVERIFY2(r.ok, qPrintable(errors(r)));
    QVERIFY(w->undo());
    QCOMPARE(*w->files().text("ferry_desk.cpp"), before);
    QVERIFY(w->redo());
    QCOMPARE(*w->files().text("ferry_desk.cpp"), after);
    auto back = plan("tideForecast", Shape::OneGo);
    QVERIFY(back);
    QVERIFY(w->apply(back->edit));
    QVERIFY(w->files().text("ferry_desk.cpp")->contains("void FerryDesk::tideForecast()"));
    QVERIFY(findingsOf(w->project(), w->files()).isEmpty());
    QVERIFY(!plan("ticketKey", Shape::Background)); // an event handler answers at once
    QVERIFY(!plan("tideForcast", Shape::Background));
}

void BuildTest::wiringThatCannotBeBuiltIsExplained()
{
    QTemporaryDir dir;
    copyFolder(smallDesk() + "/before", dir.path() + "/desk");
    const QString file = dir.path() + "/desk/ferry-desk.pipit";
    replaceIn(file, "{\"object\": \"tideButton\"}", "{\"object\": \"tidyButton\"}");
    auto w = Workspace::open(file);
    QVERIFY(w); // it opens, so that it can be mended
    Builder b(w->place());
    auto r = b.build(w->project(), w->files());
    QVERIFY(!r);
    QVERIFY2(r.problem().text().contains("tidyButton") && r.problem().text().contains("tideButton"),
             qPrintable(r.problem().text()));
    QVERIFY(r.problem().line > 0);
    QCOMPARE(r.problem().where, QFileInfo(file).absoluteFilePath());
}

PIPIT_TEST(BuildTest)
#include "build_test.moc"
