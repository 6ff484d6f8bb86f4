// Renaming: what follows in the model, the code and the plays; by the text, and by what each word stands for.
#include "core/base/files.h"
#include "core/build/word_meanings.h"
#include "core/edits/rename.h"
#include "core/findings/findings.h"
#include "core/moves/move.h"
#include "tests/support/registered.h"
#include "tests/support/support.h"
#include "tests/support/typed.h"

using namespace pipit;
using namespace pipit::tests;

class RenameTest : public QObject
{
    Q_OBJECT
private:
    QTemporaryDir dir_;
    int number_ = 0;

    QString freshFolder(const QString &name = "desk")
    {
        return QStringLiteral("%1/%2/%3").arg(dir_.path()).arg(++number_).arg(name);
    }
    // A window with a field, three buttons and a handler of each shape.
    Workspace desk(const QByteArray &body = {})
    {
        auto made = Workspace::create(freshFolder());
        if (!made)
            qFatal("%s", qPrintable(made.problem().text()));
        Workspace w = std::move(*made);
        type(w, {"add: field ticketField", "add: button b{1..3} \"{}\"", "connect: b1 · clicked calls board",
                 "connect: ticketField · key press (b2 checked) calls ticketKey",
                 "set: desk: tabOrder ticketField, b1, b2, b3", "connect: #b1 · pressed calls warn",
                 "connect: #b* · released calls letGo"});
        if (!body.isEmpty())
            put(w, body);
        return w;
    }
    // In the place of the body of board().
    static void put(Workspace &w, const QByteArray &body)
    {
        QString code = *w.files().text("desk.cpp");
        const QString head = "void Desk::board()\n{\n";
        const qsizetype from = code.indexOf(head) + head.size();
        code.replace(from, code.indexOf("\n}\n", from) - from, QString::fromUtf8(body));
        w.files().setText("desk.cpp", code);
    }
    static QString bodyAfter(Workspace &w, const RenameRequest &r, const WordVerdicts &verdicts = {})
    {
        auto plan = planRename(w, r, verdicts);
        if (!plan)
            return plan.problem().text();
        if (auto ok = w.apply(plan->edit); !ok)
            return ok.problem().text();
        const QString code = *w.files().text("desk.cpp");
        const qsizetype from = code.indexOf("void Desk::board()\n{\n") + 21;
        return code.mid(from, code.indexOf("\n}\n", from) - from);
    }
    static Result<WordVerdicts> asked(Workspace &w, const RenameRequest &r,
                                      std::chrono::seconds patience = std::chrono::seconds(60),
                                      bool cancelled = false)
    {
        auto words = wordsToRename(w, r);
        if (!words)
            return words.problem();
        return askReader(w.place(), w.project(), w.files(), *words, cancelled, patience);
    }

private slots:
    void whatNamesItElsewhereFollowsOrIsTold();
    void theModelFollows();
    void codeFollowsByItsText_data();
    void codeFollowsByItsText();
    void whatIsLeftAloneIsTold();
    void shapesFollowWithAllTheirFunctions();
    void playsFollow();
    void severalFollowInOneLine();
    void groupsAreInserted();
    void badNamesAreRefused_data();
    void badNamesAreRefused();
    void undoKeepsWhatWasTypedSince();
    void aPlanIsRefusedOnceAnythingHasChanged();
    void thereAndBackIsWhatWas();
    void wordsHaveTheirPlaces();
    void theReaderKnowsBetter_data();
    void theReaderKnowsBetter();
    void theReaderReadsWhatIsNotSaved();
    void theReaderMayFail();
    void headersAreReadToo();
};

void RenameTest::theModelFollows()
{
    Workspace w = desk();
    auto plan = planRename(w, {"b1", "boardButton"});
    QVERIFY(plan);
    QVERIFY(w.project().widget("b1")); // nothing before it is applied
    QVERIFY(w.apply(plan->edit));
    const Project &p = w.project();
    QVERIFY(p.widget("boardButton") && !p.widget("b1"));
    QCOMPARE(p.connections[0].from, QString("boardButton"));
    QCOMPARE(p.connections[2].select, QString("#boardButton"));
    QCOMPARE(p.connections[3].select, QString("#b*")); // means more than one, so it stays
    auto second = planRename(w, {"b2", "papersBox"});
    QVERIFY(second && w.apply(second->edit));
    QCOMPARE(w.project().connections[1].when, QString("papersBox checked"));
    QCOMPARE(w.project().widget("desk")->textOf("tabOrder"),
             QString("ticketField, boardButton, papersBox, b3"));
    QVERIFY(w.undo() && w.undo());
    QVERIFY(w.project().widget("b1") && w.project().widget("b2"));
}

// Applying a plan once put back the model that it was made from, over what was done since.
void RenameTest::aPlanIsRefusedOnceAnythingHasChanged()
{
    Workspace w = desk();
    auto plan = planRename(w, {"b1", "boardButton"});
    QVERIFY(plan);
    QVERIFY(w.addWidget(".", "button", "later", {}));
    QVERIFY(!w.apply(plan->edit));
    QVERIFY(w.project().widget("later") && w.project().widget("b1"));
    auto anew = planRename(w, {"b1", "boardButton"});
    put(w, "    b1->setText(\"typed\");"); // the code only
    QVERIFY(anew && !w.apply(anew->edit));
    QVERIFY(w.files().text("desk.cpp")->contains("b1->setText(\"typed\")"));
    anew = planRename(w, {"b1", "boardButton"});
    QVERIFY(anew && w.apply(anew->edit));
    QVERIFY(w.project().widget("later") && w.project().widget("boardButton"));
    QVERIFY(w.undo());
    QVERIFY(!w.apply(anew->edit)); // back to an equal text, but by way of others
    auto move = planMove(MoveQuestion::of(w, "board", Shape::Background), false);
    QVERIFY(move && w.undo());
    QVERIFY(!w.apply(move->edit));
}

void RenameTest::codeFollowsByItsText_data()
{
    QTest::addColumn<QByteArray>("before");
    QTest::addColumn<QByteArray>("after");
    const auto row = [](const char *name, const char *before, const char *after) {
        QTest::newRow(name) << QByteArray(before) << QByteArray(after);
    };
    row("bare", "    b2->setText(\"x\");", "    go->setText(\"x\");");
    row("twice in a line", "    b2->setText(b2->text());", "    go->setText(go->text());");
    row("this", "    this->b2->hide();", "    this->go->hide();");
    row("scoped", "    DeskBase::b2->hide();", "    DeskBase::go->hide();");
    row("a text", "    b1->setText(\"b2\");", "    b1->setText(\"b2\");");
    row("a comment", "    b1->hide(); // b2\n    /* b2 */", "    b1->hide(); // b2\n    /* b2 */");
    row("a raw text", "    b1->setText(R\"(b2)\");", "    b1->setText(R\"(b2)\");");
    row("part of a word", "    int b21 = 0, xb2 = b21;", "    int b21 = 0, xb2 = b21;");
    row("of something else", "    other.b2 = 1;", "    other.b2 = 1;");
    row("of another class", "    Other::b2();", "    Other::b2();");
    row("a local one", "    int b2 = 0;\n    ++b2;", "    int b2 = 0;\n    ++b2;");
    row("returned", "    if (b2)\n        return;", "    if (go)\n        return;");
    row("captured", "    auto f = [this] { return b2->text(); };",
        "    auto f = [this] { return go->text(); };");
    row("compared", "    if (b1 == b2)\n        b1->hide();", "    if (b1 == go)\n        b1->hide();");
    row("multiplied", "    int n = 2 * b2->width();", "    int n = 2 * go->width();");
}

void RenameTest::codeFollowsByItsText()
{
    QFETCH(QByteArray, before);
    QFETCH(QByteArray, after);
    Workspace w = desk(before);
    QCOMPARE(bodyAfter(w, {"b2", "go"}), QString::fromUtf8(after));
}

void RenameTest::whatIsLeftAloneIsTold()
{
    Workspace w = desk("    other.b2 = 1;\n    auto f = [](int b2) { return b2; };");
    auto plan = planRename(w, {"b2", "go"});
    QVERIFY(plan);
    QVERIFY(plan->places.isEmpty());
    const QString notes = plan->notes.join('\n');
    QVERIFY2(notes.contains("declares its own b2"), qPrintable(notes));
    QVERIFY2(notes.contains(QRegularExpression("desk\\.cpp:\\d+")), qPrintable(notes));
    auto hiding = planRename(w, {"b2", "close"});
    QVERIFY(hiding && hiding->notes.join(' ').contains("hides a function"));
    auto near = planRename(w, {"b2", "ticketfield"});
    QVERIFY(near && near->notes.join(' ').contains("nearly the same as ticketField"));
    auto own = planRename(w, {"ticketField", "ticketfield"}); // its old name is gone by then
    QVERIFY(own && !own->notes.join(' ').contains("nearly the same"));
}

void RenameTest::shapesFollowWithAllTheirFunctions()
{
    const QString folder = freshFolder();
    copyFolder(demoFolder() + "/ferry-desk/after", folder);
    auto w = Workspace::open(folder);
    QVERIFY(w);
    auto plan = planRename(*w, {"tideForecast", "forecast"});
    QVERIFY(plan && w->apply(plan->edit));
    const QString code = *w->files().text("ferry_desk.cpp");
    for (const char *part : {"forecastTake()", "forecastWork(", "forecastShow("})
        QVERIFY2(code.contains(part), part);
    QVERIFY(!code.contains("tideForecast"));
    for (const Finding &f : findingsOf(w->project(), w->files()))
        QVERIFY2(f.severity != Finding::Severity::Error, qPrintable(f.message));
}

void RenameTest::playsFollow()
{
    Workspace w = desk();
    QVERIFY(makeFolder(w.place().folder + "/plays"));
    QVERIFY(writeFile(w.place().folder + "/plays/one.play",
                      "# b2 in a comment\nb2: click\nb21: click\nhandler board: expect 1 call\n"));
    auto plan = planRename(w, {"b2", "go"});
    QVERIFY(plan && w.apply(plan->edit));
    QCOMPARE(*w.files().text("plays/one.play"),
             QString("# b2 in a comment\ngo: click\nb21: click\nhandler board: expect 1 call\n"));
    auto handler = planRename(w, {"board", "boardPassenger"});
    QVERIFY(handler && w.apply(handler->edit));
    QVERIFY(w.files().text("plays/one.play")->contains("handler boardPassenger: expect 1 call"));
    QVERIFY(w.files().text("desk.cpp")->contains("void Desk::boardPassenger()"));
}

void RenameTest::severalFollowInOneLine()
{
    Workspace w = desk("    b1->setText(b2->text());");
    auto plan = planRename(w, {"b([12])", "c$1", true});
    QVERIFY(plan && w.apply(plan->edit));
    QVERIFY(w.project().widget("c1") && w.project().widget("c2") && w.project().widget("b3"));
    QVERIFY(w.files().text("desk.cpp")->contains("c1->setText(c2->text());"));
    QCOMPARE(w.project().widget("desk")->textOf("tabOrder"), QString("ticketField, c1, c2, b3"));
}

void RenameTest::groupsAreInserted()
{
    Workspace w = desk();
    auto plan = planRename(w, {"b(\\d)", "key_$1", true});
    QVERIFY(plan);
    QCOMPARE(plan->names.size(), 3);
    QCOMPARE(plan->edit.text, QString("rename 3 things"));
    QVERIFY(w.apply(plan->edit));
    QVERIFY(w.project().widget("key_1") && w.project().widget("key_3"));
    QVERIFY(w.undo());
    QVERIFY(w.project().widget("b1") && w.project().widget("b3"));
}

void RenameTest::badNamesAreRefused_data()
{
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<bool>("all");
    QTest::addColumn<QString>("says");
    QTest::newRow("unknown") << "ticketfield"
                             << "x" << false << "Nearest: ticketField";
    QTest::newRow("taken") << "b1"
                           << "b2" << false << "b2";
    QTest::newRow("no name") << "b1"
                             << "2b" << false << "not a C++ name";
    QTest::newRow("a keyword") << "b1"
                               << "class" << false << "not a C++ name";
    QTest::newRow("empty") << "b1"
                           << "" << false << "not a C++ name";
    QTest::newRow("itself") << "b1"
                            << "b1" << false << "already has this name";
    QTest::newRow("two alike") << "b(\\d)"
                               << "same" << true << "Two objects";
    QTest::newRow("no expression") << "b(\\d"
                                   << "x" << true << "not a regular expression";
    QTest::newRow("fits nothing") << "z(\\d)"
                                  << "x$1" << true << "No name matches";
    QTest::newRow("very long") << "b1" << QString(10'000, '!') << false << "not a C++ name";
}

void RenameTest::badNamesAreRefused()
{
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(bool, all);
    QFETCH(QString, says);
    Workspace w = desk();
    const QByteArray before = projectBytes(w.project());
    auto plan = planRename(w, {from, to, all});
    QVERIFY(!plan);
    QVERIFY2(plan.problem().text().contains(says), qPrintable(plan.problem().text()));
    QVERIFY(plan.problem().text().size() < 400);
    QCOMPARE(projectBytes(w.project()), before);
}

void RenameTest::undoKeepsWhatWasTypedSince()
{
    Workspace w = desk("    b2->hide();\n    b2->show();");
    QVERIFY(bodyAfter(w, {"b2", "go"}).contains("go->show()"));
    QString code = *w.files().text("desk.cpp");
    w.files().setText("desk.cpp", code.replace("    go->show();", "    go ->show(); // mine"));
    const auto taken = w.undo();
    QVERIFY(taken && taken->left.size() == 1);
    QVERIFY(w.project().widget("b2"));
    code = *w.files().text("desk.cpp");
    QVERIFY(code.contains("b2->hide();") && code.contains("// mine"));
}

// Renaming everything in the ferry desk, one after the other, and back, leaves every byte as it was.
void RenameTest::thereAndBackIsWhatWas()
{
    const QString folder = freshFolder("ferry-desk");
    copyFolder(demoFolder() + "/ferry-desk/after", folder);
    auto w = Workspace::open(folder);
    QVERIFY(w);
    const QByteArray model = projectBytes(w->project());
    QHash<QString, QString> texts;
    for (const char *f : {"ferry_desk.cpp", "ferry_desk.h", "confirm_dialog.cpp", "plays/board.play"})
        texts.insert(f, *w->files().text(f));
    QStringList names = w->project().objectNames();
    int jobs = 0;
    for (const Handler &h : w->project().handlers) {
        names << h.name;
        jobs += jobName(h).isEmpty() ? 0 : 1;
    }
    int renamed = 0;
    for (const QString &n : names) {
        auto there = planRename(*w, {n, "qq_" + n});
        if (!there) // a job is renamed with its handler
            continue;
        ++renamed;
        QVERIFY2(w->apply(there->edit), qPrintable(n));
        QVERIFY(projectBytes(w->project()) != model);
        auto back = planRename(*w, {"qq_" + n, n});
        QVERIFY2(back && w->apply(back->edit), qPrintable(n));
        QCOMPARE(projectBytes(w->project()), model);
        for (auto it = texts.begin(); it != texts.end(); ++it)
            QVERIFY2(*w->files().text(it.key()) == it.value(), qPrintable(n + " in " + it.key()));
    }
    QCOMPARE(renamed, names.size() - jobs);
}

void RenameTest::wordsHaveTheirPlaces()
{
    Workspace w = desk("    b1->setText(\"ü\"); b2->hide();");
    auto words = wordsToRename(w, {"b2", "go"});
    QVERIFY(words);
    QCOMPARE(words->size(), 1);
    const CodeWord &word = words->first();
    const QString text = *w.files().text("desk.cpp");
    QCOMPARE(text.mid(word.offset, 2), QString("b2"));
    QCOMPARE(text.split('\n')[word.line - 1].mid(word.column, 2), QString("b2"));
}

void RenameTest::theReaderKnowsBetter_data()
{
    QTest::addColumn<QByteArray>("before");
    QTest::addColumn<QByteArray>("byText");
    QTest::addColumn<QByteArray>("byMeaning");
    const auto row = [](const char *name, const char *before, const char *byText, const char *byMeaning) {
        QTest::newRow(name) << QByteArray(before) << QByteArray(byText) << QByteArray(byMeaning);
    };
    row("through a reference", "    Desk &self = *this;\n    self.b2->hide();",
        "    Desk &self = *this;\n    self.b2->hide();", "    Desk &self = *this;\n    self.go->hide();");
    row("beside a parameter of that name",
        "    auto twice = [](int b2) { return 2 * b2; };\n    b2->move(twice(1), 0);",
        "    auto twice = [](int b2) { return 2 * b2; };\n    b2->move(twice(1), 0);",
        "    auto twice = [](int b2) { return 2 * b2; };\n    go->move(twice(1), 0);");
    row("a field of another", "    struct { int b2; } other{1};\n    other.b2 = 2;",
        "    struct { int b2; } other{1};\n    other.b2 = 2;",
        "    struct { int b2; } other{1};\n    other.b2 = 2;");
    row("plain", "    b2->setText(this->b2->text());", "    go->setText(this->go->text());",
        "    go->setText(this->go->text());");
    row("code that is switched off", "#if 0\n    b2->hide();\n#endif", "#if 0\n    go->hide();\n#endif",
        "#if 0\n    go->hide();\n#endif");
}

void RenameTest::theReaderKnowsBetter()
{
    QVERIFY(canAskReader());
    QFETCH(QByteArray, before);
    QFETCH(QByteArray, byText);
    QFETCH(QByteArray, byMeaning);
    Workspace text = desk(before), code = desk(before);
    QCOMPARE(bodyAfter(text, {"b2", "go"}), QString::fromUtf8(byText));
    auto said = asked(code, {"b2", "go"});
    QVERIFY2(said, said ? "" : qPrintable(said.problem().text()));
    QCOMPARE(bodyAfter(code, {"b2", "go"}, *said), QString::fromUtf8(byMeaning));
}

// The buffers count, and the project as it is edited, not what stands on disk; nothing is left there.
void RenameTest::theReaderReadsWhatIsNotSaved()
{
    QVERIFY(canAskReader());
    Workspace w = desk();
    QVERIFY(w.save());
    const QStringList onDisk = QDir(w.place().folder).entryList(QDir::Files | QDir::Dirs | QDir::Hidden);
    QVERIFY(apply(w, {"add", "button late"}));
    put(w, "    Desk *me = this;\n    me->late->hide();");
    auto said = asked(w, {"late", "early"});
    QVERIFY(said);
    QCOMPARE(said->size(), 1);
    QVERIFY(said->begin().value());
    QVERIFY(bodyAfter(w, {"late", "early"}, *said).contains("me->early->hide();"));
    QCOMPARE(QDir(w.place().folder).entryList(QDir::Files | QDir::Dirs | QDir::Hidden), onDisk);
}

void RenameTest::theReaderMayFail()
{
    Workspace w = desk("    b2->hide();");
    auto late = asked(w, {"b2", "go"}, std::chrono::seconds(0));
    QVERIFY(!late);
    QVERIFY2(late.problem().text().contains("was not read within 0 s"), qPrintable(late.problem().text()));
    auto cancelled = asked(w, {"b2", "go"}, std::chrono::seconds(60), true);
    QVERIFY(!cancelled && cancelled.problem().text().contains("cancelled"));
    // By its text then.
    QCOMPARE(bodyAfter(w, {"b2", "go"}), QString("    go->hide();"));
}

void RenameTest::headersAreReadToo()
{
    Workspace w = desk();
    QString header = *w.files().text("desk.h");
    const qsizetype at = header.lastIndexOf("};");
    header.insert(
        at,
        "    // \u00dcber b2.\n    void far() { this->b2->show(); struct { int b2; } o{1}; o.b2 = 2; }\n");
    w.files().setText("desk.h", header);
    auto said = asked(w, {"b2", "go"});
    QVERIFY2(said, said ? "" : qPrintable(said.problem().text()));
    int ours = 0, others = 0;
    for (auto it = said->begin(); it != said->end(); ++it)
        if (it.key().first == "desk.h")
            ++(it.value() ? ours : others);
    QCOMPARE(ours, 1);
    QCOMPARE(others, 2);
}

// What an object is looked for by follows; other texts, and selectors that fit no longer, are told; plays
// follow wherever they stand.
void RenameTest::whatNamesItElsewhereFollowsOrIsTold()
{
    Fresh fresh;
    Workspace w = fresh.project();
    type(w, {"add: button key_{0..1}", "connect: #key_* clicked calls pressed",
             "body: pressed: findChild<QPushButton *>(QStringLiteral(\"key_0\"))->setText(\"key_0\");"});
    QVERIFY(w.save());
    QVERIFY(QDir(w.place().folder).mkpath("checks/deep"));
    QVERIFY(writeFile(w.place().folder + "/checks/deep/x.play", "key_0: click\n"));
    auto plan = planRename(w, {"key_0", "startKey"});
    QVERIFY2(bool(plan), plan ? "" : qPrintable(plan.problem().text()));
    const QString notes = plan->notes.join('\n');
    QVERIFY2(notes.contains("the text \"key_0\" is not renamed"), qPrintable(notes));
    QVERIFY2(notes.contains("#key_*") && notes.contains("does not match startKey"), qPrintable(notes));
    QVERIFY(w.apply(plan->edit));
    QVERIFY(w.files().text("desk.cpp")->contains("QStringLiteral(\"startKey\"))->setText(\"key_0\")"));
    QVERIFY(w.files().text("checks/deep/x.play")->startsWith("startKey: click"));
}

PIPIT_TEST(RenameTest)
#include "rename_test.moc"
